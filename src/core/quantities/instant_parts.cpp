#include "instant_parts.h"

#include "pulse_populations.h"
#include "quantity_support.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

double StateShifts::total() const
{
    return std::hypot(low, high);
}

StateShifts levelShifts(QuantityInputs &in, double level)
{
    const StateLevels states = in.levels().states;
    if (!in.percentLevels() || !(states.amplitude() > 0)) return {};
    const double share = (level - states.low) / states.amplitude();
    const StateUncertainty known = in.stateUncertainty();
    return {(1 - share) * known.low, share * known.high};
}

namespace {

/// How much later the last passage of a noisy ramp is than that of the ramp alone, mean, in samples: `noise`
/// from sample to sample over the slope. Fitted to a simulation of white noise from 0.1 to 80, to 4 % of `noise`.
double lastPassage(double noise)
{
    return 0.125 * noise * std::log1p(3.5 * std::pow(noise, 3.5));
}

/// How much longer the windowed sinc makes a transition that takes so many samples by it, mean over all phases, in
/// samples: what is steeper than half the sample rate can show looks as steep as that, an ideal step too. `share`: of
/// the amplitude, from the one level to the other. Fitted to a simulation of Gaussian edges of 0 to 2 samples between
/// levels of 30 and 70 % to 5 and 95 %, to a fifth of it.
double longerBySinc(double samples, double share)
{
    const double ofStep = share * (0.85 + 0.12 * share * share), times = samples / ofStep;
    return ofStep * std::exp(1.04 - 1.03 * times * times);
}

double meanOf(const std::vector<double> &places)
{
    return std::accumulate(places.begin(), places.end(), 0.0) / double(std::max<std::size_t>(1, places.size()));
}

} // namespace

InstantParts partsAt(QuantityInputs &in, const std::vector<double> &places, bool bySinc, const StateShifts &level,
                     bool rising)
{
    InstantParts parts;
    const double noise = in.noise();
    const InstantErrors errors = instantErrors(*in.samples(), places, bySinc, noise);
    if (!(errors.slope > 0)) return parts;
    const double perUnit = in.axis().interval / errors.slope;
    parts.levels = level.times(rising ? perUnit : -perUnit);
    parts.quantisation = stepUncertainty(in) * perUnit;
    parts.noise = instantNoise(noise, errors.slope, bySinc) * in.axis().interval;
    parts.late = lastPassage(noise / errors.slope) * in.axis().interval;
    parts.interpolation = errors.straight * in.axis().interval;
    return parts;
}

InstantParts edgeParts(QuantityInputs &in, EdgeChoice choice)
{
    const StateShifts mid = levelShifts(in, in.levels().mid);
    const auto edges = in.edges();
    const auto of = [&](bool rising) {
        return partsAt(in, somePlaces(*edges, rising), edges->interpolatedBySinc, mid, rising);
    };
    if (choice != EdgeChoice::both) return of(choice == EdgeChoice::rising);
    const InstantParts up = of(true), down = of(false);
    return {(up.levels + down.levels).times(0.5), std::max(up.quantisation, down.quantisation),
            (up.interpolation + down.interpolation) / 2, std::max(up.noise, down.noise), (up.late + down.late) / 2};
}

InstantParts transitionParts(QuantityInputs &in, const Population &transitions, bool rising, bool ends)
{
    const ReferenceLevels levels = in.levels();
    const bool bySinc = in.edges()->interpolatedBySinc;
    const std::vector<double> places = somePlaces(transitions, ends);
    InstantParts parts =
        partsAt(in, places, bySinc, levelShifts(in, rising == ends ? levels.high : levels.low), rising);
    if (ends) parts.late = -parts.late; // the first passage counts
    if (bySinc && levels.states.amplitude() > 0) {
        const double share = (levels.high - levels.low) / levels.states.amplitude();
        const double lasts = std::abs(meanOf(places) - meanOf(somePlaces(transitions, !ends)));
        parts.interpolation = (ends ? 0.5 : -0.5) * longerBySinc(lasts, share) * in.axis().interval;
    }
    return parts;
}

void addNoise(Measured &measured, double single, double alike)
{
    const std::size_t count = measured.population.size();
    const double each = count < 4 ? single / std::sqrt(double(std::max<std::size_t>(1, count))) : 0;
    if (count < 4 || alike > 0) measured.parts.push_back({"noise", std::hypot(each, alike)});
}

void addInstants(Measured &measured, const InstantParts &from, const InstantParts &to, double levels, double factor)
{
    const double count = std::max<double>(1, double(measured.population.size()));
    factor = std::abs(factor);
    measured.parts.push_back({"levels", levels * factor});
    measured.parts.push_back(
        {"quantisation", std::hypot(from.quantisation, to.quantisation) * factor / std::sqrt(count)});
    // Without noise, and but for the way of interpolation, it would differ by so much: as of rectangular
    // distributions.
    addNoise(measured, std::hypot(from.noise, to.noise) * factor,
             std::abs(to.late - from.late) * factor / std::sqrt(3.0));
    measured.parts.push_back(
        {"interpolation", std::abs(to.interpolation - from.interpolation) * factor / std::sqrt(3.0)});
}

void addInstantsOfOne(Measured &measured, const InstantParts &from, const InstantParts &to, double factor)
{
    addInstants(measured, from, to, (to.levels - from.levels).total(), factor);
}

void addInstantsOfTwo(Measured &measured, const InstantParts &from, const InstantParts &to, double factor)
{
    addInstants(measured, from, to, std::hypot(to.levels.total(), from.levels.total()), factor);
}

Measured transitionTime(QuantityInputs &in, EdgeChoice direction)
{
    const bool rising = direction == EdgeChoice::rising;
    Measured found = orReason(transitionTimes(in.transitions(direction), in.axis()),
                              wants(in, rising ? "no rising transition reaches both the low and the high level"
                                               : "no falling transition reaches both the high and the low level"));
    if (found.reason.empty())
        addInstantsOfOne(found, transitionParts(in, found.population, rising, false),
                         transitionParts(in, found.population, rising, true));
    return found;
}

} // namespace fulvex
