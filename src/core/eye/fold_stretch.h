#pragma once

#include "eye_fold.h"
#include "fold_kernels.h"

#include <span>
#include <vector>

namespace fulvex {

/// A stretch of the record that stays in a core's cache: its samples and the clock's boundaries in it, with a margin of
/// two unit intervals to either side. Between boundaries the clock is a straight line. Kept by a core from stretch to
/// stretch for its buffers.
class Stretch {
public:
    /// Reads the samples of these unit intervals and decides what symbols they are.
    void load(const SampleSource &source, const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
              std::span<const double> thresholds);
    /// Samples of the record in the unit intervals that are not margin.
    SampleRange samples() const { return {m_first + m_starts[firstOwn()], m_first + m_starts[lastOwn()]}; }
    /// Puts every sample into its cell's count, of which there is one more for gaps, and makes a part's levels and mean
    /// traces. `origin`: a value that sums are told from.
    void fold(const FoldGrid &grid, double origin, std::uint32_t *counts, EyeFold::Part &part);

private:
    FoldInput input() const
    {
        const auto slopes = std::span(m_slopes).first(m_starts.size() - 1); // room behind them is no slope
        return {m_values.data(), m_boundaries, m_starts, slopes, m_symbols, m_runs, m_samples};
    }
    std::size_t firstOwn() const { return m_own; } ///< unit intervals behind the margin
    std::size_t lastOwn() const { return m_own + m_count; }
    std::size_t pairs() const { return m_levels * (m_levels - 1); } ///< of unlike symbols
    void layPairs();
    void listTransitions();
    void addTransitions(EyeFold::Part &part) const;

    std::size_t m_own = 0, m_count = 0, m_samples = 0, m_levels = 0;
    std::int64_t m_first = 0;
    std::vector<double> m_boundaries, m_slopes, m_values;
    std::vector<std::int32_t> m_starts, m_cells;
    std::vector<std::uint8_t> m_symbols;
    std::vector<std::uint32_t> m_runs;
    std::vector<std::uint8_t> m_pairOf; ///< by the symbols before and behind a boundary, unknown ones among them
    std::vector<std::uint32_t> m_lists; ///< boundaries, m_count for each pair of symbols, of which so many are:
    std::vector<std::size_t> m_listed;
};

} // namespace fulvex
