#include "bursts.h"
#include "edge_statistics.h"
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

/// Beside what the population scatters, the levels may be off, by which all values are alike.
void addLevels(In in, Measured &measured)
{
    const Statistics found = measured.statistics();
    const StateLevels states = in.levels().states;
    if (!found.uncertainty || !(states.amplitude() > 0)) return;
    measured.uncertainty =
        std::hypot(*found.uncertainty, *found.mean * states.amplitudeUncertainty / states.amplitude());
}

Measured transitionTime(In in, EdgeChoice choice)
{
    Measured found = orReason(transitionTimes(in.transitions(choice), in.axis()),
                              wants(in, choice == EdgeChoice::rising
                                            ? "no rising transition reaches both the low and the high level"
                                            : "no falling transition reaches both the high and the low level"));
    if (in.percentLevels()) addLevels(in, found);
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
    found.uncertainty = meanPeriodUncertainty(found.population);
    return found;
}
Measured frequency(In in)
{
    const Population periods = allPeriods(in);
    Measured found = orReason(reciprocal(periods), wants(in, "a frequency needs two edges of one direction"));
    if (const auto uncertainty = meanPeriodUncertainty(periods)) {
        const double mean = *statisticsOf(periods).mean;
        found.uncertainty = *uncertainty / (mean * mean);
    }
    return found;
}
Measured positiveWidth(In in)
{
    return orReason(widths(in.edges(), in.axis(), true, in.progress()),
                    wants(in, "a pulse needs a rising and a falling edge"));
}
Measured negativeWidth(In in)
{
    return orReason(widths(in.edges(), in.axis(), false, in.progress()),
                    wants(in, "a pulse needs a falling and a rising edge"));
}
Measured dutyCycle(In in)
{
    return orReason(dutyCycles(in.edges(), in.axis(), in.progress()), wants(in, "a duty cycle needs a whole period"));
}
Measured edgeCount(In in)
{
    const auto edges = in.edges();
    const EdgeChoice choice = in.edge(EdgeChoice::both);
    double count = 0;
    for (std::size_t i = 0; i < edges->size(); ++i) count += chosen(choice, edges->isRising(i));
    return Measured::one(count, 0.0);
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
    {"rise_time", "rise time", "s", Needs::source, riseTime, "region levels"},
    {"fall_time", "fall time", "s", Needs::source, fallTime, "region levels"},
    {"positive_width", "positive width", "s", Needs::source, positiveWidth, "region levels"},
    {"negative_width", "negative width", "s", Needs::source, negativeWidth, "region levels"},
    {"period", "period", "s", Needs::source, period, "region levels edge"},
    {"frequency", "frequency", "Hz", Needs::source, frequency, "region levels edge"},
    {"duty_cycle", "duty cycle", "%", Needs::source, dutyCycle, "region levels"},
    {"slew_rate_rising", "slew rate, rising", nullptr, Needs::source, slewRising, "region levels", "/s"},
    {"slew_rate_falling", "slew rate, falling", nullptr, Needs::source, slewFalling, "region levels", "/s"},
    {"edge_count", "edges", "", Needs::source, edgeCount, "region levels edge"},
    {"burst_width", "burst width", "s", Needs::source, burstWidth, "region levels gap"},
    {"pulses_per_burst", "pulses per burst", "", Needs::source, pulsesPerBurst, "region levels gap"},
    {"settling_time", "settling time", "s", Needs::source, settlingTime, "region levels edge band"},
};

} // namespace

QuantityGroup timingQuantities()
{
    return {"timing", table};
}

} // namespace fulvex
