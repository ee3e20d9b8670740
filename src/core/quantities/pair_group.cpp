#include "instant_parts.h"
#include "jackknife.h"
#include "number_text.h"
#include "pair_populations.h"
#include "pulse_populations.h"
#include "quantity_support.h"
#include "quantity_table.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

using In = QuantityInputs &;

const char *words(EdgeChoice choice)
{
    return choice == EdgeChoice::rising ? "rising" : choice == EdgeChoice::falling ? "falling" : "any";
}

ChosenEdges own(In in, EdgeChoice choice)
{
    return {in.edges(), in.axis(), choice};
}

/// Says between which edges of which channels something is taken.
void noteEdges(In in, EdgeChoice from, EdgeChoice to, const char *which)
{
    in.note("between", std::string(words(from)) + " edges of " + in.entry().source + " and the " + which + " " +
                           words(to) + " edge of " + in.entry().to);
}

std::string noneMatches(In in)
{
    return edgesSeen(in) + std::to_string(in.to().edges()->size()) + " in " + in.entry().to +
           "; no chosen edge of one has a chosen edge of the other within half a period: check the edges' directions, "
           "the region, and that both captures overlap in time";
}

struct Delayed {
    Population population;
    Statistics periods; ///< of the source
};

Delayed delayed(In in)
{
    const EdgeChoice from = in.edge(EdgeChoice::rising), to = in.toEdge(EdgeChoice::rising);
    noteEdges(in, from, to, "nearest");
    Delayed found;
    const ChosenEdges own{in.edges(), in.axis(), from};
    found.periods =
        statisticsOf(periods(own.edges, own.axis, from == EdgeChoice::both ? EdgeChoice::rising : from, in.progress()));
    std::optional<double> period;
    if (found.periods.mean) period = *found.periods.mean / own.axis.interval;
    found.population = delays(own, {in.to().edges(), in.to().axis(), to}, period);
    std::size_t all = 0;
    for (std::size_t i = 0; i < own.edges->size(); ++i) all += chosen(from, own.edges->isRising(i));
    in.note("paired", std::to_string(found.population.size()) + " of " + std::to_string(all) + " edges of " +
                          in.entry().source + (period ? "; the others have none within half a period" : ""));
    return found;
}

Measured delay(In in)
{
    Measured found = orReason(delayed(in).population, {});
    if (found.population.size() == 0) return Measured::none(noneMatches(in));
    addInstantsOfTwo(found, edgeParts(in, in.edge(EdgeChoice::rising)),
                     edgeParts(in.to(), in.toEdge(EdgeChoice::rising)));
    return found;
}

Measured triggerJitter(In in)
{
    Population found = delayed(in).population;
    if (found.size() == 0) return Measured::none(noneMatches(in));
    if (found.size() < 2)
        return Measured::none("one edge has a trigger edge beside it; jitter needs two: widen the region");
    Measured measured = orReason(deviations(found), {});
    addNoise(measured, std::hypot(edgeParts(in, in.edge(EdgeChoice::rising)).noise,
                                  edgeParts(in.to(), in.toEdge(EdgeChoice::rising)).noise));
    return measured;
}

Measured phase(In in)
{
    const Delayed found = delayed(in);
    if (found.population.size() == 0) return Measured::none(noneMatches(in));
    if (!found.periods.mean) return Measured::none(wants(in, "a phase needs a period: two edges of one direction"));
    const double period = *found.periods.mean;
    Measured made = orReason(phases(found.population, period), {});
    addInstantsOfTwo(made, edgeParts(in, in.edge(EdgeChoice::rising)),
                     edgeParts(in.to(), in.toEdge(EdgeChoice::rising)), 360 / period);
    if (found.periods.uncertainty)
        made.parts.push_back(
            {"period", std::abs(*statisticsOf(made.population).mean) / period * *found.periods.uncertainty});
    return made;
}

/// From one channel's ac rms to another's, over the same time. What makes both scatter alike, such as a part of a cycle
/// at the end, does not move their ratio: it is told by leaving out each stretch of both.
Measured ratioOfRms(const AmplitudeSurvey &from, const AmplitudeSurvey &to, double fromStep, double toStep)
{
    const auto constant = [](const AmplitudeSurvey &survey) { return survey.stats.minimum == survey.stats.maximum; };
    const double input = constant(from) ? 0 : from.stats.acRms(), output = constant(to) ? 0 : to.stats.acRms();
    Measured found = Measured::one(output / input);
    const std::size_t parts = from.stretches.size() == to.stretches.size() ? from.stretches.size() : 0;
    if (const auto scatter = jackknifeUncertainty(parts, [&](std::size_t part) {
            const auto without = [part](const AmplitudeSurvey &survey) {
                return survey.stats.without(survey.stretches[part].stats).acRms();
            };
            return without(to) / without(from);
        }))
        found.parts.push_back({"scatter", *scatter});
    found.parts.push_back(
        {"quantisation",
         std::hypot(sharedStep(toStep, to.stats), found.value * sharedStep(fromStep, from.stats)) / input});
    return found;
}

