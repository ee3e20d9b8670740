#include "quantity_support.h"

#include "jackknife.h"
#include "pulse_populations.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

/// A population, or the reason why it is empty.
Measured orReason(Population population, const std::string &reason)
{
    if (population.size() == 0) return Measured::none(reason);
    Measured measured;
    measured.population = std::move(population);
    return measured;
}

std::string edgesSeen(QuantityInputs &in)
{
    const auto edges = in.edges();
    return std::to_string(edges->size()) + (edges->size() == 1 ? " crossing" : " crossings") +
           " of the mid level in the region; ";
}

std::string wants(QuantityInputs &in, const char *what)
{
    return edgesSeen(in) + what + ": widen the region, take a longer capture, or check the levels";
}

Population allPeriods(QuantityInputs &in)
{
    return periods(in.edges(), in.axis(), in.edge(EdgeChoice::rising), in.progress());
}

double stepUncertainty(QuantityInputs &in)
{
    return in.resolution() / std::sqrt(12.0);
}

double sharedStep(double resolution, const AmplitudeStats &stats)
{
    if (!(resolution > 0)) return 0;
    return resolution / std::sqrt(12.0) / std::max(1.0, stats.acRms() / resolution);
}

Measured ofSamples(const AmplitudeSurvey &survey, double resolution, double (*of)(const AmplitudeStats &))
{
    const AmplitudeStats &all = survey.stats;
    const auto scatter = jackknifeUncertainty(
        survey.stretches.size(), [&](std::size_t part) { return of(all.without(survey.stretches[part].stats)); });
    const double plain = all.acRms() / std::sqrt(double(all.count));
    return Measured::one(of(all),
                         {{"scatter", scatter.value_or(plain)}, {"quantisation", sharedStep(resolution, all)}});
}

} // namespace fulvex
