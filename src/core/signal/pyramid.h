#pragma once

#include "progress.h"
#include "sample_source.h"

#include <cstdint>
#include <vector>

namespace fulvex {

/// Minima and maxima of a source over blocks of 256, 4096, 65536, … samples: what makes a view of any width cost
/// the same whatever the length of the record, without ever losing a spike. Besides, some samples of each block, picked
/// without regard to their values: for how long the signal is where. Built in one pass, on all cores.
class Pyramid {
public:
    static constexpr std::int64_t finest = 256, factor = 16;
    static constexpr std::int64_t picked = 8; ///< samples of each block; NaN where there are none
    static Pyramid build(const SampleSource &source, Progress &progress);
    /// A first idea of a long record, from its 256 samples at each of 2048 places: for the moment before the whole is
    /// read.
    static Pyramid sketch(const SampleSource &source);
    /// Of the finest blocks, as ground() and picks() gave them.
    static Pyramid over(std::vector<Extent> ground, std::vector<float> picks);

    /// That of value * gain + shift: the same bits as build() gives where all values are floats, as integers of up to
    /// 24 bits are.
    Pyramid scaled(double gain, double shift) const;

    /// Smallest and largest value of whole base blocks covering `range`; O(log n).
    Extent extent(SampleRange range) const;
    /// Over all; empty when no sample is finite.
    Extent whole() const;
    std::int64_t base() const { return m_base; } ///< samples in a block of the lowest level
    bool isSketch() const { return m_sketch; }   ///< most samples were not looked at
    std::size_t bytes() const;                   ///< of memory
    const std::vector<Extent> &ground() const { return m_levels.front(); }
    const std::vector<float> &picks() const { return m_picks; } ///< `picked` of each block of the ground

private:
    void stack();
    std::int64_t m_base = finest;
    bool m_sketch = false;
    std::vector<std::vector<Extent>> m_levels;
    std::vector<float> m_picks;
};

/// What a trace shows in equal slices of a span of positions.
struct TraceColumns {
    std::vector<Extent> extents; ///< of all samples in each
    std::vector<float> values;   ///< of some of them, column by column: by these one sees where it is for how long
    std::vector<std::uint32_t> starts; ///< in `values`, one more than there are columns
    bool inOrder = false;              ///< `values` are all samples, one after the other, gaps apart
    std::size_t size() const { return extents.size(); }
    std::span<const float> valuesOf(std::size_t column) const
    {
        return std::span(values).subspan(starts[column], starts[column + 1] - starts[column]);
    }
};

/// Where a slice holds fewer samples than a pyramid block they are read themselves, of a sketch the first 256 in each
/// slice; O(columns) in every case.
TraceColumns traceColumns(const SampleSource &source, const Pyramid &pyramid, double from, double to, int columns);

} // namespace fulvex
