#pragma once

#include "jitter_edges.h"

#include <vector>

namespace fulvex {

/// How far a clock strays within times from one period to much of the record.
struct ClockStability {
    double period = 0; ///< s: of a clock two unit intervals, of data one
    /// Jitter accumulated over N periods: the interval between edges of one direction (of data: any) that lie N periods
    /// apart, less the mean of those that begin with its direction.
    struct Accumulated {
        double periods = 0;             ///< half of one: from each edge of a clock to the next
        double rms = 0, peakToPeak = 0; ///< s
        std::int64_t count = 0;         ///< of intervals
    };
    std::vector<Accumulated> accumulated; ///< by rising number
    /// Over an averaging time, of all that overlap. Source: IEEE Std 1139, 4.2 (Allan deviation); ITU-T G.810, appendix
    /// II (time deviation).
    struct Deviation {
        double time = 0;          ///< s
        double allan = 0;         ///< 1
        double timeDeviation = 0; ///< s
        double independent = 1;   ///< about as many times of that length
    };
    std::vector<Deviation> deviations; ///< by rising time
};

ClockStability stabilityOf(const JitterEdges &edges, Progress &progress);

/// Over the averaging time nearest to one (s), from a unit interval to a quarter of the record.
ClockStability::Deviation deviationAt(const JitterEdges &edges, double time, Progress &progress);

/// Errors that are slower than a corner (Hz), at each edge: a lowpass of first order run forward and backward over the
/// grid, half its power at the corner. What is left of the errors is jitter above it.
std::vector<double> wanderOf(const JitterEdges &edges, double corner);

} // namespace fulvex
