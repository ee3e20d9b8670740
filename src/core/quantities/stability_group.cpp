#include "clock_stability.h"
#include "number_text.h"
#include "pulse_populations.h"
#include "quantity_support.h"
#include "quantity_table.h"

#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

using In = QuantityInputs &;

/// Each interval less the mean of those that begin with its direction: a duty cycle is no jitter.
Measured halfPeriodJitter(In in)
{
    const auto edges = in.edges();
    const Population pulses[] = {deviations(widths(edges, in.axis(), true, in.progress())),
                                 deviations(widths(edges, in.axis(), false, in.progress()))};
    PopulationBuilder both(in.axis());
    for (std::size_t high = 0, low = 0; high < pulses[0].size() || low < pulses[1].size();) {
        const bool isHigh =
            low == pulses[1].size() || (high < pulses[0].size() && pulses[0].position[high] < pulses[1].position[low]);
        const Population &of = pulses[isHigh ? 0 : 1];
        std::size_t &next = isHigh ? high : low;
        both.add(of.position[next], of.span[next], of.value[next]);
        ++next;
    }
    return orReason(both.take(), wants(in, "two edges that follow on each other"));
}

/// Intervals of so many periods, from each on.
Population intervals(In in, std::int64_t cycles)
{
    const Population one = allPeriods(in);
    if (cycles == 1) return one;
    PopulationBuilder found(one.axis);
    double sum = 0, span = 0;
    std::size_t first = 0;
    for (std::size_t i = 0; i < one.size(); ++i) {
        constexpr double joined = 1e-6; // samples
        const bool follows = i > first && std::abs(one.position[i - 1] + one.span[i - 1] - one.position[i]) < joined;
        if (!follows) sum = span = 0, first = i; // behind a gap
        sum += one.value[i];
        span += one.span[i];
        if (std::int64_t(i - first) + 1 < cycles) continue;
        found.add(one.position[first], span, sum);
        sum -= one.value[first];
        span -= one.span[first];
        ++first;
    }
    return found.take();
}

std::int64_t cyclesOf(In in)
{
    const int cycles = in.entry().cycles.value_or(1);
    in.note("over", std::to_string(cycles) + (cycles == 1 ? " period" : " periods"));
    return cycles;
}

Measured accumulatedJitter(In in)
{
    const std::int64_t cycles = cyclesOf(in);
    return orReason(deviations(intervals(in, cycles)), wants(in, "as many periods as are asked for, without a gap"));
}

/// Each of so many periods less the one just before it.
Measured nCycleJitter(In in)
{
    const std::int64_t cycles = cyclesOf(in);
    const Population all = intervals(in, cycles);
    PopulationBuilder found(all.axis);
    const auto apart = std::size_t(cycles);
    for (std::size_t i = apart; i < all.size(); ++i) {
        constexpr double joined = 1e-3; // samples, of a long sum
        if (std::abs(all.position[i - apart] + all.span[i - apart] - all.position[i]) > joined) continue;
        found.add(all.position[i], all.span[i], all.value[i] - all.value[i - apart]);
    }
    return orReason(found.take(), wants(in, "twice as many periods as are asked for, without a gap"));
}

/// A deviation over the averaging time that is asked for.
ClockStability::Deviation deviation(In in)
{
    const auto time = in.entry().averaging;
    if (!time || !(*time > 0)) throw Unmeasurable{"it is over an averaging time: give \"averaging\", in s"};
    const auto edges = in.phaseEdges();
    const double longest = double(edges->unitIntervals()) * edges->unitInterval / 4;
    if (*time > longest)
        throw Unmeasurable{"averages over " + quantityText(*time, "s", {}, 3) + " need a record of " +
                           quantityText(4 * *time, "s", {}, 3) + "; this one is enough for " +
                           quantityText(longest, "s", {}, 3) + ": take a longer capture, or a shorter time"};
    if (*time < edges->unitInterval / 2)
        throw Unmeasurable{"nothing happens within less than " + quantityText(edges->unitInterval, "s", {}, 3) +
                           ", from edge to edge: choose a longer time"};
    const ClockStability::Deviation found = deviationAt(*edges, *time, in.progress());
    in.note("averaged over", quantityText(found.time, "s", {}, 6));
    return found;
}

