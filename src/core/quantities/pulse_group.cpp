#include "edge_statistics.h"
#include "quantity_support.h"
#include "quantity_table.h"

namespace fulvex {

namespace {

using In = QuantityInputs &;

Measured peakTime(In in)
{
    return orReason(peakTimes(*in.samples(), *in.edges(), in.edge(EdgeChoice::rising), in.progress()),
                    wants(in, "a peak needs an edge and the next one"));
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
    const StateLevels states = in.levels().states;
    Population lasting = found.population;
    lasting.value = found.population.span.times(in.axis().interval);
    found.parts.push_back(
        {"levels", *statisticsOf(lasting).mean *
                       (direction == EdgeChoice::falling ? states.highUncertainty : states.lowUncertainty)});
    return found;
}
Measured slopeAtMid(In in)
{
    return orReason(slopesAtMid(*in.samples(), in.edges(), in.edge(EdgeChoice::rising), in.progress()),
                    wants(in, "a slope needs an edge of that direction"));
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

constexpr Quantity table[] = {
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
    return {"pulses", table};
}

} // namespace fulvex
