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
    std::vector<SampleRange> runs;
    for (const SampleRange &run : map.running(unitIntervals))
        for (std::int64_t first = run.first; first < run.last; first += together)
            runs.push_back({first, std::min(first + together, run.last)});
    const auto all = std::int64_t(runs.size()), wanted = std::min(all, std::max<std::int64_t>(1, most / together));
    if (wanted == all) return runs;
    std::vector<SampleRange> some;
    const double between = double(all - 1) / double(std::max<std::int64_t>(1, wanted - 1));
    for (std::int64_t i = 0; i < wanted; ++i) some.push_back(runs[std::size_t(double(i) * between)]);
    return some;
}

} // namespace fulvex
