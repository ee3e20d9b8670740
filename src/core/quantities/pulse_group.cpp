#include "edge_statistics.h"
#include "instant_parts.h"
#include "quantity_support.h"
#include "quantity_table.h"

namespace fulvex {

namespace {

using In = QuantityInputs &;

Measured peakTime(In in)
{
    const EdgeChoice choice = in.edge(EdgeChoice::rising);
    Measured found = orReason(peakTimes(*in.samples(), *in.edges(), choice, in.progress()),
                              wants(in, "a peak needs an edge and the next one"));
    if (!found.reason.empty()) return found;
    InstantParts peak;
    if (found.population.size() < 4) // scatter tells of more
        peak.noise = in.axis().interval * crestWander(*in.samples(), somePlaces(found.population, true),
                                                      std::hypot(in.noise(), stepUncertainty(in)));
    addInstantsOfOne(found, edgeParts(in, choice), peak);
    return found;
}
Measured pulseArea(In in)
{
    const auto edges = in.edges();
    const EdgeChoice direction = in.edge(EdgeChoice::rising);
    Measured found = orReason(
        pulseAreas(*in.samples(), *edges, *in.transitions(EdgeChoice::both), in.levels(), direction, in.progress()),
        wants(in, "a pulse needs two transitions that reach both levels"));
    if (!found.reason.empty()) return found;
    // The state that it starts from is as uncertain under all of it.
    const StateUncertainty known = in.stateUncertainty();
    Population lasting = found.population;
    lasting.value = found.population.span.times(in.axis().interval);
    found.parts.push_back(
        {"levels", *statisticsOf(lasting).mean * (direction == EdgeChoice::falling ? known.high : known.low)});
    // What each sample errs by adds up under a pulse as its root.
    const double perPulse = std::sqrt(*statisticsOf(lasting).mean * in.axis().interval);
    found.parts.push_back(
        {"quantisation", stepUncertainty(in) * perPulse / std::sqrt(double(found.population.size()))});
    addNoise(found, in.noise() * perPulse);
    return found;
}
Measured slopeAtMid(In in)
{
    const EdgeChoice choice = in.edge(EdgeChoice::rising);
    const auto edges = in.edges();
    const double noise = in.noise(), interval = in.axis().interval;
    const bool bySinc = edges->interpolatedBySinc;
    // Out of the noise, and not between the very samples that make the crossing: it is found where the slope is high.
    const double wanted = std::max(8 * noise, in.levels().hysteresis);
    std::int64_t reach = 1;
    for (const bool rising : {true, false}) {
        if (!bySinc && chosen(choice, rising))
            reach = std::max(reach, slopeReach(*in.samples(), somePlaces(*edges, rising), wanted, noise));
    }
    Measured found = orReason(slopesAtMid(*in.samples(), edges, choice, reach, in.progress()),
                              wants(in, "a slope needs an edge of that direction"));
    if (!found.reason.empty()) return found;
    if (reach > 1)
        in.note("slope", "of a cubic through the samples " + std::to_string(reach) + " and " +
                             std::to_string(2 * reach) + " on either side");
    const double over = interval * double(2 * reach - 1);
    const SlopeErrors errors = slopeErrors(*in.samples(), somePlaces(found.population, false), bySinc, reach);
    const double each = (reach > 1 ? 4.0 / 3 : 1) * std::sqrt(2.0) / over; // of what one sample errs by
    found.parts.push_back(
        {"levels", std::abs(errors.bend) / (interval * interval) * edgeParts(in, choice).levels.total()});
    found.parts.push_back({"quantisation", each * stepUncertainty(in) / std::sqrt(double(found.population.size()))});
    addNoise(found, each * noise, std::abs(errors.chosen) / interval / std::sqrt(3.0));
    // The cubic's own error is much less than what it mends.
    found.parts.push_back(
        {"interpolation", std::abs(errors.straight) / interval / std::sqrt(3.0) / (reach > 1 ? 4 : 1)});
    return found;
}
Measured runts(In in, bool rising)
{
    Population found = runtPulses(*in.samples(), in.range(), *in.edges(), in.levels(), rising, in.progress());
    Measured measured = Measured::scattered(double(found.size()), 0.0);
    measured.counts = true;
    measured.population = std::move(found);
    measured.momentsUnit = "%";
    return measured;
}
Measured risingRunts(In in)
{
    return runts(in, true);
}
Measured fallingRunts(In in)
{
    return runts(in, false);
}
Measured countedFrequency(In in)
{
    const auto fit = fitPeriod(*in.edges(), in.edge(EdgeChoice::rising));
    if (!fit)
        return Measured::none(wants(in, "a frequency counted over the record needs three edges of one direction"));
    const double period = fit->period * in.axis().interval;
    in.note("counted", std::to_string(fit->edges) + " edges over " + std::to_string(fit->periods) +
                           " periods, straight line by least squares");
    return Measured::scattered(1 / period, fit->uncertainty / fit->period / period);
}

constexpr Quantity pulseTable[] = {
    {"peak_time", "time to the peak", "s", Needs::source, peakTime, "region levels interpolate edge"},
    {"pulse_area", "area under a pulse", nullptr, Needs::source, pulseArea, "region levels interpolate edge", "·s"},
    {"slope_at_mid", "slope at the mid level", nullptr, Needs::source, slopeAtMid, "region levels interpolate edge",
     "/s"},
    {"rising_runts", "runts, rising", "", Needs::source, risingRunts, "region levels interpolate"},
    {"falling_runts", "runts, falling", "", Needs::source, fallingRunts, "region levels interpolate"},
    {"counted_frequency", "frequency, counted", "Hz", Needs::source, countedFrequency,
     "region levels interpolate edge"},
};

} // namespace

QuantityGroup pulseQuantities()
{
    return {"pulses", pulseTable};
}

} // namespace fulvex
