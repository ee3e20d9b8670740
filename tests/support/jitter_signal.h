#pragma once

#include "jitter_edges.h"
#include "signals.h"

#include <functional>
#include <vector>

namespace fulvex::test {

/// Edges whose jitter is known part by part.
struct JitterSpec {
    double unitInterval = 1e-9; ///< s
    std::int64_t unitIntervals = 60000;
    double random = 0; ///< s rms
    struct Line {
        double frequency, amplitude, phase = 0.3; ///< Hz, s
    };
    std::vector<Line> lines;
    double dutyDistortion = 0;         ///< s; rising edges are late by half of it
    std::vector<double> response = {}; ///< s: what the symbol before the one that is left adds, the one before it …
    std::function<double(Gaussian &)> other; ///< s, bounded and of nothing else
    std::function<int(std::int64_t)> symbol; ///< random when empty
    std::size_t levels = 2;
    std::uint64_t seed = 1;
};

JitterEdges makeJitter(const JitterSpec &spec);
/// Symbols of a PRBS of that order, again and again.
std::function<int(std::int64_t)> prbs(int order);
/// What the response and the duty-cycle distortion spread edges by over all histories that occur, s.
double dataExtent(const JitterSpec &spec);

} // namespace fulvex::test