/// Of a root of a mean of squares, of about as many as do not overlap.
Measured ofSquares(double root, double independent)
{
    return Measured::one(root, {{"scatter", root / std::sqrt(2 * independent)}});
}

Measured timeDeviation(In in)
{
    const ClockStability::Deviation found = deviation(in);
    return ofSquares(found.timeDeviation, found.independent);
}

Measured allanDeviation(In in)
{
    const ClockStability::Deviation found = deviation(in);
    return ofSquares(found.allan, found.independent);
}

/// Time interval errors times a factor.
Population errorsTimes(In in, double factor)
{
    const auto clock = in.clock();
    const Population errors = timeIntervalErrors(clock->edges, clock->map, in.edge(EdgeChoice::both), in.progress());
    PopulationBuilder found(errors.axis);
    for (std::size_t i = 0; i < errors.size(); ++i)
        if (in.inRegion(errors.position[i])) found.add(errors.position[i], 0, factor * errors.value[i]);
    return found.take();
}

constexpr const char *noEdge = "no edge lies in the region after the clock has settled: widen the region";

/// Of a clock waveform's carrier, whose period is two unit intervals.
Measured phaseError(In in)
{
    const auto edges = in.phaseEdges();
    const double carrier = in.clock()->map.rate() / (isClockLike(*edges) ? 2 : 1);
    in.note("carrier", quantityText(carrier, "Hz", {}, 6));
    return orReason(errorsTimes(in, 2 * std::numbers::pi * carrier), noEdge);
}

Measured phaseErrorUi(In in)
{
    return orReason(errorsTimes(in, in.clock()->map.rate()), noEdge);
}

/// Errors slower than the corner, or what is left of them.
Measured splitAt(In in, bool slower)
{
    const auto corner = in.entry().corner;
    if (!corner || !(*corner > 0)) throw Unmeasurable{"slow and fast are told at a corner: give \"corner\", in Hz"};
    const auto edges = in.phaseEdges();
    const double lowest = 1 / (double(edges->unitIntervals()) * edges->unitInterval);
    if (slower && *corner < lowest)
        throw Unmeasurable{"wander below " + quantityText(*corner, "Hz", {}, 3) + " needs a record of " +
                           quantityText(1 / *corner, "s", {}, 3) + ": take a longer capture, or a higher corner"};
    in.note("corner", quantityText(*corner, "Hz", {}, 4) + ", first order, run both ways");
    const std::vector<double> wander = wanderOf(*edges, *corner);
    const auto &positions = in.clock()->edges.edges().positions;
    PopulationBuilder found(in.axis());
    for (std::size_t i = 0; i < edges->size(); ++i)
        found.add(positions[edges->edges[i]], 0, slower ? wander[i] : edges->errors[i] - wander[i]);
    return orReason(found.take(), noEdge);
}

Measured wander(In in)
{
    return splitAt(in, true);
}

Measured fastJitter(In in)
{
    return splitAt(in, false);
}

constexpr const char *ofEdges = "region levels interpolate";
constexpr const char *overPeriods = "region levels interpolate edge cycles";
constexpr const char *overTime = "clock region levels interpolate averaging";

constexpr Quantity stabilityTable[] = {
    {"half_period_jitter", "half-period jitter", "s", Needs::source, halfPeriodJitter, ofEdges},
    {"accumulated_jitter", "accumulated jitter over N periods", "s", Needs::source, accumulatedJitter, overPeriods},
    {"n_cycle_jitter", "N-cycle jitter", "s", Needs::source, nCycleJitter, overPeriods},
    {"time_deviation", "time deviation", "s", Needs::source, timeDeviation, overTime},
    {"allan_deviation", "Allan deviation", "1", Needs::source, allanDeviation, overTime},
    {"phase_error", "phase error", "rad", Needs::clock, phaseError, "region edge"},
    {"phase_error_ui", "phase error in UI", "UI", Needs::clock, phaseErrorUi, "region edge"},
    {"wander", "timing wander", "s", Needs::clock, wander, "region corner"},
    {"jitter_above", "timing jitter above a corner", "s", Needs::clock, fastJitter, "region corner"},
};

} // namespace

QuantityGroup stabilityQuantities()
{
    return {"clock stability", stabilityTable};
}

} // namespace fulvex
