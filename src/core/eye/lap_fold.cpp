#include "lap_fold.h"

#include "eye_curves.h"
#include "parallel.h"
#include "resampled_source.h"
#include "unit_interval_walk.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <tbb/enumerable_thread_specific.h>

namespace fulvex {

UnitIntervalMap lapsAbout(const TimeAxis &axis, std::span<const double> moments, double before, double length)
{
    BoundaryNumbers numbers;
    RawVector<double> late;
    std::vector<SampleRange> runs;
    double offset = 0, free = 0; // where the next may begin
    std::int64_t number = 0;
    for (const double moment : moments) {
        const double begin = moment - before;
        if (begin < free || begin + length > double(axis.count - 1)) continue;
        if (double(number) + 2 + (begin - free) / length > mostBoundaries) break; // more than can be counted
        if (runs.empty())
            offset = begin;
        else // a pause of about as long unit intervals, at least one
            number += 1 + std::max<std::int64_t>(1, std::llround((begin - free) / length));
        runs.push_back({number, number + 1});
        for (const int end : {0, 1}) {
            numbers.push_back(std::int32_t(number + end));
            late.push_back((begin + end * length - offset) / length - double(number + end));
        }
        free = begin + length;
    }
    if (runs.empty()) {
        UnitIntervalMap none(axis, 0, length);
        none.runOnly({{INT64_MAX / 2, INT64_MAX / 2}});
        return none;
    }
    UnitIntervalMap map(axis, offset, length, std::make_shared<const BoundaryNumbers>(std::move(numbers)),
                        std::move(late), 0);
    map.runOnly(runs);
    return map;
}

/// `use(n)` of the laps that begin in a part of a run.
template <typename Use>
static void forLaps(const UnitIntervalMap &map, const EyeRule &rule, SampleRange unitIntervals, Use &&use)
{
    const Laps &laps = rule.laps;
    for (std::int64_t n = laps.beginOf(unitIntervals.first + laps.each - 1); n < unitIntervals.last; n += laps.each)
        if (isLap(map, rule, n)) use(n);
}

std::int64_t lapsIn(const UnitIntervalMap &map, const EyeRule &rule, SampleRange unitIntervals)
{
    if (!rule.overlay()) return unitIntervals.size();
    std::int64_t count = 0;
    forLaps(map, rule, unitIntervals, [&](std::int64_t) { ++count; });
    return count;
}

static std::int64_t unitIntervalAt(const UnitIntervalMap &map, double time)
{
    return std::int64_t(std::floor(map.unitIntervalAt(map.axis().positionOf(time))));
}

std::optional<std::int64_t> lapAt(const UnitIntervalMap &map, const EyeRule &rule, double time)
{
    const std::int64_t n = unitIntervalAt(map, time), begin = rule.laps.beginOf(n);
    const SampleRange lap{begin, begin + rule.laps.lasts};
    const bool there = begin >= 0 && n < lap.last && lap.last <= map.unitIntervals() && map.runsAllAlong(lap);
    return there ? std::optional(begin) : std::nullopt;
}

std::vector<std::int64_t> lapsBetween(const UnitIntervalMap &map, const EyeRule &rule, double from, double to,
                                      std::size_t most)
{
    EyeRule all = rule;
    all.last = map.unitIntervals();
    const SampleRange there{std::max<std::int64_t>(0, unitIntervalAt(map, from) - rule.laps.lasts + 1),
                            std::min(unitIntervalAt(map, to) + 1, all.last)};
    std::vector<std::int64_t> found;
    for (SampleRange run : map.running(there, most)) {
        run.last = std::min(run.last, run.first + std::int64_t(most) * rule.laps.each); // it may be the whole record
        forLaps(map, all, run, [&](std::int64_t n) { found.push_back(n); });
        if (found.size() >= most) break;
    }
    found.resize(std::min(found.size(), most));
    return found;
}

std::vector<std::int64_t> lapBegins(const UnitIntervalMap &map, const EyeRule &rule)
{
    std::vector<std::int64_t> begins;
    for (const SampleRange &run : map.running({rule.first, rule.last}))
        forLaps(map, rule, run, [&](std::int64_t n) { begins.push_back(n); });
    return begins;
}

EyeFold foldLaps(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    const std::vector<std::int64_t> begins = lapBegins(map, rule);
    EyeFold all;
    all.picture = rule.grid();
    all.picture.counts.resize(all.picture.cells());
    all.unitIntervals = std::int64_t(begins.size());
    all.interpolation = rule.interpolation;
    all.samplesPerUnitInterval = map.period();
    all.parts = {EyeFold::Part()};
    const EyeCounts &grid = all.picture;
    tbb::enumerable_thread_specific<std::vector<std::uint64_t>> owns(grid.counts.size());
    struct Samples {
        std::int64_t count = 0;
        void merge(const Samples &later) { count += later.count; }
    };
    const auto together = std::clamp<std::int64_t>(
        std::int64_t(double(defaultChunk) / (map.period() * rule.interpolation * rule.laps.lasts)), 1, 256);
    const double perUnit = 1 / grid.rows.width(), bottom = double(grid.rows.first), perLap = 1.0 / rule.laps.lasts;
    const auto cell = [](double at, int size) { return std::size_t(std::clamp(at, 0.0, double(size - 1))); };
    const auto work = [&](SampleRange mine, Samples &part) {
        std::vector<std::uint64_t> &counts = owns.local();
        UnitIntervalWalk walk(*source, map, rule.interpolation, progress);
        for (std::int64_t i = mine.first; i < mine.last; ++i) {
            const auto begin = double(begins[std::size_t(i)]);
            const SampleRange range = walk.between(begin, begin + rule.laps.lasts);
            part.count += (range.last + rule.interpolation - 1) / rule.interpolation -
                          (range.first + rule.interpolation - 1) / rule.interpolation;
            walk.samples(range, [&](std::int64_t, std::span<const double> values, std::span<const double> ui) {
                for (std::size_t k = 0; k < values.size(); ++k) {
                    if (!(values[k] == values[k])) continue;
                    const std::size_t row = cell(std::floor(values[k] * perUnit) - bottom, grid.rows.count);
                    const std::size_t column = cell((ui[k] - begin) * perLap * grid.columns, grid.columns);
                    ++counts[row * std::size_t(grid.columns) + column];
                }
            });
        }
    };
    all.samples = inChunksMerged<Samples>({0, all.unitIntervals}, together, progress, work).count;
    for (const std::vector<std::uint64_t> &own : owns)
        for (std::size_t i = 0; i < own.size(); ++i) all.picture.counts[i] += own[i];
    if (rule.curves > 0) all.curves = drawLaps(original, map, rule, begins, progress);
    return all;
}

std::vector<double> meanOfLaps(const EyeCounts &picture)
{
    std::vector<double> means;
    for (int column = 0; column < picture.columns; ++column) {
        double hits = 0, sum = 0;
        for (int row = 0; row < picture.rows.count; ++row) {
            const auto here = double(picture.at(column, row));
            hits += here;
            sum += here * (double(row) + 0.5);
        }
        means.push_back(hits > 0 ? (double(picture.rows.first) + sum / hits) * picture.rows.width()
                                 : std::numeric_limits<double>::quiet_NaN());
    }
    return means;
}

} // namespace fulvex
