#pragma once

#include "unit_interval_map.h"

#include <algorithm>
#include <vector>

namespace fulvex {

constexpr double smoothCurve = 32; ///< points a unit interval, between which straight lines pass for a curve

/// Up to `most` of some unit intervals, in runs of sixteen (neighbours lie alike where a clock wanders) that are spread
/// evenly over them, the first and the last among them.
inline std::vector<SampleRange> runsSpreadOver(const UnitIntervalMap &map, SampleRange unitIntervals, std::int64_t most)
{
    constexpr std::int64_t together = 16;
    const std::vector<SampleRange> running = map.running(unitIntervals);
    const auto runsOf = [&](const SampleRange &range) { return (range.size() + together - 1) / together; };
    std::int64_t all = 0;
    for (const SampleRange &range : running) all += runsOf(range);
    const std::int64_t wanted = std::min(all, std::max<std::int64_t>(1, most / together));
    const double between = wanted == all ? 1 : double(all - 1) / double(std::max<std::int64_t>(1, wanted - 1));
    std::vector<SampleRange> some;
    auto range = running.begin();
    std::int64_t before = 0; // runs of the ranges before that one
    for (std::int64_t i = 0; i < wanted; ++i) {
        const auto which = std::int64_t(double(i) * between);
        while (which >= before + runsOf(*range)) before += runsOf(*range++);
        const std::int64_t first = range->first + (which - before) * together;
        some.push_back({first, std::min(first + together, range->last)});
    }
    return some;
}

} // namespace fulvex
