#include "symbol_edges.h"

#include "clock_recovery.h"
#include "crossing_refiner.h"
#include "parallel.h"
#include "transition_seeker.h"
#include "transition_stretch.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <tbb/enumerable_thread_specific.h>
#include <utility>

namespace fulvex {

namespace {

/// By windowed sinc, band by band: each has a level of its own.
void refine(const SampleSource &source, const TransitionBands &bands, FoundTransitions &found)
{
    SampleWindow window(source);
    EdgeList own;
    for (std::size_t band = 0; band < bands.levels().size(); ++band) {
        own.positions.clear();
        own.flags.clear();
        for (std::size_t i = 0; i < found.edges.size(); ++i) {
            if (bands.ofStep(found.edges.steps[i]) != band) continue;
            own.positions.push_back(found.edges.positions[i]);
            own.flags.push_back(found.edges.flags[i]);
        }
        refineCrossings(window, bands.levels()[band].mid, own.positions, own.flags);
        for (std::size_t i = 0, at = 0; i < found.edges.size(); ++i)
            if (bands.ofStep(found.edges.steps[i]) == band) found.edges.positions[i] = own.positions[at++];
    }
}

/// Such passages that two transitions found come once.
void keepAscending(FoundTransitions &found)
{
    EdgeList &edges = found.edges;
    if (std::ranges::is_sorted(edges.positions, std::less_equal())) return;
    std::size_t count = 0;
    double last = -std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double position = edges.positions[i];
        edges.positions[count] = position;
        edges.flags[count] = edges.flags[i];
        edges.steps[count] = edges.steps[i];
        count += position > last;
        last = std::max(last, position);
    }
    found.resize(count);
}

/// Of the thresholds next to the middle the one that is crossed more often, as some windows of the range tell: short
/// ones where they have crossings enough.
double mostCrossed(const SampleSource &source, SampleRange range, const SymbolLevels &levels, Progress &progress)
{
    const std::size_t lower = (levels.thresholds.size() - 1) / 2, upper = levels.thresholds.size() / 2;
    if (lower == upper) return levels.thresholds[lower];
    const CrossingLevel bands[] = {crossingLevel(levels.thresholds[lower], levels.hysteresis),
                                   crossingLevel(levels.thresholds[upper], levels.hysteresis)};
    constexpr std::int64_t windows = 32;
    constexpr std::size_t enough = 4000;
    std::size_t crossed[2] = {};
    for (std::int64_t length = 1 << 13; length <= 1 << 16 && crossed[0] + crossed[1] < enough; length *= 8) {
        const std::int64_t size = std::min(length, range.size()), room = range.size() - size;
        const std::int64_t count = std::clamp<std::int64_t>(range.size() / length, 1, windows);
        for (std::int64_t k = 0; k < count; ++k) {
            const std::int64_t first = range.first + (count > 1 ? room / (count - 1) * k : room / 2);
            const auto lists = findLinearEdges(source, {first, first + size}, bands, progress);
            for (std::size_t i = 0; i < 2; ++i) crossed[i] += lists[i].size();
        }
    }
    return bands[crossed[1] > crossed[0]].mid;
}

/// Adds the transitions of a chunk that follows. `share`: of the record, how much they are of with this chunk.
void append(EdgeList &all, bool &gap, const FoundTransitions &found, double share)
{
    const EdgeList &some = found.edges;
    const double last = all.size() ? all.positions.back() : -std::numeric_limits<double>::infinity();
    const auto skipped = std::upper_bound(some.positions.begin(), some.positions.end(), last) - some.positions.begin();
    const std::size_t start = all.size();
    all.reserve(start + some.size(), share, true);
    all.positions.insert(all.positions.end(), some.positions.begin() + skipped, some.positions.end());
    all.flags.insert(all.flags.end(), some.flags.begin() + skipped, some.flags.end());
    all.steps.insert(all.steps.end(), some.steps.begin() + skipped, some.steps.end());
    if (start < all.size() && gap) all.flags[start] |= EdgeList::afterGap;
    if (start == 0 && all.size() > 0) all.flags[0] &= EdgeList::rising; // nothing lies before it
    gap = found.gap || (gap && start == all.size());
}

} // namespace

SymbolEdges findSymbolEdges(const SourcePtr &source, SampleRange range, const AmplitudeHistogram &samples,
                            const SymbolLevelRule &rule, std::optional<double> expected,
                            EdgeInterpolation interpolation, Progress &progress)
{
    SymbolEdges found;
    const SymbolLevels rough = roughSymbolLevels(samples, rule);
    const double middle = mostCrossed(*source, range, rough, progress);
    EdgeList crossings = findLinearEdges(*source, range, crossingLevel(middle, rough.hysteresis), progress);
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(crossings, expected, progress));
    if (!timing->found()) {
        found.reason = timing->reason;
        return found;
    }
    constexpr double slow = 1.0 / 200;
    const double rate = 1 / (timing->period * source->axis().interval);
    const Clock clock = loopClock(std::make_shared<EdgeList>(std::move(crossings)), timing, source->axis(), {},
                                  {2, slow * rate, 0.7071}, progress);
    const auto inRange = [&](std::int64_t sample) {
        return std::clamp(std::int64_t(std::floor(clock.map.unitIntervalAt(double(sample)))), std::int64_t(-1),
                          clock.map.unitIntervals());
    };
    const SampleRange unitIntervals{inRange(range.first) + 1, std::max(inRange(range.first) + 1, inRange(range.last))};
    found.levels = symbolLevels(*source, clock.map, unitIntervals, rule, rough, progress);

    const TransitionBands bands(found.levels);
    const bool sinc = isOpen(interpolation) ? timing->period < 32 : interpolation == EdgeInterpolation::sinc;
    found.edges.interpolatedBySinc = sinc;
    bool gap = false;
    const auto seekBy = [&](auto &seekers, std::int64_t perChunk) {
        const std::vector<SampleRange> chunks = chunksOf({unitIntervals.first, unitIntervals.last + 1}, perChunk);
        inChunksTaken<FoundTransitions>(
            chunks, progress,
            [&](SampleRange mine, FoundTransitions &part) {
                seekers.local().seek(mine, part);
                if (sinc) refine(*source, bands, part);
                keepAscending(part);
            },
            [&](const FoundTransitions &part, std::size_t chunk) {
                append(found.edges, gap, part, double(chunk + 1) / double(chunks.size()));
            });
    };
    const double period = clock.map.period();
    if (period >= TransitionStretch::shortest && period <= StretchSamples::longest) {
        tbb::enumerable_thread_specific<TransitionStretch> seekers(std::cref(*source), std::cref(clock.map),
                                                                   std::cref(bands), std::cref(found.levels));
        seekBy(seekers, std::max<std::int64_t>(16, std::int64_t(16384 / period)));
    } else {
        const std::vector<EdgeList> passages = findLinearEdges(*source, range, bands.levels(), progress);
        tbb::enumerable_thread_specific<TransitionSeeker> seekers(
            std::cref(*source), std::cref(clock.map), std::cref(bands), std::cref(found.levels), std::cref(passages));
        seekBy(seekers, 1 << 14);
    }
    return found;
}

} // namespace fulvex
