#pragma once

#include <algorithm>
#include <cstdint>

namespace fulvex {

/// Bins a power of two wide that begin at whole multiples of it, whatever the record: so the bins of coarser ones are
/// made of whole bins of finer ones, and counts of unlike records add up to what one run over all of them gives.
struct NestedBins {
    int exponent = 0;       ///< bins are 2^exponent wide
    std::int64_t first = 0; ///< the first bin's lower border, in bins
    int count = 0;

    /// The finest of which at most `between` lie between two finite values, least <= most, and their bins. Never finer
    /// than the last digit of a double is at either value.
    static NestedBins over(double least, double most, int between);
    /// Those as wide that two values, low <= high, lie in.
    NestedBins covering(double low, double high) const;
    double width() const;
    double low() const { return double(first) * width(); } ///< lower border of the first
    double high() const { return double(first + count) * width(); }
    std::int64_t binOf(double value) const; ///< counted from `first`; of any value that over() takes
    /// Where a bin of finer ones lies in these, which cover it.
    std::int64_t binOf(const NestedBins &finer, std::int64_t bin) const
    {
        return ((finer.first + bin) >> std::min(exponent - finer.exponent, 62)) - first;
    }
    bool operator==(const NestedBins &) const = default;
};

} // namespace fulvex
