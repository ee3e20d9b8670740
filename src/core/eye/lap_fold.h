#pragma once

#include "eye_fold.h"

#include <optional>

namespace fulvex {

/// A map whose running unit intervals are what lies about moments of a record, from `before` them on for `length`, all
/// in samples: those that lie in the record as a whole, and do not begin within the one before. What lies between them
/// pauses. `moments` ascend.
UnitIntervalMap lapsAbout(const TimeAxis &axis, std::span<const double> moments, double before, double length);

/// Whether a lap of the rule's begins at a unit interval: all of it within its first and last, where the map runs.
inline bool isLap(const UnitIntervalMap &map, const EyeRule &rule, std::int64_t unitInterval)
{
    const Laps &laps = rule.laps;
    if (laps.each == 1 && laps.lasts == 1) return true; // of those that are asked for each
    const SampleRange lap{unitInterval, unitInterval + laps.lasts};
    return laps.beginsAt(unitInterval) && lap.last <= rule.last && map.runsAllAlong(lap);
}
/// The lap of a map, by its first unit interval, that a time, s, lies in; none where it pauses or none is whole.
std::optional<std::int64_t> lapAt(const UnitIntervalMap &map, const EyeRule &rule, double time);
/// Those that a span of time, s, meets, up to so many.
std::vector<std::int64_t> lapsBetween(const UnitIntervalMap &map, const EyeRule &rule, double from, double to,
                                      std::size_t most);
/// How many begin in a part of a run of the map.
std::int64_t lapsIn(const UnitIntervalMap &map, const EyeRule &rule, SampleRange unitIntervals);
/// The first unit interval of each lap of a map that lies within the rule's.
std::vector<std::int64_t> lapBegins(const UnitIntervalMap &map, const EyeRule &rule);

/// Lays the laps of a record over each other, on all cores: samples, interpolated by the rule, in a picture as wide as
/// one lap, and up to `rule.curves` of them as curves. No symbols are told apart: it has neither levels nor traces.
EyeFold foldLaps(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, Progress &progress);

/// The mean of all laps, column by column of an overlay's picture, in the channel's unit, by the middles of the rows
/// that were hit: to half a row. NaN where nothing was.
std::vector<double> meanOfLaps(const EyeCounts &picture);

} // namespace fulvex
