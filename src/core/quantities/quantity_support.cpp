#include "quantity_support.h"

#include "instant_errors.h"
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

namespace {

/// How uncertain a mid level is that lies between the states, in their unit.
double midUncertainty(const ReferenceLevels &levels)
{
    if (!(levels.states.amplitude() > 0)) return 0;
    const double share = (levels.mid - levels.states.low) / levels.states.amplitude();
    return std::hypot((1 - share) * levels.states.lowUncertainty, share * levels.states.highUncertainty);
}

} // namespace

InstantParts instantParts(QuantityInputs &in, EdgeChoice choice)
{
    const auto edges = in.edges();
    const ReferenceLevels levels = in.levels();
    const double mid = in.percentLevels() ? midUncertainty(levels) : 0;
    InstantParts parts;
    const double noise = sampleNoise(*in.samples(), in.range());
    int directions = 0;
    for (const bool rising : {true, false}) {
        if (!chosen(choice, rising)) continue;
        const InstantErrors errors = instantErrors(*in.samples(), *edges, rising);
        if (!(errors.slope > 0)) continue;
        const double perUnit = in.axis().interval / errors.slope;
        parts.levels += (rising ? 1 : -1) * mid * perUnit;
        parts.quantisation = std::max(parts.quantisation, stepUncertainty(in) * perUnit);
        parts.noise = std::max(parts.noise, noise * perUnit);
        parts.straight += errors.straight * in.axis().interval;
        ++directions;
    }
    if (directions == 2) parts.levels /= 2, parts.straight /= 2;
    return parts;
}

void addNoise(Measured &measured, double single)
{
    const std::size_t count = measured.population.size();
    if (count < 4) measured.parts.push_back({"noise", single / std::sqrt(double(std::max<std::size_t>(1, count)))});
}

void addInstants(Measured &measured, const InstantParts &from, const InstantParts &to, bool sameLevel, double factor)
{
    const double count = std::max<double>(1, double(measured.population.size()));
    const double levels = sameLevel ? to.levels - from.levels : std::hypot(to.levels, from.levels);
    measured.parts.push_back({"levels", std::abs(levels) * factor});
    measured.parts.push_back(
        {"quantisation", std::hypot(from.quantisation, to.quantisation) * factor / std::sqrt(count)});
    addNoise(measured, std::hypot(from.noise, to.noise) * factor);
    // The other way of interpolation would differ by so much: as of a rectangular distribution.
    measured.parts.push_back({"interpolation", std::abs(to.straight - from.straight) * factor / std::sqrt(3.0)});
}

Measured ofSamples(const AmplitudeSurvey &survey, double resolution, double (*of)(const AmplitudeStats &))
{
    const AmplitudeStats &all = survey.stats;
    const auto scatter = jackknifeUncertainty(
        survey.stretches.size(), [&](std::size_t part) { return of(all.without(survey.stretches[part].stats)); });
    const double steps = resolution > 0 ? std::max(1.0, all.acRms() / resolution) : 1;
    const double plain = all.acRms() / std::sqrt(double(all.count));
    return Measured::one(
        of(all), {{"scatter", scatter.value_or(plain)}, {"quantisation", resolution / std::sqrt(12.0) / steps}});
}

} // namespace fulvex
