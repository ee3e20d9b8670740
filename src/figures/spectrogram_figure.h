#pragma once

#include "spectral_figure.h"

#include <QImage>

namespace fulvex {

/// The spectrogram of a span of time as a picture: our even ramp over decibels. Of a span that its columns are too wide
/// for it is transformed anew, from the samples. May be made on any thread.
struct SpectrogramDrawing {
    struct From {
        std::shared_ptr<const Spectrogram> gram;
        SourcePtr samples;               ///< null: of several records, or none to be read
        SampleRange range;               ///< that the gram is of
        double fromTime = 0, toTime = 1; ///< s, shown
        AxisScale frequencies;
        QSize size; ///< pixels of the plot
        bool dark = false;
        std::optional<double> marked, at; ///< Hz, s: whose courses are wanted
        bool operator==(const From &) const = default;
    };
    static SpectrogramDrawing of(const From &from);
    From from;
    QImage picture;
    double low = 0, high = 0;              ///< decibels re 1 unit, mean square of a line, at both ends of the ramp
    bool finer = false;                    ///< transformed anew
    std::vector<double> times, levels;     ///< s, decibels at the marked frequency
    std::vector<double> lines, lineLevels; ///< Hz, decibels at the chosen moment
};

struct SpectrogramFigure : SpectralFigure {
    std::shared_ptr<const Spectrogram> gram;
    SourcePtr samples;
    SampleRange range;
    double fromTime = 0, toTime = 1; ///< s
    std::shared_ptr<const SpectrogramDrawing> drawing;
    struct Box {
        double from, to, low, high; ///< s, Hz
        bool operator==(const Box &) const = default;
    };
    std::optional<Box> asked; ///< that Evidence is asked about
    bool operator==(const SpectrogramFigure &) const = default;
    FrequencyView view() const;
    /// Where the picture goes, and the courses beside it, where one is chosen.
    struct Places {
        QRectF picture, below, beside;
    };
    Places placesIn(const QRectF &area) const;
    std::optional<SpectrogramDrawing::From> drawingFrom(const QRectF &area, const Look &look) const;
    void take(std::shared_ptr<const SpectrogramDrawing> made);
};

SpectrogramFigure spectrogramFigure(const Results &results, const TileEntry &tile, double fromTime, double toTime);
void paintSpectrogram(QPainter &painter, const QRectF &area, const SpectrogramFigure &figure, const Look &look);

} // namespace fulvex
