#include "pulse_populations.h"

#include "core_loop.h"

#include <algorithm>

namespace fulvex {

namespace {

/// Looks now and then whether the work is still wanted.
void glance(Progress &progress, std::size_t edge)
{
    if (edge % 65536 == 0) progress.advance(0);
}

/// Calls `use(from, to)` for each pair of an edge and its `ahead`-th follower without a gap between them.
template <typename Use>
void forSpans(const EdgeList &edges, std::size_t ahead, Progress &progress, Use &&use)
{
    for (std::size_t from = 0; from + ahead < edges.size(); ++from) {
        glance(progress, from);
        bool whole = true;
        for (std::size_t i = from + 1; i <= from + ahead; ++i) whole &= !edges.isAfterGap(i);
        if (whole) use(from, from + ahead);
    }
}

/// Calls `fill(first, last)` for runs of `count`, on all cores.
template <typename Fill>
void inRuns(std::size_t count, const Fill &fill)
{
    constexpr std::size_t chunk = 1 << 16;
    onAllCores(std::int64_t((count + chunk - 1) / chunk), [&](std::int64_t index) {
        fill(std::size_t(index) * chunk, std::min(count, (std::size_t(index) + 1) * chunk));
    });
}

} // namespace

Population periods(const EdgeList &edges, const TimeAxis &axis, EdgeChoice edge, Progress &progress)
{
    Population found(axis);
    found.reserve(edges.size() / 2);
    forSpans(edges, 2, progress, [&](std::size_t from, std::size_t to) {
        if (!chosen(edge, edges.isRising(from))) return;
        const double period = edges.positions[to] - edges.positions[from];
        found.add(edges.positions[from], period, period * axis.interval);
    });
    return found;
}

Population widths(const EdgeList &edges, const TimeAxis &axis, bool positive, Progress &progress)
{
    Population found(axis);
    found.reserve(edges.size() / 2);
    forSpans(edges, 1, progress, [&](std::size_t from, std::size_t to) {
        if (edges.isRising(from) != positive) return;
        const double width = edges.positions[to] - edges.positions[from];
        found.add(edges.positions[from], width, width * axis.interval);
    });
    return found;
}

Population dutyCycles(const EdgeList &edges, const TimeAxis &axis, Progress &progress)
{
    Population found(axis);
    found.reserve(edges.size() / 2);
    forSpans(edges, 2, progress, [&](std::size_t from, std::size_t to) {
        if (!edges.isRising(from)) return;
        const double period = edges.positions[to] - edges.positions[from];
        found.add(edges.positions[from], period, 100 * (edges.positions[from + 1] - edges.positions[from]) / period);
    });
    return found;
}

Population reciprocal(Population population)
{
    for (double &value : population.value) value = 1 / value;
    return population;
}

Population deviations(Population population)
{
    if (population.size() == 0) return population;
    const double mean = *statisticsOf(population).mean;
    for (double &value : population.value) value -= mean;
    return population;
}

Population successiveDifferences(const Population &population)
{
    Population found(population.axis);
    for (std::size_t i = 1; i < population.size(); ++i) {
        const double ended = population.position[i - 1] + population.span[i - 1];
        if (std::abs(population.position[i] - ended) > 0.01 * population.span[i]) continue;
        found.add(population.position[i], population.span[i], population.value[i] - population.value[i - 1]);
    }
    return found;
}

Population transitionTimes(const std::vector<Transition> &transitions, const TimeAxis &axis)
{
    Population found(axis);
    found.resize(transitions.size());
    inRuns(transitions.size(), [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            found.position[i] = transitions[i].start;
            found.span[i] = transitions[i].stop - transitions[i].start;
            found.value[i] = found.span[i] * axis.interval;
        }
    });
    return found;
}

Population slewRates(const std::vector<Transition> &transitions, const TimeAxis &axis, double levelDifference)
{
    Population found = transitionTimes(transitions, axis);
    for (std::size_t i = 0; i < found.size(); ++i)
        found.value[i] = (transitions[i].rising ? 1 : -1) * levelDifference / found.duration(i);
    return found;
}

Population timeIntervalErrors(const NumberedEdges &numbered, const UnitIntervalMap &map, EdgeChoice edge,
                              Progress &progress)
{
    const EdgeList &edges = numbered.edges();
    const double unit = map.period() * map.axis().interval;
    std::size_t settled = 0; // numbers do not fall
    while (settled < edges.size() && numbered.numberOf(settled) < map.firstSettled()) ++settled;
    Population all(map.axis());
    all.resize(edges.size() - settled);
    inRuns(all.size(), [&](std::size_t first, std::size_t last) {
        glance(progress, 0);
        numbered.lateness(map, settled + first, std::span(all.value).subspan(first, last - first));
        for (std::size_t i = first; i < last; ++i) {
            all.position[i] = edges.positions[settled + i];
            all.value[i] *= unit;
        }
    });
    if (edge == EdgeChoice::both) return all;
    Population found(map.axis());
    found.reserve(all.size() / 2 + 1);
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (chosen(edge, edges.isRising(settled + i))) found.add(all.position[i], 0, all.value[i]);
    }
    return found;
}

} // namespace fulvex
