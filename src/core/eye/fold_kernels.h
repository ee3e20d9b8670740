#pragma once

#include "code_scale.h"

#include <cstddef>
#include <cstdint>
#include <span>

namespace fulvex {

/// The clock as whole numbers of 32 bits: a unit interval is 2^28 of them, so that the lower 28 bits are a phase, and
/// the upper four count unit intervals and wrap by themselves. A phase is 2^-29 of a unit interval off at most where a
/// straight line begins, and eight times as much on it.
struct ClockPhase {
    static constexpr int bits = 28;
    static constexpr std::uint32_t unitInterval = std::uint32_t(1) << bits, half = unitInterval / 2,
                                   quarter = unitInterval / 4, within = unitInterval - 1;
};

/// Straight lines of the clock, of columns as UnitIntervalMap::Straights has them, over samples that are counted from
/// `origin` of the record on. Behind the last line there is room for `padding` more.
struct ClockLines {
    static constexpr std::size_t padding = 8;
    std::span<const std::int32_t> number;
    const double *from, *step;
    double origin;
};

/// What phases say, a bit a sample and 64 a word.
struct PhaseWords {
    std::uint64_t *middles; ///< the middle of a unit interval lies behind it, and not behind the next sample
    std::uint64_t *behind;  ///< it lies in the second half of a unit interval
    std::uint64_t *centre;  ///< in the middle fifth
    std::uint64_t *edge;    ///< within a quarter of a unit interval about a boundary
};

/// What kernels may write behind the last sample.
constexpr std::size_t foldPadding = 64;

/// The phase of each sample from the first line's first boundary on. Lines have a sample a unit interval at least.
void layPhases(const ClockLines &lines, std::size_t samples, std::uint32_t *phases);

/// Of so many words of phases, and one phase more.
void phaseWords(const std::uint32_t *phases, std::size_t words, const PhaseWords &out);

/// The picture's rows and columns.
struct FoldGrid {
    double rowsPerUnit, firstRow; ///< a power of two, and whole: rows are found without rounding
    int columns, rows;
};

/// Cells in the counts of so many samples; a gap gets the cell behind the last one.
void foldCells(const double *values, const std::uint32_t *phases, std::size_t samples, const FoldGrid &grid,
               std::int32_t *cells);
void foldCells(const std::int16_t *codes, const CodeScale &scale, const std::uint32_t *phases, std::size_t samples,
               const FoldGrid &grid, std::int32_t *cells);
void foldCells(const std::int32_t *codes, const CodeScale &scale, const std::uint32_t *phases, std::size_t samples,
               const FoldGrid &grid, std::int32_t *cells);

/// Sums of codes: whole numbers, so that the order is no matter.
struct CodeSums {
    std::int64_t count = 0, sum = 0, squares = 0;
};

/// Of those whose bit is set, 64 a word. At most 2^24 words.
CodeSums sumCodes(const std::int16_t *codes, std::span<const std::uint64_t> chosen);
/// The same of codes of 17 bits.
CodeSums sumCodes(const std::int32_t *codes, std::span<const std::uint64_t> chosen);

/// Sums of what values exceed some other one by.
struct ValueSums {
    double count = 0, sum = 0, squares = 0;
};

/// Of those whose bit is set, 64 a word; in the same order whatever the vectors are.
ValueSums sumValues(const double *values, double origin, std::span<const std::uint64_t> chosen);

} // namespace fulvex
