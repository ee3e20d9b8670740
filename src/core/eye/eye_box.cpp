#include "eye_box.h"

#include "resampled_source.h"
#include "unit_interval_walk.h"

namespace fulvex {

namespace {

/// Whether any of a straight line lies in a box: the span of the line that lies between the box's left and right, cut
/// by its low and high, is not empty (Liang and Barsky, 1984).
bool meets(const EyeBox &box, EyePoint a, EyePoint b)
{
    double from = 0, to = 1;
    const auto cut = [&](double start, double end, double low, double high) {
        const double change = end - start;
        if (change == 0) return start >= low && start <= high;
        const double atLow = (low - start) / change, atHigh = (high - start) / change;
        from = std::max(from, std::min(atLow, atHigh));
        to = std::min(to, std::max(atLow, atHigh));
        return from <= to;
    };
    return cut(a.x, b.x, box.fromPhase, box.toPhase) && cut(a.y, b.y, box.low, box.high);
}

} // namespace

void EyePasses::merge(const EyePasses &later)
{
    unitIntervals += later.unitIntervals;
    count += later.count;
    wanted = std::max(wanted, later.wanted);
    const std::size_t more = std::min(later.first.size(), wanted - std::min(wanted, first.size()));
    first.insert(first.end(), later.first.begin(), later.first.begin() + std::ptrdiff_t(more));
}

EyePasses passesThrough(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                        std::size_t wanted, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    const TimeAxis &axis = source->axis();
    const auto lookThrough = [&](SampleRange mine, EyePasses &part) {
        part.unitIntervals = mine.size();
        part.wanted = wanted;
        std::vector<EyePass> found; // by unit interval; lines come in time, so the last few are enough to look at
        UnitIntervalWalk walk(*source, map, rule.interpolation, progress);
        // A margin of a unit interval: the line that enters the first one begins in the one before.
        const SampleRange range = walk.between(double(mine.first) + std::floor(box.fromPhase) - 1,
                                               double(mine.last) + std::ceil(box.toPhase));
        walk.lines(range, [&](EyePoint a, EyePoint b, bool, std::int64_t index) {
            const auto from = std::max(mine.first, std::int64_t(std::ceil(std::min(a.x, b.x) - box.toPhase))),
                       to = std::min(mine.last - 1, std::int64_t(std::floor(std::max(a.x, b.x) - box.fromPhase)));
            for (std::int64_t n = from; n <= to; ++n) {
                if (!meets(box, {a.x - double(n), a.y}, {b.x - double(n), b.y})) continue;
                const auto known = [&](const EyePass &pass) { return pass.unitInterval == n; };
                const auto recent = found.end() - std::min<std::ptrdiff_t>(std::ptrdiff_t(found.size()), 8);
                if (std::any_of(recent, found.end(), known)) continue;
                found.push_back({axis.timeOf(double(index)), n, b.y});
            }
        });
        part.count = std::int64_t(found.size());
        found.resize(std::min(found.size(), wanted));
        part.first = std::move(found);
    };
    EyePasses all;
    for (const SampleRange &run : map.running({rule.first, rule.last}))
        all.merge(inChunksMerged<EyePasses>(run, unitIntervalsAChunk(map, rule.interpolation), progress, lookThrough));
    return all;
}

} // namespace fulvex
