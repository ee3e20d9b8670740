#include "pulse_populations.h"
#include "quantity_support.h"
#include "quantity_table.h"

namespace fulvex {

namespace {

using In = QuantityInputs &;

Population onlyInRegion(In in, Population all)
{
    if (in.entry().region.empty()) return all;
    PopulationBuilder found(all.axis);
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (in.inRegion(all.position[i]) && in.inRegion(all.position[i] + all.span[i]))
            found.add(all.position[i], all.span[i], all.value[i]);
    }
    return found.take();
}

Measured symbolRate(In in)
{
    return Measured::scattered(in.clock()->map.rate(), in.rateUncertainty());
}
Measured timeIntervalError(In in)
{
    const auto clock = in.clock();
    return orReason(
        onlyInRegion(in, timeIntervalErrors(clock->edges, clock->map, in.edge(EdgeChoice::both), in.progress())),
        "no edge lies in the region after the clock has settled: widen the region, or raise the loop's bandwidth");
}
/// Periods of the clock's source where a clock is named, of the source's own edges otherwise.
Population periodsByClock(In in)
{
    if (in.entry().clock.empty()) return allPeriods(in);
    const auto clock = in.clock();
    return onlyInRegion(in,
                        periods(clock->edges.shared(), clock->map.axis(), in.edge(EdgeChoice::rising), in.progress()));
}
Measured periodJitter(In in)
{
    return orReason(deviations(periodsByClock(in)), "a period needs two edges of one direction in the region");
}
Measured cycleToCycle(In in)
{
    return orReason(successiveDifferences(periodsByClock(in)),
                    "cycle-to-cycle jitter needs two periods that follow on each other");
}

constexpr Quantity clockTable[] = {
    {"symbol_rate", "symbol rate", "Bd", Needs::clock, symbolRate},
    {"time_interval_error", "time interval error", "s", Needs::clock, timeIntervalError, "region edge"},
    {"period_jitter", "period jitter", "s", Needs::source, periodJitter, "clock region levels interpolate edge"},
    {"cycle_to_cycle_jitter", "cycle-to-cycle jitter", "s", Needs::source, cycleToCycle,
     "clock region levels interpolate edge"},
};

} // namespace

QuantityGroup clockQuantities()
{
    return {"against a clock", clockTable};
}

} // namespace fulvex
