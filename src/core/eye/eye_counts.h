#pragma once

#include "lent_zeros.h"
#include "nested_bins.h"

#include <algorithm>
#include <cstdint>
#include <vector>

namespace fulvex {

/// Empty rows of an eye's picture below and above those that anything was counted in: to be looked at it has all that
/// its extremes were laid out for; to be added to others none.
enum class Room { laid, none };

/// Rows of an eye's picture: first <= row < last.
struct EyeRows {
    int first = 0, last = 0;
    bool empty() const { return first >= last; }
    /// Those of both, and what lies between them.
    EyeRows with(const EyeRows &other) const
    {
        if (empty() || other.empty()) return empty() ? other : *this;
        return {std::min(first, other.first), std::max(last, other.last)};
    }
};

/// How often the signal was at each phase and level: one unit interval wide, since every unit interval begins a trace
/// of the eye and the picture two wide shows each sample at both places. Counts stand row by row.
/// Eyes of unlike records add up to what one run over all of them gives, since their rows nest.
struct EyeCounts {
    int columns = 256, across = 256; ///< `across`: rows that were asked for
    NestedBins rows;                 ///< in the channel's unit
    double least = 0, most = 0;      ///< of the samples that the rows were laid for
    std::vector<std::uint64_t> counts;

    /// For samples from `least` to `most` > `least`: half to all of so many rows between them, and as much again below
    /// and above for what band-limited interpolation puts there.
    static EyeCounts laidFor(double least, double most, int columns, int rows);
    static EyeCounts laidFor(double least, double most, int columns) { return laidFor(least, most, columns, columns); }
    /// The same with nothing to count in yet.
    static EyeCounts laidOut(double least, double most, int columns, int rows);
    std::uint64_t at(int column, int row) const
    {
        return counts[std::size_t(row) * std::size_t(columns) + std::size_t(column)];
    }
    std::size_t cells() const { return std::size_t(columns) * std::size_t(rows.count); }
    static EyeCounts merged(const std::vector<const EyeCounts *> &some, Room room = Room::laid);
    /// The rows that anything was counted in, and those between them.
    EyeRows counted() const;
    /// Of one with nothing to count in yet: leaves out the other rows, one at least left, and has zeros in these.
    void keep(EyeRows some);

private:
    void add(const EyeCounts &other, EyeRows counted);
};

/// What a core counts for itself. Counts are whole numbers, so it is no matter which core counts what. 32 bits take
/// half as many lines of the cache, and are emptied before one of them can be full.
class EyeCounter {
public:
    explicit EyeCounter(const EyeCounts &grid)
        : m_counts(grid.cells() + 1), m_columns(std::size_t(grid.columns)), m_rows(grid.rows.count) // the last for gaps
    {
    }
    /// The counts, cell by cell, of so many samples that are counted next; one more behind them for gaps.
    std::uint32_t *expect(std::int64_t samples);
    EyeRows rows() const; ///< that anything was counted in
    /// Adds all that was counted to rows of the grid from `first` on; there is nothing to count in afterwards.
    void addTo(EyeCounts &picture, int first);

private:
    void moveTo(std::vector<std::uint64_t> &counts, std::size_t first);
    LentZeros m_counts;
    std::size_t m_columns;
    int m_rows;
    std::vector<std::uint64_t> m_emptied; ///< none before
    std::int64_t m_counted = 0;
};

/// Sums up in a grid that has nothing to count in yet what several have counted, each asked for by `of(one)`: rows()
/// that it counted in, and addTo().
template <typename Some, typename Of>
void addUp(EyeCounts &grid, Room room, Some &some, const Of &of)
{
    EyeRows rows = room == Room::laid ? EyeRows{0, grid.rows.count} : EyeRows{};
    for (auto &one : some) rows = rows.with(of(one).rows());
    grid.keep(rows);
    for (auto &one : some) of(one).addTo(grid, rows.first);
}

} // namespace fulvex
