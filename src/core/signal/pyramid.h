#pragma once

#include "progress.h"
#include "sample_source.h"

#include <cstdint>
#include <vector>

namespace fulvex {

/// Minimum and maximum of a run of samples; empty (low > high) where all are gaps.
struct Extent {
    float low, high;
    bool empty() const { return !(low <= high); }
};

/// Minima and maxima of a source over blocks of 256, 4096, 65536, … samples: what makes a view of any width cost
/// the same whatever the length of the record, without ever losing a spike. Built in one pass, on all cores.
class Pyramid {
public:
    static constexpr std::int64_t base = 256, factor = 16;
    static Pyramid build(const SampleSource &source, Progress &progress);
    /// Smallest and largest value of whole base blocks covering `range`; O(log n).
    Extent extent(SampleRange range) const;
    /// Over all; empty when no sample is finite.
    Extent whole() const;

private:
    std::vector<std::vector<Extent>> m_levels;
};

/// What a trace shows in each of `columns` equal slices of a span of positions: the extent of the samples in it.
/// Where a slice holds fewer than a pyramid block the samples themselves are read; O(columns) in every case.
std::vector<Extent> traceColumns(const SampleSource &source, const Pyramid &pyramid, double from, double to,
                                 int columns);

} // namespace fulvex
