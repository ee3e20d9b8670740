#include "bursts.h"
#include "edge_finder.h"
#include "edge_statistics.h"
#include "instant_errors.h"
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
        const auto middle = spacings.begin() + std::ptrdiff_t(spacings.size() / 2);
        std::nth_element(spacings.begin(), middle, spacings.end());
        seen = "; crossings follow on each other by " + quantityText(*middle, "s", {}, 3) + " mostly, by " +
               quantityText(*std::max_element(spacings.begin(), spacings.end()), "s", {}, 3) + " at most";
    }
    return "bursts are told apart by the quiet between them: give a \"gap\" in s" + seen;
}

/// Beside what the population scatters: the levels may be off, by which all values are alike, the converter has steps,
/// and another way of interpolation would give other passages.
void addTransitionParts(In in, EdgeChoice choice, Measured &measured)
{
    const Statistics found = statisticsOf(measured.population);
    const ReferenceLevels levels = in.levels();
    if (in.percentLevels() && levels.states.amplitude() > 0)
        measured.parts.push_back(
            {"levels", *found.mean * levels.states.amplitudeUncertainty / levels.states.amplitude()});
    const double slope = std::abs(levels.high - levels.low) / *found.mean;
    if (slope > 0)
        measured.parts.push_back(
            {"quantisation", std::sqrt(2.0) * stepUncertainty(in) / slope / std::sqrt(double(found.count))});
    if (slope > 0) addNoise(measured, std::sqrt(2.0) * sampleNoise(*in.samples(), in.range()) / slope);
    const double straight = straightTransitions(*in.samples(), *in.edges(), *in.transitions(choice));
    measured.parts.push_back({"interpolation", std::abs(straight) * in.axis().interval / std::sqrt(3.0)});
}

Measured transitionTime(In in, EdgeChoice choice)
{
    Measured found = orReason(transitionTimes(in.transitions(choice), in.axis()),
                              wants(in, choice == EdgeChoice::rising
                                            ? "no rising transition reaches both the low and the high level"
                                            : "no falling transition reaches both the high and the low level"));
    if (found.reason.empty()) addTransitionParts(in, choice, found);
    return found;
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
    return orReason(slewRates(in.transitions(choice), in.axis(), levels.high - levels.low),
                    wants(in, "no transition reaches both levels"));
}
Measured slewRising(In in)
{
    return slewRate(in, EdgeChoice::rising);
}
Measured slewFalling(In in)
{
    return slewRate(in, EdgeChoice::falling);
}

Measured period(In in)
{
    Measured found = orReason(allPeriods(in), wants(in, "a period needs two edges of one direction"));
    found.scatter = meanPeriodUncertainty;
    return found;
}
Measured frequency(In in)
{
    Measured found = orReason(reciprocal(allPeriods(in)), wants(in, "a frequency needs two edges of one direction"));
    found.scatter = meanFrequencyUncertainty;
    return found;
}
/// From one direction's mid crossing to the other's.
Measured width(In in, bool positive, const char *needs)
{
    Measured found = orReason(widths(in.edges(), in.axis(), positive, in.progress()), wants(in, needs));
    const EdgeChoice opens = positive ? EdgeChoice::rising : EdgeChoice::falling,
                     closes = positive ? EdgeChoice::falling : EdgeChoice::rising;
    if (found.reason.empty()) addInstants(found, instantParts(in, opens), instantParts(in, closes), true);
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
    Population cycles = dutyCycles(in.edges(), in.axis(), in.progress());
    Population periods = cycles;
    periods.value = cycles.span;
    Measured found = orReason(std::move(cycles), wants(in, "a duty cycle needs a whole period"));
    if (found.reason.empty())
        addInstants(found, instantParts(in, EdgeChoice::rising), instantParts(in, EdgeChoice::falling), true,
                    100 / (*statisticsOf(periods).mean * in.axis().interval));
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
    return orReason(found.take(), "nothing crosses the middle of the box: move it, or widen the region");
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
    return orReason(burstsOf(in).width, noBurst(in));
}
Measured pulsesPerBurst(In in)
{
    return orReason(burstsOf(in).pulses, noBurst(in));
}

Measured settlingTime(In in)
{
    constexpr double usual = 2; // %
    const double band = in.entry().band.value_or(usual);
    if (!(band > 0)) throw Unmeasurable{"a band of 0 % is never reached: give a \"band\" in % of the amplitude"};
    const auto edges = in.edges();
    Settling found =
        settlingTimes(*in.samples(), in.range(), *edges, in.levels(), band, in.edge(EdgeChoice::rising), in.progress());
    const std::string within = "within " + quantityText(band, "", {}, 3) + " % of the amplitude to either side";
    in.note("settled", found.unsettled == 0 ? within
                                            : within + "; " + std::to_string(found.unsettled) +
                                                  " that never settle before the next transition are left out");
    return orReason(std::move(found.population),
                    edgesSeen(in) + "none of that direction settles " + within +
                        " before the next transition: give a wider \"band\", or check the states");
}

constexpr Quantity table[] = {
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
    return {"timing", table};
}

} // namespace fulvex
