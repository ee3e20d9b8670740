#include "pulse_populations.h"

#include "value_runs.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <optional>

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

/// Positions of some edges, in order: a view of all edges' where they stand evenly among them, as they do without gaps.
class Places {
public:
    explicit Places(std::shared_ptr<const EdgeList> edges) : m_edges(std::move(edges)) {}
    void add(std::size_t edge)
    {
        if (m_count == 1) m_step = edge - m_first;
        if (m_count == 0)
            m_first = edge;
        else if (m_own.empty() && edge != m_first + m_count * m_step)
            for (std::size_t i = 0; i < m_count; ++i) m_own.push_back(m_edges->positions[m_first + i * m_step]);
        if (!m_own.empty()) m_own.push_back(m_edges->positions[edge]);
        ++m_count;
    }
    Column take()
    {
        if (!m_own.empty() || m_count == 0) return Column(std::move(m_own));
        return Column::view(m_edges, m_edges->positions.data() + m_first, m_count, m_step);
    }

private:
    std::shared_ptr<const EdgeList> m_edges;
    std::size_t m_first = 0, m_step = 1, m_count = 0;
    std::vector<double> m_own;
};

/// Of edges without a gap between them, which alternate: those of one direction, or all, that have `ahead` behind them.
struct EvenEdges {
    std::size_t first, step, count;
};

std::optional<EvenEdges> evenEdges(const EdgeList &edges, std::size_t ahead, EdgeChoice choice, Progress &progress)
{
    std::atomic<bool> broken = false;
    inRuns(edges.size(), [&](std::size_t, std::size_t first, std::size_t last) {
        glance(progress, 0);
        std::uint8_t any = 0;
        for (std::size_t i = first; i < last; ++i) any |= edges.flags[i] & EdgeList::afterGap;
        if (any) broken = true;
    });
    if (broken || edges.size() == 0) return {};
    const std::size_t first = chosen(choice, edges.isRising(0)) ? 0 : 1, step = choice == EdgeChoice::both ? 1 : 2;
    const std::size_t last = edges.size() > first + ahead ? edges.size() - ahead - first : 0;
    return EvenEdges{first, step, (last + step - 1) / step};
}

/// From chosen edges to the `ahead`-th ones behind them, in s.
Population spansOf(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, std::size_t ahead,
                   EdgeChoice choice, Progress &progress)
{
    if (const auto even = evenEdges(*edges, ahead, choice, progress)) {
        const Column from = Column::view(edges, edges->positions.data() + even->first, even->count, even->step);
        const Column span = from.differences(ahead);
        return {axis, from, span, span.times(axis.interval)};
    }
    Places places(edges);
    std::vector<double> spans;
    forSpans(*edges, ahead, progress, [&](std::size_t from, std::size_t to) {
        if (!chosen(choice, edges->isRising(from))) return;
        places.add(from);
        spans.push_back(edges->positions[to] - edges->positions[from]);
    });
    const Column span(std::move(spans));
    return {axis, places.take(), span, span.times(axis.interval)};
}

/// From chosen edges to the next of the same direction, where those need not take turns.
Population unlikeSpans(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, EdgeChoice choice,
                       Progress &progress)
{
    PopulationBuilder found(axis);
    std::optional<double> before[2];
    for (std::size_t i = 0; i < edges->size(); ++i) {
        glance(progress, i);
        const bool rising = edges->isRising(i);
        if (edges->isAfterGap(i)) before[0].reset(), before[1].reset();
        const double at = edges->positions[i];
        if (const auto from = before[rising]; from && chosen(choice, rising))
            found.add(*from, at - *from, (at - *from) * axis.interval);
        before[rising] = at;
    }
    return found.take();
}

/// The same occurrences with other values.
template <typename Make>
Population withValues(const Population &of, Make &&make)
{
    RawVector<double> values(of.size());
    inRuns(values.size(), [&](std::size_t, std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) values[i] = make(i);
    });
    return {of.axis, of.position, of.span, Column(std::move(values))};
}

} // namespace

Population periods(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, EdgeChoice edge,
                   Progress &progress)
{
    return edges->alternate() ? spansOf(edges, axis, 2, edge, progress) : unlikeSpans(edges, axis, edge, progress);
}

Population widths(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, bool positive, Progress &progress)
{
    return spansOf(edges, axis, 1, positive ? EdgeChoice::rising : EdgeChoice::falling, progress);
}

