#pragma once

#include "code_scale.h"
#include "phase_kernels.h"

#include <cstddef>
#include <cstdint>
#include <span>

namespace fulvex {

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
