#pragma once

#include <cstddef>
#include <cstdint>

namespace fulvex {

/// The levels a crossing is found with; bottom <= mid <= top.
struct CrossingLevel {
    double mid, bottom, top;
};

/// 64 samples compared with the levels, bit i for sample i.
struct CrossingMasks {
    std::uint64_t above;    ///< v >= mid
    std::uint64_t atBottom; ///< v <= bottom and v < mid
    std::uint64_t atTop;    ///< v >= top
    std::uint64_t finite;   ///< not a gap
};

/// Fills `words` masks from words * 64 samples with the widest vectors the machine has.
void crossingMasks(const double *samples, std::size_t words, CrossingLevel level, CrossingMasks *masks);

/// The instruction set that crossingMasks runs on, for the benchmark to print.
const char *crossingMasksTarget();

} // namespace fulvex