Population dutyCycles(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, Progress &progress)
{
    const double *at = edges->positions.data();
    if (const auto even = evenEdges(*edges, 2, EdgeChoice::rising, progress)) {
        RawVector<double> values(even->count);
        inRuns(values.size(), [&](std::size_t, std::size_t first, std::size_t last) {
            glance(progress, 0);
            const double *from = at + even->first + 2 * first;
            for (std::size_t i = first; i < last; ++i, from += 2)
                values[i] = 100 * (from[1] - from[0]) / (from[2] - from[0]);
        });
        const Column from = Column::view(edges, at + even->first, even->count, 2);
        return {axis, from, from.differences(2), Column(std::move(values))};
    }
    Places places(edges);
    std::vector<double> spans, values;
    forSpans(*edges, 2, progress, [&](std::size_t from, std::size_t to) {
        if (!edges->isRising(from)) return;
        const double period = edges->positions[to] - edges->positions[from];
        places.add(from);
        spans.push_back(period);
        values.push_back(100 * (edges->positions[from + 1] - edges->positions[from]) / period);
    });
    return {axis, places.take(), Column(std::move(spans)), Column(std::move(values))};
}

Population reciprocal(const Population &population)
{
    return {population.axis, population.position, population.span, population.value.inverse()};
}

Population deviations(const Population &population)
{
    if (population.size() == 0) return population;
    const double mean = *statisticsOf(population).mean;
    return withValues(population, [&](std::size_t i) { return population.value[i] - mean; });
}

Population successiveDifferences(const Population &population)
{
    PopulationBuilder found(population.axis);
    for (std::size_t i = 1; i < population.size(); ++i) {
        const double ended = population.position[i - 1] + population.span[i - 1];
        if (std::abs(population.position[i] - ended) > 0.01 * population.span[i]) continue;
        found.add(population.position[i], population.span[i], population.value[i] - population.value[i - 1]);
    }
    return found.take();
}

Population transitionTimes(const std::shared_ptr<const Transitions> &transitions, const TimeAxis &axis)
{
    const auto viewOf = [&](const RawVector<double> &numbers) {
        return Column::view(transitions, numbers.data(), numbers.size());
    };
    const Column span = viewOf(transitions->durations);
    return {axis, viewOf(transitions->starts), span, span.times(axis.interval)};
}

Population slewRates(const std::shared_ptr<const Transitions> &transitions, const TimeAxis &axis,
                     double levelDifference)
{
    const Population all = transitionTimes(transitions, axis);
    const bool oneWay = std::equal(transitions->rising.begin() + (transitions->rising.empty() ? 0 : 1),
                                   transitions->rising.end(), transitions->rising.begin());
    if (oneWay && all.size() > 0)
        return {axis, all.position, all.span,
                all.value.inverse().times(transitions->rising[0] ? levelDifference : -levelDifference)};
    return withValues(
        all, [&](std::size_t i) { return (transitions->rising[i] ? 1 : -1) * levelDifference / all.duration(i); });
}

Population timeIntervalErrors(const NumberedEdges &numbered, const UnitIntervalMap &map, EdgeChoice edge,
                              Progress &progress)
{
    const EdgeList &edges = numbered.edges();
    const double unit = map.period() * map.axis().interval;
    std::size_t settled = 0; // numbers do not fall
    while (settled < edges.size() && numbered.numberOf(settled) < map.firstSettled()) ++settled;
    RawVector<double> late(edges.size() - settled);
    inRuns(late.size(), [&](std::size_t, std::size_t first, std::size_t last) {
        glance(progress, 0);
        numbered.lateness(map, settled + first, std::span(late).subspan(first, last - first));
        for (std::size_t i = first; i < last; ++i) late[i] *= unit;
    });
    const auto found = [&](const Column &position, Column value) {
        return Population{map.axis(), position, Column::constant(0, position.size()), std::move(value)};
    };
    if (edge == EdgeChoice::both) {
        const Column position = Column::view(numbered.shared(), edges.positions.data() + settled, late.size());
        return found(position, Column(std::move(late)));
    }
    Places places(numbered.shared());
    std::vector<double> values;
    for (std::size_t i = 0; i < late.size(); ++i) {
        if (!chosen(edge, edges.isRising(settled + i))) continue;
        places.add(settled + i);
        values.push_back(late[i]);
    }
    return found(places.take(), Column(std::move(values)));
}

} // namespace fulvex
