#include "sample_source.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

Extent extentOf(std::span<const double> values)
{
    double low = INFINITY, high = -INFINITY;
    for (const double v : values) { // a NaN compares false and changes nothing
        low = v < low ? v : low;
        high = v > high ? v : high;
    }
    return low <= high ? Extent::of(low, high) : Extent::nothing();
}

void SampleSource::extents(SampleRange range, std::int64_t block, std::span<Extent> out) const
{
    const std::int64_t atOnce = std::max<std::int64_t>(1, 8192 / block) * block;
    std::vector<double> values(std::size_t(std::min(atOnce, range.size())));
    std::size_t done = 0;
    for (std::int64_t first = range.first; first < range.last; first += atOnce) {
        const std::span part(values.data(), std::size_t(std::min(atOnce, range.last - first)));
        read(first, part);
        for (std::size_t i = 0; i < part.size(); i += std::size_t(block))
            out[done++] = extentOf(part.subspan(i, std::min(std::size_t(block), part.size() - i)));
    }
}

} // namespace fulvex
