#include "formula_moments.h"

#include "lap_fold.h"

namespace fulvex {

FormulaMoments momentsOf(const Measured &measured, const SourcePtr &channel)
{
    FormulaMoments found{channel->axis(), channel, {}, {}};
    if (measured.single) return found;
    const Population &population = measured.population;
    for (std::size_t i = 0; i < population.size(); ++i) {
        found.positions.push_back(population.axis.positionOn(found.axis, population.position[i]));
        found.values.push_back(population.value[i]);
    }
    return found;
}

FormulaMoments momentsOf(const UnitIntervalMap &map)
{
    FormulaMoments found{map.axis(), nullptr, {}, {}};
    found.positions.resize(std::size_t(map.unitIntervals() + 1 - map.firstSettled()));
    map.positionsOf(double(map.firstSettled()), found.positions);
    return found;
}

FormulaMoments momentsOf(const UnitIntervalMap &map, const EyeRule &rule)
{
    FormulaMoments found{map.axis(), nullptr, {}, {}};
    for (const std::int64_t begin : lapBegins(map, rule)) found.positions.push_back(map.positionOf(double(begin)));
    found.lasts = map.period() * rule.laps.lasts;
    return found;
}

} // namespace fulvex
