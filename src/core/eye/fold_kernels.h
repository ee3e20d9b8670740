#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>

namespace fulvex {

/// Samples and clock boundaries of a stretch, as the kernels read them. Positions count from values[0]. Behind the last
/// sample stand at least `padding` gaps, and there is room for as many more boundaries, slopes and symbols, so that a
/// vector may be read past the last.
struct FoldInput {
    static constexpr std::size_t padding = 8;
    const double *values;
    std::span<const double> boundaries;    ///< of unit intervals 0 to n
    std::span<const std::int32_t> starts;  ///< the first sample at or behind each boundary
    std::span<const double> slopes;        ///< unit intervals per sample, of unit intervals 0 to n - 1
    std::span<const std::uint8_t> symbols; ///< of unit intervals 0 to n - 1, the lowest 0
    std::span<const std::uint32_t> runs;   ///< unit intervals that begin one straight line each, the first of them 0
    std::size_t samples;                   ///< without the padding
    /// Of a few samples a unit interval.
    bool isShort() const { return samples < 8 * slopes.size(); }
};

/// The picture's rows and columns.
struct FoldGrid {
    double rowsPerUnit, firstRow; ///< a power of two, and whole: rows are found without rounding
    int columns, rows;
};

/// Sums of values that `origin` was taken off, so that the squares keep their digits: in eight lanes, whatever the
/// machine's vectors are, so that every machine adds in the same order.
struct LaneSums {
    static constexpr std::size_t lanes = 8;
    alignas(64) std::array<double, lanes> count{}, sum{}, squares{};
};

/// Sums over the samples at a phase about a boundary between two symbols; as long as a vector, to be added to at once.
struct alignas(32) PhaseBin {
    double count = 0, phase = 0, value = 0; ///< unit intervals from the boundary; channel's unit
    double nothing = 0;
};

/// Decides every unit interval by the value at its middle, on the straight line between the samples around it: how many
/// of the thresholds it has reached. One more than that can be, unknown: beyond the samples, or at a gap. `symbols` has
/// room for `padding` more.
void decideSymbols(const FoldInput &input, std::span<const double> thresholds, std::uint8_t *symbols);

/// Cells in the counts of the samples in unit intervals first <= n < last, written from cells[0] on for the first one's
/// first sample; a gap gets the cell behind the last one. `cells` has room for `padding` more. Adds the samples in the
/// middle fifth of each unit interval to the lanes of the sums of its symbol, less `origin`; unknown ones to none.
void foldUnitIntervals(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, double origin,
                       std::int32_t *cells, std::span<LaneSums> sums);

/// Adds the samples up to `reach` unit intervals before and behind the given boundaries, none of which is the first or
/// the last, to the bins of their phases, which share out -reach to reach equally.
void addTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                    std::span<PhaseBin> bins);

} // namespace fulvex
