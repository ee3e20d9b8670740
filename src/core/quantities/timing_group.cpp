#include "bursts.h"
#include "edge_finder.h"
#include "edge_statistics.h"
#include "instant_parts.h"
#include "middle.h"
#include "number_text.h"
#include "pulse_populations.h"
#include "quantity_support.h"
#include "quantity_table.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using In = QuantityInputs &;

/// What keeps a burst from being told, with the spacings that there are.
std::string gapWanted(In in, const EdgeList &edges)
{
    std::string seen;
    if (edges.size() > 2) {
        std::vector<double> spacings(edges.size() - 1);
        for (std::size_t i = 0; i + 1 < edges.size(); ++i)
            spacings[i] = (edges.positions[i + 1] - edges.positions[i]) * in.axis().interval;
        seen = "; crossings follow on each other by " + quantityText(middleOf(spacings), "s", {}, 3) + " mostly, by " +
               quantityText(*std::max_element(spacings.begin(), spacings.end()), "s", {}, 3) + " at most";
    }
    return "bursts are told apart by the quiet between them: give a \"gap\" in s" + seen;
}

Measured riseTime(In in)
{
    return transitionTime(in, EdgeChoice::rising);
}
Measured fallTime(In in)
{
    return transitionTime(in, EdgeChoice::falling);
}
Measured slewRate(In in, EdgeChoice choice)
{
    const ReferenceLevels levels = in.levels();
    const double risen = levels.high - levels.low;
    Measured found =
        orReason(slewRates(in.transitions(choice), in.axis(), risen), wants(in, "no transition reaches both levels"));
    if (!found.reason.empty()) return found;
    const bool rising = choice == EdgeChoice::rising;
    const InstantParts from = transitionParts(in, found.population, rising, false),
                       to = transitionParts(in, found.population, rising, true);
    // Where the levels move apart, the time between them gets longer too: on a straight line the slope stays.
    const double slope = *statisticsOf(found.population).mean, lasts = risen / slope;
    const StateShifts apart = levelShifts(in, levels.high) - levelShifts(in, levels.low),
                      longer = to.levels - from.levels;
    addInstants(found, from, to, (apart.times(1 / std::abs(slope)) - longer).total(), slope / lasts);
    return found;
}
Measured slewRising(In in)
{
    return slewRate(in, EdgeChoice::rising);
}
Measured slewFalling(In in)
{
    return slewRate(in, EdgeChoice::falling);
}

/// Between the first edge and the last lie all periods: each edge between them ends one and begins another.
void addOuterEdges(In in, Measured &found, double factor)
{
    const InstantParts edge = edgeParts(in, in.edge(EdgeChoice::rising));
    const auto count = double(found.population.size());
    found.parts.push_back({"quantisation", std::sqrt(2.0) * edge.quantisation * factor / count});
    if (count < 4) found.parts.push_back({"noise", std::sqrt(2.0) * edge.noise * factor / count});
}
Measured period(In in)
{
    Measured found = orReason(allPeriods(in), wants(in, "a period needs two edges of one direction"));
    found.scatter = meanPeriodUncertainty;
    if (found.reason.empty()) addOuterEdges(in, found, 1);
    return found;
}
Measured frequency(In in)
{
    Measured found = orReason(reciprocal(allPeriods(in)), wants(in, "a frequency needs two edges of one direction"));
    found.scatter = meanFrequencyUncertainty;
    if (found.reason.empty()) addOuterEdges(in, found, std::pow(meanSpan(found.population), -2));
    return found;
}
/// From one direction's mid crossing to the other's.
Measured width(In in, bool positive, const char *needs)
{
    Measured found = orReason(widths(in.edges(), in.axis(), positive, in.progress()), wants(in, needs));
    const EdgeChoice opens = positive ? EdgeChoice::rising : EdgeChoice::falling,
                     closes = positive ? EdgeChoice::falling : EdgeChoice::rising;
    if (found.reason.empty()) addInstantsOfOne(found, edgeParts(in, opens), edgeParts(in, closes));
    return found;
}
Measured positiveWidth(In in)
{
    return width(in, true, "a pulse needs a rising and a falling edge");
}
Measured negativeWidth(In in)
{
    return width(in, false, "a pulse needs a falling and a rising edge");
}
Measured dutyCycle(In in)
{
    Measured found =
        orReason(dutyCycles(in.edges(), in.axis(), in.progress()), wants(in, "a duty cycle needs a whole period"));
    if (found.reason.empty())
        addInstantsOfOne(found, edgeParts(in, EdgeChoice::rising), edgeParts(in, EdgeChoice::falling),
                         100 / meanSpan(found.population));
    return found;
}
Measured edgeCount(In in)
{
    const auto edges = in.edges();
    const EdgeChoice choice = in.edge(EdgeChoice::both);
    double count = 0;
    for (std::size_t i = 0; i < edges->size(); ++i) count += chosen(choice, edges->isRising(i));
    return Measured::scattered(count, 0.0);
}

/// In a box over a trace: the instants at which its middle level is crossed, from the region's start.
Measured crossingTimes(In in)
{
    const auto [above, below] = std::pair(in.entry().above, in.entry().below);
    if (!above || !below) throw Unmeasurable{"give a box, \"above\" and \"below\": its middle is what is crossed"};
    const double level = (*above + *below) / 2;
    const EdgeList passages =
        findLinearEdges(*in.samples(), in.range(), crossingLevel(level, in.levels().hysteresis), in.progress());
    const double start = double(in.range().first);
    PopulationBuilder found(in.axis());
    for (std::size_t i = 0; i < passages.size(); ++i) {
        if (chosen(in.edge(EdgeChoice::both), passages.isRising(i)))
            found.add(passages.positions[i], 0, (passages.positions[i] - start) * in.axis().interval);
    }
    in.note("crossed", "the middle of the box, from the start of the region");
    Measured measured = orReason(found.take(), "nothing crosses the middle of the box: move it, or widen the region");
    if (measured.reason.empty())
        addInstantsOfOne(measured, {}, partsAt(in, somePlaces(measured.population, false), false));
    return measured;
}

