#pragma once

#include "jitter_edges.h"
#include "spectral_lines.h"

#include <optional>
#include <utility>
#include <vector>

namespace fulvex {

/// The phase of a carrier against a clock: phi = 2 pi f0 * time interval error, on the grid of unit intervals; between
/// the edges of data on straight lines. L(f) = S_phi(f) / 2, by spectra averaged over segments that are chosen decade
/// by decade: long ones where offsets are low, many where they are high. Source: IEEE Std 1139, 4.1; of the averages,
/// Welch (1967).
struct PhaseNoise {
    double carrier = 0;             ///< Hz: of a clock half its edges a second, of data its symbol rate
    bool ofData = false;            ///< there are boundaries without an edge
    double lowest = 0, highest = 0; ///< Hz, offsets that can be told: from 4 / length of the record on
    std::int64_t edges = 0;
    struct Piece {
        double from = 0, to = 0;   ///< Hz
        PowerSpectrum power;       ///< S_phi, rad^2 / Hz
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
    /// Between two offsets, from `lowest` to `highest` at most: rms jitter, s.
    Value jitter(double from, double to, bool withLines) const;
};

PhaseNoise phaseNoiseOf(const JitterEdges &edges, Progress &progress);

} // namespace fulvex
