#pragma once

#include "raw_vector.h"
#include "time_axis.h"

#include <cstdint>
#include <type_traits>

namespace fulvex {

/// Crossings of one level, ascending. Rising and falling alternate, except across a gap. Or the transitions of a signal
/// of several levels, which need not.
struct EdgeList {
    enum : std::uint8_t { rising = 1, afterGap = 2 }; ///< afterGap: a gap lies between the edge before and this one
    RawVector<double> positions;                      ///< sample positions
    RawVector<std::uint8_t> flags;
    bool interpolatedBySinc = false; ///< otherwise by the straight line between the neighbouring samples
    RawVector<std::uint8_t> steps =
        {};                       ///< of several levels: 16 * the symbol that each leaves + the one that it reaches
    double transitionSamples = 0; ///< of those by sinc, where it is known: as many as the median transition takes
    std::size_t size() const { return positions.size(); }
    bool isRising(std::size_t edge) const { return flags[edge] & rising; }
    bool alternate() const { return steps.empty(); }
    std::size_t symbolBefore(std::size_t edge) const { return alternate() ? !isRising(edge) : steps[edge] / 16; }
    std::size_t symbolBehind(std::size_t edge) const { return alternate() ? isRising(edge) : steps[edge] % 16; }
    bool isAfterGap(std::size_t edge) const { return flags[edge] & afterGap; }
    /// Makes room for so many, and where there is none yet for as many as all of the record may have, of which they are
    /// a share.
    void reserve(std::size_t count, double share, bool withSteps = false)
    {
        if (count <= positions.capacity()) return;
        const auto room = std::size_t(1.05 * double(count) / share) + 64;
        positions.reserve(room);
        flags.reserve(room);
        if (withSteps) steps.reserve(room);
    }
    /// Those edges alone.
    EdgeList part(SampleRange some) const
    {
        const auto of = [&](const auto &all) {
            std::remove_cvref_t<decltype(all)> part;
            if (!all.empty()) part.assign(all.begin() + some.first, all.begin() + some.last);
            return part;
        };
        return {of(positions), of(flags), interpolatedBySinc, of(steps), transitionSamples};
    }
    /// The samples from the first to the last edge of some.
    SampleRange samplesOf(SampleRange some) const
    {
        if (some.size() == 0) return {};
        return {std::int64_t(positions[std::size_t(some.first)]), std::int64_t(positions[std::size_t(some.last - 1)])};
    }
};

/// Numbers of unit interval boundaries, one an edge, counted from one of the record: of 32 bits, since they are read
/// again and again, and no record has 2^31 unit intervals.
using BoundaryNumbers = RawVector<std::int32_t>;
constexpr double mostBoundaries = 2147483000; ///< that may be numbered

enum class EdgeChoice { rising, falling, both };

inline bool chosen(EdgeChoice choice, bool rising)
{
    return choice == EdgeChoice::both || (choice == EdgeChoice::rising) == rising;
}

} // namespace fulvex
