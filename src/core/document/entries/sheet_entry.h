#pragma once

#include "field.h"

namespace fulvex {

/// One tile of a sheet. `of` is what it shows: channels for traces, an eye's id, a measurement's id, a spectrum's …
struct TileEntry {
    std::string id;   ///< keeps what is remembered of a tile at it when others come and go
    std::string kind; ///< traces, eye, histogram, trend, spectrum (of a row's trend), scatter; of a spectrum entry
                      ///< channel_spectrum, spectrogram, transfer, autocorrelation; of a jitter budget budget, bathtub,
                      ///< jitter_histogram, jitter_tails, jitter_pattern, line_strength; of an eye as well
                      ///< level_bathtub; of phase noise phase_noise,
                      ///< accumulated_jitter, time_deviation; of a comparison, and then of what is in both:
                      ///< compared_settings, compared_numbers, compared_eyes, compared_curves; words, of nothing
    std::vector<std::string> of;
    bool lanes = false; ///< traces: one lane a channel instead of all in one
    int row = 0, column = 0, rowSpan = 1, columnSpan = 1;
    std::vector<double> heights;    ///< traces: of the lanes, relative; 1 where missing
    Ranges ranges;                  ///< traces: values at the bottom and top, by channel
    bool ownView = false;           ///< traces, trend: shows from … to, not the sheet's view
    std::optional<double> from, to; ///< s
    bool straight = false;          ///< traces: straight lines between samples, not the band-limited curve
    /// Histogram: bars; counts on a logarithmic scale; a normal distribution's curve; lines at mean, median and so many
    /// sigma; values that it gathers around; only what is in view.
    std::optional<int> bins;
    bool logCounts = false, normalCurve = false;
    std::optional<double> sigmas;
    bool peaks = false, inView = false;
    std::optional<int> smooth; ///< trend: a mean over so many values
    bool smoothedAlone = false;
    std::string window;                 ///< spectrum: hann, rectangular, flat_top, blackman_harris
    bool linear = false;                ///< spectrum: amplitudes, not dB
    std::optional<double> centre, span; ///< Hz, what is over frequency; s, autocorrelation
    std::string scale;                  ///< channel_spectrum: rms, decibels, density
    bool logFrequency = false;          ///< what is over frequency
    std::optional<double> marked;       ///< Hz: the chosen line of a channel_spectrum, or row of a spectrogram
    std::optional<double> at;           ///< s: the chosen moment of a spectrogram
    bool difference = false;            ///< compared_eyes: where one is passed more often
    bool withoutDelay = false;          ///< transfer: the delay is taken out of the phase
    std::string words;                  ///< words: what is written there, Markdown
    std::string captures = "one";       ///< of a run: one (the one that is shown), all, recent (fading with age)
    /// Whether time goes across it: it takes a row of its sheet, and may have a view of its own.
    bool isAlongTime() const { return kind == "traces" || kind == "trend" || kind == "spectrogram"; }
    /// Whether it can show all captures of a run together, and the last ones fading with age.
    bool addsUp() const;
    bool fades() const { return kind == "eye" || kind == "traces"; }
    bool operator==(const TileEntry &) const = default;
};

/// Tiles composed by hand on a grid.
struct SheetEntry {
    std::string id, title;
    std::vector<TileEntry> tiles;
    std::optional<double> from, to; ///< s, the view; empty: the whole record
    bool operator==(const SheetEntry &) const = default;
};

std::vector<Field> fieldsOf(TileEntry &entry);
void checkEntry(const TileEntry &entry, const std::string &where);
std::vector<Field> fieldsOf(SheetEntry &entry);

} // namespace fulvex
