#pragma once

#include <algorithm>
#include <limits>

namespace fulvex {

/// Minimum and maximum of a run of samples; empty (low > high) where all are gaps.
struct Extent {
    float low, high;
    bool empty() const { return !(low <= high); }
    bool operator==(const Extent &) const = default;
    /// Of finite doubles: what is beyond a float is told by the largest one.
    static Extent of(double low, double high)
    {
        constexpr double most = std::numeric_limits<float>::max();
        return {float(std::clamp(low, -most, most)), float(std::clamp(high, -most, most))};
    }
    static constexpr Extent nothing()
    {
        return {std::numeric_limits<float>::infinity(), -std::numeric_limits<float>::infinity()};
    }
};

} // namespace fulvex
