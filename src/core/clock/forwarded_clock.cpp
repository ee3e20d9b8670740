#include "forwarded_clock.h"

#include "edge_finder.h"
#include "middle.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

constexpr double paused = 1.6; ///< times the usual interval: a pulse that is missing makes it twice as long

/// Edges that count: their positions on the data's grid, and which come behind a gap.
struct Starts {
    std::vector<double> positions;
    std::vector<bool> afterGap;
};

Starts startsOf(const EdgeList &edges, const TimeAxis &of, const TimeAxis &axis, const ForwardedRule &rule)
{
    Starts starts;
    std::size_t seen = 0;
    bool gap = false;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        gap |= edges.isAfterGap(i);
        if (gap) seen = std::size_t(rule.divide) * ((seen + std::size_t(rule.divide) - 1) / std::size_t(rule.divide));
        if (!chosen(rule.edges, edges.isRising(i))) continue;
        if (seen++ % std::size_t(rule.divide)) continue;
        starts.positions.push_back(of.positionOn(axis, edges.positions[i]) + rule.delay / axis.interval);
        starts.afterGap.push_back(std::exchange(gap, false));
    }
    return starts;
}

} // namespace

ForwardedClock forwardedClock(const EdgeList &edges, const TimeAxis &of, const TimeAxis &axis,
                              const ForwardedRule &rule)
{
    ForwardedClock clock;
    const Starts starts = startsOf(edges, of, axis, rule);
    const std::vector<double> &positions = starts.positions;
    if (positions.size() < 3) {
        clock.reason = "the forwarded clock has " + std::to_string(edges.size()) + " edges, of which " +
                       std::to_string(positions.size()) +
                       " count: it takes at least 3; check its channel, levels, \"edges\" and \"divide\"";
        return clock;
    }
    std::vector<double> intervals(positions.size() - 1);
    for (std::size_t i = 0; i < intervals.size(); ++i) intervals[i] = positions[i + 1] - positions[i];
    // Where rising and falling edges take turns, those from a rising one are like each other, and the others.
    const std::size_t alike = rule.edges == EdgeChoice::both && rule.divide % 2 ? 2 : 1;
    const auto usualAbout = [&](std::size_t i, std::size_t reach) {
        std::vector<double> some;
        const std::size_t before = std::min(i / alike, reach);
        for (std::size_t k = i - before * alike; k < intervals.size() && k <= i + reach * alike; k += alike)
            some.push_back(intervals[k]);
        return middleOf(some);
    };
    const double usual[] = {usualAbout(0, intervals.size()), usualAbout(alike - 1, intervals.size())};
    const auto pauses = [&](std::size_t i) {
        if (starts.afterGap[i + 1]) return true;
        return intervals[i] > 0.8 * paused * usual[i % alike] && intervals[i] > paused * usualAbout(i, 8);
    };
    // Numbers go on over a pause as if the clock had run, so that they tell times apart.
    BoundaryNumbers numbers(positions.size());
    numbers[0] = 0;
    std::int64_t number = 0;
    std::vector<SampleRange> runs{{0, 0}};
    double running = 0, unitIntervals = 0; // samples, and how many unit intervals these are
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        if (!pauses(i)) {
            number += rule.multiply;
            numbers[i + 1] = std::int32_t(number);
            runs.back().last = number;
            running += intervals[i];
            unitIntervals += rule.multiply;
            continue;
        }
        number += std::int64_t(std::max(1.0, std::round(intervals[i] / ((usual[0] + usual[1]) / 2)))) * rule.multiply;
        numbers[i + 1] = std::int32_t(number);
        runs.push_back({number, number});
        if (clock.stops++ == 0) clock.firstStop = axis.timeOf(positions[i]);
        clock.longestStop = std::max(clock.longestStop, intervals[i] * axis.interval);
    }
    if (double(number) > mostBoundaries) {
        clock.reason =
            "the forwarded clock has more unit intervals than can be counted (2^31): multiply it by less, or "
            "take a shorter capture";
        return clock;
    }
    std::erase_if(runs, [](SampleRange run) { return run.size() == 0; });
    if (runs.empty()) {
        clock.reason = "the forwarded clock's edges come too far apart, all of them: check its channel and levels";
        return clock;
    }
    const double period = running / unitIntervals;
    double scatter = 0;
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        if (numbers[i + 1] - numbers[i] != rule.multiply) continue;
        const double off = intervals[i] / rule.multiply - period;
        scatter += off * off;
    }
    clock.rateUncertainty = std::sqrt(scatter / (unitIntervals / rule.multiply)) * rule.multiply / running;
    RawVector<double> late(positions.size());
    for (std::size_t i = 0; i < late.size(); ++i) late[i] = (positions[i] - positions[0]) / period - double(numbers[i]);
    clock.map.emplace(axis, positions[0], period, std::make_shared<const BoundaryNumbers>(std::move(numbers)),
                      std::move(late), 0.0);
    clock.map->runOnly(runs);
    const bool any = !clock.map->running({0, clock.map->unitIntervals()}).empty();
    if (!any) {
        clock.map.reset();
        clock.reason = "the forwarded clock runs while the data have no samples: check the captures' starts and delays";
    }
    return clock;
}

EdgeList edgesWhereItRuns(const EdgeList &edges, const UnitIntervalMap &map)
{
    if (map.runsAlways()) return copyOf(edges);
    EdgeList some;
    some.interpolatedBySinc = edges.interpolatedBySinc;
    std::size_t hint = 0;
    bool gap = false;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        gap |= edges.isAfterGap(i);
        const UnitIntervalMap::Piece piece = map.pieceAt(edges.positions[i], hint);
        const auto boundary = std::llround(piece.number + (edges.positions[i] - piece.from) * piece.slope);
        if (!map.runsAt(boundary)) {
            gap = true;
            continue;
        }
        some.positions.push_back(edges.positions[i]);
        some.flags.push_back(
            std::uint8_t((edges.flags[i] & ~EdgeList::afterGap) | (gap && some.size() > 1 ? EdgeList::afterGap : 0)));
        if (!edges.alternate()) some.steps.push_back(edges.steps[i]);
        gap = false;
    }
    return some;
}

} // namespace fulvex
