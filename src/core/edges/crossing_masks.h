#pragma once

#include "code_scale.h"

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

/// The levels as codes of a scale of positive step: the same answers as of the values, for every code.
struct CodeLevels {
    std::int32_t mid;    ///< the first code that is above
    std::int32_t bottom; ///< the last one that is at the bottom
    std::int32_t top;    ///< the first one that is at the top
    CodeLevels(CrossingLevel level, const CodeScale &scale)
        : mid(scale.firstAt(level.mid)), bottom(std::min(scale.firstAt(level.bottom, true), mid) - 1),
          top(scale.firstAt(level.top))
    {
    }
};

/// The same of codes.
void crossingMasks(const std::int16_t *codes, std::size_t words, CodeLevels level, CrossingMasks *masks);
void crossingMasks(const std::int32_t *codes, std::size_t words, CodeLevels level, CrossingMasks *masks);

/// Bits of the samples that have reached a level, 64 a word; of values those of the samples that are no gap as well.
void reachedWords(const double *samples, std::size_t words, double level, std::uint64_t *reached,
                  std::uint64_t *finite);
/// `first`: the first code that has.
void reachedWords(const std::int16_t *codes, std::size_t words, std::int32_t first, std::uint64_t *reached);
void reachedWords(const std::int32_t *codes, std::size_t words, std::int32_t first, std::uint64_t *reached);

/// The instruction set that crossingMasks runs on, for the benchmark to print.
const char *crossingMasksTarget();

} // namespace fulvex
