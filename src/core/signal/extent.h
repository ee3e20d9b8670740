#pragma once

#include <limits>

namespace fulvex {

/// Minimum and maximum of a run of samples; empty (low > high) where all are gaps.
struct Extent {
    float low, high;
    bool empty() const { return !(low <= high); }
    bool operator==(const Extent &) const = default;
    static constexpr Extent nothing()
    {
        return {std::numeric_limits<float>::infinity(), -std::numeric_limits<float>::infinity()};
    }
};

} // namespace fulvex
