#pragma once

#include "jitter_edges.h"
#include "spectral_lines.h"

#include <limits>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace fulvex {

/// What of phase noise is integrated.
struct PhaseNoiseSpan {
    double from = 0, to = std::numeric_limits<double>::infinity(); ///< Hz
    bool lines = false;                                            ///< they count
    std::vector<double> except = {};                               ///< Hz: lines of which the opposite holds
    bool counts(double line) const;                                ///< whether one at that offset does
};

/// The phase of a carrier against a clock: phi = 2 pi f0 * time interval error, on the grid of unit intervals; between
/// the edges of data on straight lines. L(f) = S_phi(f) / 2, by spectra averaged over segments that are chosen decade
/// by decade: long ones where offsets are low, many where they are high. Source: IEEE Std 1139, 4.1; of the averages,
/// Welch (1967).
struct PhaseNoise {
    double carrier = 0;             ///< Hz: of a clock half its edges a second, of data its symbol rate
    bool ofData = false;            ///< there are boundaries without an edge
    double lowest = 0, highest = 0; ///< Hz, offsets that can be told: from 4 / length of the record on
    std::int64_t edges = 0;
    std::int64_t records = 1; ///< that were averaged
    struct Piece {
        double from = 0, to = 0; ///< Hz
        PowerSpectrum power;     ///< S_phi, rad^2 / Hz
        /// Of several records: those that were made of segments of one length added up, the longest first; `power` is
        /// their mean. Empty of one.
        std::vector<PowerSpectrum> byLength;
        std::vector<double> noise; ///< the same without lines: the floor stands where they stood
        double independent = 1;    ///< segments, as many as those that overlap count for
    };
    std::vector<Piece> pieces; ///< by rising offset
    struct Line {
        double offset = 0, level = 0; ///< Hz, dBc: of one sideband
        double meanSquare = 0;        ///< rad^2, of both
    };
    std::vector<Line> lines; ///< by rising offset
    std::string reason;      ///< not empty: it cannot be told, and why

    struct Value {
        double value = 0, uncertainty = 0;
    };
    /// Around an offset, over 5 % to either side, without lines: dBc/Hz and dB. None beyond what can be told.
    std::optional<Value> at(double offset) const;
    /// rms jitter, s, of what of a span can be told.
    Value jitter(const PhaseNoiseSpan &span) const;
    struct Point {
        double offset, value; ///< Hz
    };
    /// L in dBc/Hz without lines, the mean over each of so many equal ratios between two offsets.
    std::vector<Point> curve(double from, double to, int points) const;
    /// The jitter from where a span begins up to so many offsets, s rms: which of them make it.
    std::vector<Point> cumulated(const PhaseNoiseSpan &span, int points) const;
    /// Of several records of the same carrier, averaged; their lines are sought again. With a reason where they are too
    /// unlike.
    static PhaseNoise merged(std::span<const PhaseNoise *const> records);

private:
    double integral(double from, double to, double &variance) const; ///< rad^2, of noise alone
};

PhaseNoise phaseNoiseOf(const JitterEdges &edges, Progress &progress);

/// L in dBc/Hz, of a carrier of edges `unitInterval` (s) apart, that instants which err by `rms` (s), each for itself,
/// seem to have: white phase noise up to half the rate of the edges.
double levelOfInstants(double carrier, double unitInterval, double rms);

/// A record that tells offsets from this one on lasts so long, s.
double recordFor(double offset);

} // namespace fulvex