Measured ratioOfStates(In in)
{
    const StateLevels from = in.levels().states, to = in.to().levels().states;
    const double gain = to.amplitude() / from.amplitude();
    const double known =
        std::hypot(in.to().stateUncertainty().amplitude, gain * in.stateUncertainty().amplitude) / from.amplitude();
    return Measured::one(gain, {{"levels", known}});
}

Measured gain(In in)
{
    const bool byStates = in.entry().of == "amplitude";
    const auto found = [&] {
        if (byStates) return ratioOfStates(in);
        const auto [from, to] = in.surveysInCommon();
        return ratioOfRms(*from, *to, in.resolution(), in.to().resolution());
    }();
    in.note("gain", byStates ? "by state levels" : "by ac rms over the time that both channels have");
    if (!std::isfinite(found.value))
        throw Unmeasurable{in.entry().source + " is constant: a gain needs a signal at the input"};
    return found;
}

Measured gainInDecibels(In in)
{
    Measured found = gain(in);
    if (!(found.value > 0)) return Measured::none(in.entry().to + " is constant: a gain of 0 has no dB");
    for (UncertaintyPart &part : found.parts) part.value *= 20 / std::numbers::ln10 / found.value;
    found.value = 20 * std::log10(found.value);
    return found;
}

Measured against(In in, Population (*times)(const ChosenEdges &, const ChosenEdges &), const char *which)
{
    const EdgeChoice data = in.edge(EdgeChoice::both), tick = in.toEdge(EdgeChoice::rising);
    in.note("between", std::string(which) + " " + words(data) + " edge of " + in.entry().source + " and each " +
                           words(tick) + " edge of " + in.entry().to);
    in.note("what matters", "the minimum");
    Measured found =
        orReason(times(own(in, data), own(in.to(), tick)),
                 edgesSeen(in) + std::to_string(in.to().edges()->size()) + " in " + in.entry().to +
                     "; no chosen edges lie beside each other: check the edges' directions, the region, and that "
                     "both captures overlap in time");
    if (found.reason.empty()) addInstantsOfTwo(found, edgeParts(in, data), edgeParts(in.to(), tick));
    return found;
}

Measured setupTime(In in)
{
    return against(in, setupTimes, "the last");
}
Measured holdTime(In in)
{
    return against(in, holdTimes, "the first");
}

Measured deviceRiseTime(In in)
{
    const EdgeChoice direction = in.edge(EdgeChoice::rising);
    if (direction == EdgeChoice::both) throw Unmeasurable{"rise and fall are not one time: choose an \"edge\""};
    const Measured input = transitionTime(in, direction), output = transitionTime(in.to(), direction);
    for (const Measured *one : {&input, &output}) {
        if (!one->reason.empty()) return *one;
    }
    const Statistics of = input.statistics(), at = output.statistics();
    const double square = *at.mean * *at.mean - *of.mean * *of.mean;
    const auto text = [](double time) { return quantityText(time, "s", {}, 4); };
    in.note("made of", "the root of the difference of squares: output " + text(*at.mean) + ", input " + text(*of.mean));
    if (!(square > 0))
        return Measured::none("the input is not faster: " + text(*of.mean) + " beside " + text(*at.mean) +
                              " at the output; take a faster source");
    const double own = std::sqrt(square);
    Measured found = Measured::one(own);
    for (const auto &[times, factor] : {std::pair(&of, *of.mean / own), std::pair(&at, *at.mean / own)}) {
        for (const UncertaintyPart &part : times->parts) {
            const auto same = std::find_if(found.parts.begin(), found.parts.end(), [&](const UncertaintyPart &other) {
                return std::string_view(other.from) == part.from;
            });
            if (same == found.parts.end())
                found.parts.push_back({part.from, part.value * factor});
            else
                same->value = std::hypot(same->value, part.value * factor);
        }
    }
    return found;
}

constexpr Quantity pairTable[] = {
    {"delay", "delay", "s", Needs::source, delay, "to region levels interpolate edge to_edge"},
    {"phase", "phase", "deg", Needs::source, phase, "to region levels interpolate edge to_edge"},
    {"gain", "gain", "V/V", Needs::source, gain, "to region of"},
    {"gain_db", "gain in dB", "dB", Needs::source, gainInDecibels, "to region of"},
    {"setup_time", "setup time", "s", Needs::source, setupTime, "to region levels interpolate edge to_edge"},
    {"hold_time", "hold time", "s", Needs::source, holdTime, "to region levels interpolate edge to_edge"},
    {"trigger_jitter", "trigger jitter", "s", Needs::source, triggerJitter,
     "to region levels interpolate edge to_edge"},
    {"device_rise_time", "device rise time", "s", Needs::source, deviceRiseTime, "to region levels interpolate edge"},
};

} // namespace

QuantityGroup pairQuantities()
{
    return {"two channels", pairTable};
}

} // namespace fulvex
