#include "eye_parts.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr int places = 8;
constexpr double folded = 8000; ///< unit intervals a part

/// The edges within a span of positions, and the unit intervals that they belong to.
struct Cut {
    std::shared_ptr<EdgeList> edges = std::make_shared<EdgeList>();
    std::shared_ptr<SymbolTiming> timing = std::make_shared<SymbolTiming>();

    Cut(const EdgeList &all, const SymbolTiming &whole, double from, double to)
    {
        const auto begin = all.positions.begin();
        const auto first = std::lower_bound(begin, all.positions.end(), from) - begin;
        const auto last = std::lower_bound(begin, all.positions.end(), to) - begin;
        edges->positions.assign(begin + first, begin + last);
        edges->flags.assign(all.flags.begin() + first, all.flags.begin() + last);
        edges->interpolatedBySinc = all.interpolatedBySinc;
        timing->period = whole.period;
        timing->offset = whole.offset;
        timing->numbers.assign(whole.numbers.begin() + first, whole.numbers.begin() + last);
    }
};

} // namespace

std::optional<EyeFold> foldParts(const SourcePtr &source, const std::shared_ptr<const EdgeList> &edges,
                                 const std::shared_ptr<const SymbolTiming> &timing, const TimeAxis &axis,
                                 const PartsRule &rule, Progress &progress)
{
    const double settling = rule.loop ? 3 / (rule.loop->bandwidth * axis.interval) : 0; // samples
    const double length = settling + folded * timing->period, room = rule.last - rule.first;
    if (!(places * length < room / 3)) return {};
    std::optional<Clock> whole; // a line through all edges is quickly drawn, and no part may have one of its own
    if (!rule.loop) whole = fixedClock(edges, timing, axis, rule.period);
    std::optional<EyeFold> all;
    for (int place = 0; place < places; ++place) {
        const double from = rule.first + (room - length) * place / (places - 1), to = from + length;
        std::optional<Clock> own;
        if (rule.loop) {
            const Cut cut(*edges, *timing, from, to);
            if (cut.edges->size() < 2) continue;
            own = loopClock(cut.edges, cut.timing, axis, rule.period, *rule.loop, progress);
        }
        const Clock &clock = own ? *own : *whole;
        const double begin = own ? own->edges().positions.front() + settling : from,
                     end = own ? own->edges().positions.back() : to;
        EyeRule part = rule.fold;
        part.first = std::max<std::int64_t>(0, std::int64_t(std::ceil(clock.unitIntervalAt(begin))));
        part.last = std::min(clock.unitIntervals(), std::int64_t(std::floor(clock.unitIntervalAt(end))));
        if (part.first >= part.last) continue;
        const EyeFold fold = foldEye(source, clock, part, progress);
        if (all)
            all->merge(fold);
        else
            all = fold;
    }
    return all;
}

} // namespace fulvex
