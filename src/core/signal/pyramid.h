#pragma once

#include "progress.h"
#include "raw_vector.h"
#include "sample_source.h"

#include <cstdint>
#include <memory>
#include <span>
#include <utility>
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
    /// Of the finest blocks, as ground() and picks() give them.
    static Pyramid over(std::vector<Extent> ground, RawVector<float> picks);

    /// That of value * gain + shift: the same bits as build() gives where all values are floats, as integers of up to
    /// 24 bits are.
    Pyramid scaled(double gain, double shift) const; ///< shares all memory

    /// Smallest and largest value of whole base blocks covering `range`; O(log n).
    Extent extent(SampleRange range) const;
    /// Over all; empty when no sample is finite.
    Extent whole() const;
    std::int64_t base() const { return m_stored->base; }                   ///< samples in a block of the lowest level
    bool isSketch() const { return m_stored->sketch; }                     ///< most samples were not looked at
    std::size_t bytes() const;                                             ///< of memory of its own
    std::size_t blocks() const { return m_stored->levels.front().size(); } ///< of the lowest level
    std::vector<Extent> ground() const;                                    ///< of these blocks
    RawVector<float> picks() const;                                        ///< `picked` of each of them
    void appendPicks(std::size_t block, std::vector<float> &values) const; ///< without gaps

private:
    struct Stored {
        std::int64_t base = finest;
        bool sketch = false;
        std::vector<std::vector<Extent>> levels;
        RawVector<float> picks;
        void stack();
    };
    explicit Pyramid(std::shared_ptr<const Stored> stored) : m_stored(std::move(stored)) {}
    bool isPlain() const { return m_gain == 1 && m_shift == 0; }
    Extent scaled(Extent stored) const;
    float scaled(float stored) const;
    std::shared_ptr<const Stored> m_stored;
    double m_gain = 1, m_shift = 0;
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