Bursts burstsOf(In in)
{
    const auto edges = in.edges();
    if (!in.entry().gap) throw Unmeasurable{gapWanted(in, *edges)};
    return findBursts(*edges, in.axis(), in.range(), *in.entry().gap / in.axis().interval);
}
std::string noBurst(In in)
{
    return edgesSeen(in) + "no burst of them has " + quantityText(*in.entry().gap, "s", {}, 4) +
           " of quiet before and behind it within the record: give a shorter \"gap\", or take a longer capture";
}
Measured burstWidth(In in)
{
    const Bursts bursts = burstsOf(in);
    Measured found = orReason(bursts.width, noBurst(in));
    if (found.reason.empty()) addInstantsOfOne(found, edgeParts(in, bursts.opens), edgeParts(in, bursts.closes));
    return found;
}
Measured pulsesPerBurst(In in)
{
    Measured found = orReason(burstsOf(in).pulses, noBurst(in));
    addNoise(found, 0); // counted
    return found;
}

/// What other states do to a settling time is tried out on some edges: where a signal rings, another swing may be the
/// last that leaves the band.
StateShifts settlingShifts(In in, double band, EdgeChoice choice)
{
    const ReferenceLevels levels = in.levels();
    const StateUncertainty known = in.stateUncertainty();
    const auto meanBy = [&](const ReferenceLevels &by, EdgeChoice direction) {
        const EdgeList some = somePulses(*in.edges(), direction == EdgeChoice::rising);
        return statisticsOf(
                   settlingTimes(*in.samples(), in.range(), some, by, band, direction, in.progress()).population)
            .mean;
    };
    StateShifts all;
    int directions = 0;
    for (const EdgeChoice direction : {EdgeChoice::rising, EdgeChoice::falling}) {
        if (!chosen(choice, direction == EdgeChoice::rising)) continue;
        const auto as = meanBy(levels, direction);
        if (!as) continue;
        const auto shift = [&](double StateLevels::*state, double by) {
            ReferenceLevels other = levels;
            other.states.*state += by;
            return meanBy(other, direction).value_or(*as) - *as;
        };
        all = all + StateShifts{shift(&StateLevels::low, known.low), shift(&StateLevels::high, known.high)} -
              edgeParts(in, direction).levels;
        ++directions;
    }
    return all.times(directions == 2 ? 0.5 : 1);
}

Measured settlingTime(In in)
{
    constexpr double usual = 2; // %
    const double band = in.entry().band.value_or(usual);
    if (!(band > 0)) throw Unmeasurable{"a band of 0 % is never reached: give a \"band\" in % of the amplitude"};
    const auto edges = in.edges();
    const EdgeChoice choice = in.edge(EdgeChoice::rising);
    Settling found = settlingTimes(*in.samples(), in.range(), *edges, in.levels(), band, choice, in.progress());
    const std::string within = "within " + quantityText(band, "", {}, 3) + " % of the amplitude to either side";
    in.note("settled", found.unsettled == 0 ? within
                                            : within + "; " + std::to_string(found.unsettled) +
                                                  " that never settle before the next transition are left out");
    Measured measured = orReason(std::move(found.population),
                                 edgesSeen(in) + "none of that direction settles " + within +
                                     " before the next transition: give a wider \"band\", or check the states");
    if (measured.reason.empty())
        addInstants(measured, edgeParts(in, choice), partsAt(in, somePlaces(measured.population, true), false),
                    settlingShifts(in, band, choice).total());
    return measured;
}

constexpr Quantity timingTable[] = {
    {"rise_time", "rise time", "s", Needs::source, riseTime, "region levels interpolate"},
    {"fall_time", "fall time", "s", Needs::source, fallTime, "region levels interpolate"},
    {"positive_width", "positive width", "s", Needs::source, positiveWidth, "region levels interpolate at"},
    {"negative_width", "negative width", "s", Needs::source, negativeWidth, "region levels interpolate at"},
    {"period", "period", "s", Needs::source, period, "region levels interpolate edge at"},
    {"frequency", "frequency", "Hz", Needs::source, frequency, "region levels interpolate edge"},
    {"duty_cycle", "duty cycle", "%", Needs::source, dutyCycle, "region levels interpolate at"},
    {"slew_rate_rising", "slew rate, rising", nullptr, Needs::source, slewRising, "region levels interpolate", "/s"},
    {"slew_rate_falling", "slew rate, falling", nullptr, Needs::source, slewFalling, "region levels interpolate", "/s"},
    {"edge_count", "edges", "", Needs::source, edgeCount, "region levels interpolate edge at"},
    {"burst_width", "burst width", "s", Needs::source, burstWidth, "region levels interpolate gap"},
    {"pulses_per_burst", "pulses per burst", "", Needs::source, pulsesPerBurst, "region levels interpolate gap"},
    {"crossing_times", "crossing times in a box", "s", Needs::source, crossingTimes,
     "region levels interpolate edge above below"},
    {"settling_time", "settling time", "s", Needs::source, settlingTime, "region levels interpolate edge band"},
};

} // namespace

QuantityGroup timingQuantities()
{
    return {"timing", timingTable};
}

} // namespace fulvex
