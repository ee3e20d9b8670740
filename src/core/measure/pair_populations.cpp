#include "pair_populations.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

RawVector<double> ChosenEdges::on(const TimeAxis &other) const
{
    RawVector<double> positions;
    positions.reserve(edges->size());
    for (std::size_t i = 0; i < edges->size(); ++i) {
        if (!chosen(choice, edges->isRising(i))) continue;
        positions.push_back(axis == other ? edges->positions[i] : axis.positionOn(other, edges->positions[i]));
    }
    return positions;
}

Population delays(const ChosenEdges &from, const ChosenEdges &to, std::optional<double> period)
{
    const RawVector<double> own = from.on(from.axis), others = to.on(from.axis);
    PopulationBuilder found(from.axis);
    std::size_t next = 0; // the first that is not before
    for (const double at : own) {
        while (next < others.size() && others[next] < at) ++next;
        double nearest = INFINITY;
        if (next > 0) nearest = others[next - 1] - at;
        if (next < others.size() && others[next] - at <= std::abs(nearest)) nearest = others[next] - at;
        if (!(std::abs(nearest) <= (period ? *period / 2 : 1e300))) continue;
        found.add(std::min(at, at + nearest), std::abs(nearest), nearest * from.axis.interval);
    }
    return found.take();
}

namespace {

/// Calls `add(moves, tick, next, found)` for each clock edge; `next` is the place among the data's edges, `moves`, of
/// the first at or after it, their size where there is none.
template <typename Add>
Population besideTicks(const ChosenEdges &data, const ChosenEdges &clock, const Add &add)
{
    const RawVector<double> moves = data.on(data.axis), ticks = clock.on(data.axis);
    PopulationBuilder found(data.axis);
    std::size_t next = 0;
    for (const double tick : ticks) {
        while (next < moves.size() && moves[next] < tick) ++next;
        add(moves, tick, next, found);
    }
    return found.take();
}

} // namespace

Population setupTimes(const ChosenEdges &data, const ChosenEdges &clock)
{
    return besideTicks(data, clock, [&](const auto &moves, double tick, std::size_t next, PopulationBuilder &found) {
        if (next == 0) return;
        const double lasts = tick - moves[next - 1];
        found.add(moves[next - 1], lasts, lasts * data.axis.interval);
    });
}

Population holdTimes(const ChosenEdges &data, const ChosenEdges &clock)
{
    return besideTicks(data, clock, [&](const auto &moves, double tick, std::size_t next, PopulationBuilder &found) {
        if (next == moves.size()) return;
        const double lasts = moves[next] - tick;
        found.add(tick, lasts, lasts * data.axis.interval);
    });
}

Population phases(const Population &delays, double period)
{
    double x = 0, y = 0;
    const double turn = 2 * std::numbers::pi / period;
    delays.value.each(0, delays.size(), [&](double delay) {
        x += std::cos(turn * delay);
        y += std::sin(turn * delay);
    });
    const double about = std::atan2(y, x) / turn;
    std::vector<double> degrees;
    double sum = 0;
    delays.value.each(0, delays.size(), [&](double delay) {
        degrees.push_back(360 / period * (delay - period * std::round((delay - about) / period)));
        sum += degrees.back();
    });
    const double turns = std::ceil((sum / double(degrees.size()) - 180) / 360); // the mean goes into (-180, 180]
    for (double &one : degrees) one -= 360 * turns;
    return {delays.axis, delays.position, delays.span, Column(std::move(degrees))};
}

} // namespace fulvex
