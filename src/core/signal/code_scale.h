#pragma once

#include <algorithm>
#include <cstdint>

namespace fulvex {

/// How whole numbers stand for values: value = code * step + offset, rounded as two operations of doubles. They have 16
/// bits, or where the scale is wide 17, as the sum of two of 16 has.
struct CodeScale {
    double step = 1, offset = 0; ///< the step may be negative, and is not 0
    bool wide = false;
    static constexpr std::int32_t least = -65536, most = 65535; ///< of wide ones
    double valueOf(std::int32_t code) const { return double(code) * step + offset; }
    /// The first code whose value is at least, or (`above`) beyond a level; one behind `most` where there is none. Of a
    /// positive step: values rise with the codes, since rounding keeps their order.
    std::int32_t firstAt(double level, bool above = false) const
    {
        std::int32_t low = least, high = most + 1;
        while (low < high) {
            const std::int32_t middle = low + (high - low) / 2;
            const double value = valueOf(middle);
            if (above ? value > level : value >= level)
                high = middle;
            else
                low = middle + 1;
        }
        return low;
    }
    bool operator==(const CodeScale &) const = default;
};

} // namespace fulvex
