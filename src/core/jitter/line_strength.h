#pragma once

#include "jitter_edges.h"
#include "progress.h"

#include <cmath>
#include <vector>

namespace fulvex {

/// Whether a frequency that a document names, typed or kept from another record, means a line: within a hundredth.
inline bool meansLine(double named, double line)
{
    constexpr double near = 0.01;
    return std::abs(named - line) < near * line;
}

/// How strong a line is in a part of the record.
struct LineStrength {
    double from = 0, to = 0;               ///< places of the grid, unit intervals
    double amplitude = 0, uncertainty = 0; ///< s, half of peak to peak
};

/// Of errors at edges (s), by least squares of a sine of a known frequency (Hz) and a mean in each of up to `most`
/// parts of the record, which hold eight of its cycles and 64 edges at least; none where the record does not.
std::vector<LineStrength> lineStrength(const JitterEdges &edges, const std::vector<double> &errors, double frequency,
                                       std::size_t most, Progress &progress);

} // namespace fulvex
