#include "mask_test_run.h"

#include "line_tester.h"
#include "resampled_source.h"
#include "unit_interval_walk.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <bit>
#include <cmath>
#include <tbb/enumerable_thread_specific.h>
#include <tuple>

namespace fulvex {

static std::vector<MovableArea> areasOf(const MaskDefinition &mask, const MaskRule &rule)
{
    std::vector<MovableArea> areas;
    for (const MaskArea &area : mask.areas) areas.emplace_back(area, mask, rule.zero, rule.one);
    return areas;
}

namespace {

/// Tests ranges one after another by `test(range, result)`, which adds to it. Where failures end it, in pieces, each
/// twice as long as the one before, and then once more up to the failure that did.
template <typename Test>
MaskResult testInTurn(const std::vector<SampleRange> &ranges, std::int64_t piece, std::int64_t stopAt, Test &&test)
{
    MaskResult all;
    for (const SampleRange &range : ranges) {
        for (std::int64_t first = range.first; first < range.last;) {
            const std::int64_t last = stopAt > 0 ? std::min(range.last, first + piece) : range.last;
            test(SampleRange{first, last}, all);
            first = last;
            piece *= 2;
            if (stopAt == 0 || all.failedUnitIntervals < stopAt) continue;
            std::vector<std::int64_t> failed;
            for (const MaskFailure &failure : all.failures) failed.push_back(failure.unitInterval);
            std::sort(failed.begin(), failed.end());
            const std::int64_t end = failed[std::size_t(stopAt - 1)] + 1;
            std::vector<SampleRange> tested;
            for (const SampleRange &one : ranges)
                if (one.first < end) tested.push_back({one.first, std::min(one.last, end)});
            MaskResult upTo = testInTurn(tested, piece, 0, test);
            upTo.stopped = true;
            return upTo;
        }
    }
    return all;
}

constexpr double fewLines = 1000; ///< that are looked at one by one, since what tells which are clear takes as long
constexpr std::int64_t chunksAtFirst = 16;
constexpr std::int64_t sharesAhead[] = {512, 16}; ///< of a chunk, tested ahead of all for what they tell of the margin

} // namespace

MaskResult runMask(const SourcePtr &original, const UnitIntervalMap &map, const MaskDefinition &mask,
                   const MaskRule &rule, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    const std::vector<MovableArea> areas = areasOf(mask, rule);
    std::int64_t reach = 1;
    for (const MovableArea &area : areas) {
        const MaskShape shape = area.at(rule.margin);
        reach = std::max({reach, std::int64_t(std::ceil(-shape.left())), std::int64_t(std::ceil(shape.right() - 1))});
    }
    const double step = 1 / (map.period() * rule.interpolation);
    // So many unit intervals at a time fit a core's cache.
    const bool fewEnough = map.period() * rule.interpolation <= PhasedSamples::longest;
    const std::int64_t together = std::max<std::int64_t>(16, std::int64_t(16384 * step));
    tbb::enumerable_thread_specific<PhasedSamples> own;
    // A chunk owns unit intervals and looks farther on either side, as far as areas reach over the crossings.
    const auto work = [&](KnownSoFar &known, SampleRange mine, MaskResult &part) {
        part.unitIntervals = mine.size();
        LineTester tester(areas, rule, source->axis(), known, part);
        UnitIntervalWalk walk(*source, map, rule.interpolation, progress);
        PhasedSamples &at = own.local();
        const bool each = !fewEnough || double(mine.size()) / step < fewLines;
        for (const SampleRange &some : chunksOf(mine, together)) {
            tester.only(some);
            if (!each && at.load(*source, map, rule.interpolation, some, reach)) {
                tester.samples(at, map, rule.interpolation, step);
                source->release(at.ofSource());
                continue;
            }
            walk.samples(walk.between(double(some.first - reach), double(some.last + reach)),
                         [&](std::int64_t first, std::span<const double> values, std::span<const double> ui) {
                             tester.samples(first, values, ui, step);
                         });
        }
        tester.finish();
    };
    const std::int64_t chunk = unitIntervalsAChunk(map, rule.interpolation);
    MaskResult all = testInTurn(
        map.running({rule.first, rule.last}), chunksAtFirst * chunk, rule.stopAt,
        [&](SampleRange range, MaskResult &sum) {
            KnownSoFar known; // of these alone: what lies behind may not count
            MaskResult some;
            for (const std::int64_t share : sharesAhead)
                work(known, {range.first, std::min(range.last, range.first + chunk / share)}, some);
            sum.merge(inChunksMerged<MaskResult>(range, chunk, progress,
                                                 [&](SampleRange mine, MaskResult &part) { work(known, mine, part); }));
        });
    all.areaHits.resize(areas.size());
    return all;
}

MaskResult runTemplate(const SourcePtr &source, std::span<const double> edges, const MaskDefinition &mask,
                       const MaskRule &rule, Progress &progress)
{
    const std::vector<MovableArea> areas = areasOf(mask, rule);
    double left = 0, right = 0;
    for (const MovableArea &area : areas) { // as far as the margin that is looked for may take them
        for (const double margin : {rule.margin, 1.0}) {
            left = std::min(left, area.at(margin).left());
            right = std::max(right, area.at(margin).right());
        }
    }
    const TimeAxis &axis = source->axis();
    constexpr std::int64_t perChunk = 256;
    const auto work = [&](KnownSoFar &known, SampleRange mine, MaskResult &part) {
        part.unitIntervals = mine.size();
        LineTester tester(areas, rule, axis, known, part);
        for (std::int64_t n = mine.first; n < mine.last; ++n) {
            // A clock of a second from the edge on, so that its phases are seconds.
            const UnitIntervalMap seconds(axis, edges[std::size_t(n)], 1 / axis.interval);
            const double first = double(seconds.lineNumber());
            UnitIntervalWalk walk(*source, seconds, 1, progress);
            SampleRange range = walk.between(left - first, right - first);
            // The lines that enter and leave it.
            range = {std::max<std::int64_t>(0, range.first - 1), std::min(axis.count, range.last + 1)};
            walk.lines(range, [&](EyePoint a, EyePoint b, bool lone, std::int64_t index) {
                tester.lineIn(n, {a.x + first, a.y}, {b.x + first, b.y}, lone, index);
            });
        }
        tester.finish();
    };
    MaskResult all = testInTurn(
        {{0, std::int64_t(edges.size())}}, chunksAtFirst * perChunk, rule.stopAt,
        [&](SampleRange range, MaskResult &sum) {
            KnownSoFar known;
            sum.merge(inChunksMerged<MaskResult>(range, perChunk, progress,
                                                 [&](SampleRange mine, MaskResult &part) { work(known, mine, part); }));
        });
    all.areaHits.resize(areas.size());
    return all;
}

} // namespace fulvex
