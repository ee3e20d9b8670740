#pragma once

#include "sinc_kernel.h"

namespace fulvex {

/// Sixteen crossings side by side, lane by lane.
struct CrossingLanes {
    static constexpr std::size_t size = 16;
    const double *samples[size];        ///< around each crossing, as many as the kernel has taps
    alignas(64) double at[size] = {};   ///< in: where to begin; out: the passage, in quarters of a sample interval
    alignas(64) double step[size] = {}; ///< out: the last step, below `settled` where the passage was found
    static constexpr double settled = 1e-6;
};

/// Solves the quartics through the samples and the sinc's values at the three quarters between, by Newton's method;
/// the widest vectors the machine has, the same bits with all.
void solveQuartics(CrossingLanes &lanes, const SincKernel::Row *quarters, double level);

} // namespace fulvex
