#pragma once

#include "raw_vector.h"
#include "time_axis.h"

#include <cstdint>

namespace fulvex {

/// Crossings of one level, ascending. Rising and falling alternate, except across a gap.
struct EdgeList {
    enum : std::uint8_t { rising = 1, afterGap = 2 }; ///< afterGap: a gap lies between the edge before and this one
    RawVector<double> positions;                      ///< sample positions
    RawVector<std::uint8_t> flags;
    bool interpolatedBySinc = false; ///< otherwise by the straight line between the neighbouring samples
    std::size_t size() const { return positions.size(); }
    bool isRising(std::size_t edge) const { return flags[edge] & rising; }
    bool isAfterGap(std::size_t edge) const { return flags[edge] & afterGap; }
    /// Those edges alone.
    EdgeList part(SampleRange some) const
    {
        return {{positions.begin() + some.first, positions.begin() + some.last},
                {flags.begin() + some.first, flags.begin() + some.last},
                interpolatedBySinc};
    }
    /// The samples from the first to the last edge of some.
    SampleRange samplesOf(SampleRange some) const
    {
        if (some.size() == 0) return {};
        return {std::int64_t(positions[std::size_t(some.first)]), std::int64_t(positions[std::size_t(some.last - 1)])};
    }
};

enum class EdgeChoice { rising, falling, both };

inline bool chosen(EdgeChoice choice, bool rising)
{
    return choice == EdgeChoice::both || (choice == EdgeChoice::rising) == rising;
}

} // namespace fulvex
