#include "number_text.h"
#include "pair_populations.h"
#include "pulse_populations.h"
#include "quantity_support.h"
#include "quantity_table.h"

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
    addInstants(found, instantParts(in, in.edge(EdgeChoice::rising)),
                instantParts(in.to(), in.toEdge(EdgeChoice::rising)), false);
    return found;
}

Measured triggerJitter(In in)
{
    Population found = delayed(in).population;
    if (found.size() == 0) return Measured::none(noneMatches(in));
    if (found.size() < 2)
        return Measured::none("one edge has a trigger edge beside it; jitter needs two: widen the region");
    return orReason(deviations(found), {});
}

Measured phase(In in)
{
    const Delayed found = delayed(in);
    if (found.population.size() == 0) return Measured::none(noneMatches(in));
    if (!found.periods.mean) return Measured::none(wants(in, "a phase needs a period: two edges of one direction"));
    const double period = *found.periods.mean;
    Measured made = orReason(phases(found.population, period), {});
    addInstants(made, instantParts(in, in.edge(EdgeChoice::rising)),
                instantParts(in.to(), in.toEdge(EdgeChoice::rising)), false, 360 / period);
    if (found.periods.uncertainty)
        made.parts.push_back(
            {"period", std::abs(*statisticsOf(made.population).mean) / period * *found.periods.uncertainty});
    return made;
}

struct Ratio {
    double value, uncertainty;
    const char *from; ///< the uncertainty
};

Ratio ratio(In in)
{
    double from, fromUncertainty, to, toUncertainty;
    if (in.entry().of == "amplitude") {
        const auto amplitude = [](In of, double &value, double &uncertainty) {
            const StateLevels states = of.levels().states;
            value = states.amplitude();
            uncertainty = states.amplitudeUncertainty;
        };
        amplitude(in, from, fromUncertainty);
        amplitude(in.to(), to, toUncertainty);
        in.note("gain", "by state levels");
    } else {
        const auto [own, other] = in.surveysInCommon();
        const auto rms = [](const AmplitudeSurvey &survey, double resolution, double &value, double &uncertainty) {
            const Measured found =
                ofSamples(survey, resolution, [](const AmplitudeStats &stats) { return stats.acRms(); });
            const bool constant = survey.stats.minimum == survey.stats.maximum; // to the last bit, unlike its rms
            value = constant ? 0 : found.value;
            uncertainty = *found.statistics().uncertainty;
        };
        rms(*own, in.resolution(), from, fromUncertainty);
        rms(*other, in.to().resolution(), to, toUncertainty);
        in.note("gain", "by ac rms over the time that both channels have");
    }
    if (!(from > 0)) throw Unmeasurable{in.entry().source + " is constant: a gain needs a signal at the input"};
    const double gain = to / from;
    return {gain, std::hypot(toUncertainty / from, gain * fromUncertainty / from),
            in.entry().of == "amplitude" ? "levels" : "scatter"};
}

Measured gain(In in)
{
    const Ratio found = ratio(in);
    return Measured::one(found.value, {{found.from, found.uncertainty}});
}

Measured gainInDecibels(In in)
{
    const Ratio found = ratio(in);
    if (!(found.value > 0)) return Measured::none(in.entry().to + " is constant: a gain of 0 has no dB");
    return Measured::one(20 * std::log10(found.value),
                         {{found.from, 20 / std::numbers::ln10 * found.uncertainty / found.value}});
}

Measured against(In in, Population (*times)(const ChosenEdges &, const ChosenEdges &), const char *which)
{
    const EdgeChoice data = in.edge(EdgeChoice::both), tick = in.toEdge(EdgeChoice::rising);
    in.note("between", std::string(which) + " " + words(data) + " edge of " + in.entry().source + " and each " +
                           words(tick) + " edge of " + in.entry().to);
    in.note("what matters", "the minimum");
    return orReason(times(own(in, data), own(in.to(), tick)),
                    edgesSeen(in) + std::to_string(in.to().edges()->size()) + " in " + in.entry().to +
                        "; no chosen edges lie beside each other: check the edges' directions, the region, and that "
                        "both captures overlap in time");
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
    const auto timeOf = [direction](In of) {
        const Statistics found = statisticsOf(transitionTimes(of.transitions(direction), of.axis()));
        if (!found.mean) throw Unmeasurable{wants(of, "no transition of that direction reaches both levels")};
        return found;
    };
    const Statistics input = timeOf(in), output = timeOf(in.to());
    const double square = *output.mean * *output.mean - *input.mean * *input.mean;
    const auto text = [](double time) { return quantityText(time, "s", {}, 4); };
    in.note("made of",
            "the root of the difference of squares: output " + text(*output.mean) + ", input " + text(*input.mean));
    if (!(square > 0))
        return Measured::none("the input is not faster: " + text(*input.mean) + " beside " + text(*output.mean) +
                              " at the output; take a faster source");
    const double own = std::sqrt(square);
    if (!input.uncertainty || !output.uncertainty) return Measured::one(own);
    return Measured::scattered(own,
                               std::hypot(*output.mean * *output.uncertainty, *input.mean * *input.uncertainty) / own);
}

constexpr Quantity table[] = {
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
    return {"two channels", table};
}

} // namespace fulvex
