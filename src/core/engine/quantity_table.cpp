#include "quantity_table.h"

#include "pulse_populations.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

EdgeChoice QuantityInputs::edge(EdgeChoice standard) const
{
    const std::string &text = entry().edge;
    if (text == "rising") return EdgeChoice::rising;
    if (text == "falling") return EdgeChoice::falling;
    if (text == "both") return EdgeChoice::both;
    return standard;
}

namespace {

using In = QuantityInputs &;

/// A population, or the reason why it is empty.
Measured orReason(Population population, const std::string &reason)
{
    if (population.size() == 0) return Measured::none(reason);
    Measured measured;
    measured.population = std::move(population);
    return measured;
}

std::string edgesSeen(In in)
{
    const auto edges = in.edges();
    return std::to_string(edges->size()) + (edges->size() == 1 ? " crossing" : " crossings") +
           " of the mid level in the region; ";
}

std::string wants(In in, const char *what)
{
    return edgesSeen(in) + what + ": widen the region, take a longer capture, or check the levels";
}

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

double stepUncertainty(In in)
{
    return in.resolution() / std::sqrt(12.0);
}

/// Standard uncertainty of a mean over a region's samples; neighbours may be correlated, so it is a lower bound.
double samplingUncertainty(In in, const AmplitudeStats &stats)
{
    return std::hypot(stats.acRms() / std::sqrt(double(stats.count)),
                      stepUncertainty(in) / std::sqrt(double(stats.count)));
}

Measured maximum(In in)
{
    return Measured::one(in.stats().maximum, stepUncertainty(in));
}
Measured minimum(In in)
{
    return Measured::one(in.stats().minimum, stepUncertainty(in));
}
Measured peakToPeak(In in)
{
    const AmplitudeStats stats = in.stats();
    return Measured::one(stats.maximum - stats.minimum, std::sqrt(2.0) * stepUncertainty(in));
}
Measured mean(In in)
{
    const AmplitudeStats stats = in.stats();
    return Measured::one(stats.mean, samplingUncertainty(in, stats));
}
Measured rms(In in)
{
    const AmplitudeStats stats = in.stats();
    return Measured::one(stats.rms(), samplingUncertainty(in, stats));
}
Measured acRms(In in)
{
    const AmplitudeStats stats = in.stats();
    return Measured::one(stats.acRms(), samplingUncertainty(in, stats));
}
Measured high(In in)
{
    const StateLevels states = in.levels().states;
    return Measured::one(states.high, states.highUncertainty);
}
Measured low(In in)
{
    const StateLevels states = in.levels().states;
    return Measured::one(states.low, states.lowUncertainty);
}
Measured amplitude(In in)
{
    const StateLevels states = in.levels().states;
    return Measured::one(states.amplitude(), std::hypot(states.lowUncertainty, states.highUncertainty));
}

Measured transitionTime(In in, EdgeChoice choice)
{
    return orReason(transitionTimes(in.transitions(choice), in.axis()),
                    wants(in, choice == EdgeChoice::rising
                                  ? "no rising transition reaches both the low and the high level"
                                  : "no falling transition reaches both the high and the low level"));
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

Population allPeriods(In in)
{
    return periods(in.edges(), in.axis(), in.edge(EdgeChoice::rising), in.progress());
}
Measured period(In in)
{
    return orReason(allPeriods(in), wants(in, "a period needs two edges of one direction"));
}
Measured frequency(In in)
{
    return orReason(reciprocal(allPeriods(in)), wants(in, "a frequency needs two edges of one direction"));
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

Measured symbolRate(In in)
{
    return Measured::one(in.clock()->map.rate(), in.rateUncertainty());
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

template <auto quantity, bool withCrossings = false>
Measured ofEye(In in)
{
    const EyeQuantities eye = in.eye(withCrossings);
    return (eye.*quantity)();
}

constexpr Quantity table[] = {
    {"maximum", "maximum", nullptr, Needs::source, maximum, "region"},
    {"minimum", "minimum", nullptr, Needs::source, minimum, "region"},
    {"peak_to_peak", "peak to peak", nullptr, Needs::source, peakToPeak, "region"},
    {"mean", "mean", nullptr, Needs::source, mean, "region"},
    {"rms", "rms", nullptr, Needs::source, rms, "region"},
    {"ac_rms", "ac rms", nullptr, Needs::source, acRms, "region"},
    {"high", "high", nullptr, Needs::source, high, "region levels"},
    {"low", "low", nullptr, Needs::source, low, "region levels"},
    {"amplitude", "amplitude", nullptr, Needs::source, amplitude, "region levels"},
    {"overshoot_rising", "overshoot, rising", "%", Needs::source, nullptr},
    {"overshoot_falling", "overshoot, falling", "%", Needs::source, nullptr},
    {"preshoot_rising", "preshoot, rising", "%", Needs::source, nullptr},
    {"preshoot_falling", "preshoot, falling", "%", Needs::source, nullptr},
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
    {"burst_width", "burst width", "s", Needs::source, nullptr},
    {"settling_time", "settling time", "s", Needs::source, nullptr},
    {"delay", "delay", "s", Needs::source, nullptr},
    {"phase", "phase", "deg", Needs::source, nullptr},
    {"gain", "gain", "V/V", Needs::source, nullptr},
    {"gain_db", "gain", "dB", Needs::source, nullptr},
    {"setup_time", "setup time", "s", Needs::source, nullptr},
    {"hold_time", "hold time", "s", Needs::source, nullptr},
    {"symbol_rate", "symbol rate", "Bd", Needs::clock, symbolRate},
    {"time_interval_error", "time interval error", "s", Needs::clock, timeIntervalError, "region edge"},
    {"period_jitter", "period jitter", "s", Needs::source, periodJitter, "clock region levels edge"},
    {"cycle_to_cycle_jitter", "cycle-to-cycle jitter", "s", Needs::source, cycleToCycle, "clock region levels edge"},
    {"random_jitter", "random jitter", "s", Needs::clock, nullptr},
    {"deterministic_jitter", "deterministic jitter", "s", Needs::clock, nullptr},
    {"deterministic_jitter_pp", "deterministic jitter, pp", "s", Needs::clock, nullptr},
    {"periodic_jitter", "periodic jitter", "s", Needs::clock, nullptr},
    {"data_dependent_jitter", "data-dependent jitter", "s", Needs::clock, nullptr},
    {"duty_cycle_distortion", "duty-cycle distortion", "s", Needs::clock, nullptr},
    {"bounded_uncorrelated_jitter", "bounded uncorrelated jitter", "s", Needs::clock, nullptr},
    {"total_jitter", "total jitter", "s", Needs::clock, nullptr},
    {"eye_opening", "eye opening", "s", Needs::clock, nullptr},
    {"one_level", "one level", nullptr, Needs::eye, ofEye<&EyeQuantities::oneLevel>},
    {"zero_level", "zero level", nullptr, Needs::eye, ofEye<&EyeQuantities::zeroLevel>},
    {"eye_amplitude", "eye amplitude", nullptr, Needs::eye, ofEye<&EyeQuantities::amplitude>},
    {"eye_height", "eye height", nullptr, Needs::eye, ofEye<&EyeQuantities::height>},
    {"eye_width", "eye width", "s", Needs::eye, ofEye<&EyeQuantities::width, true>},
    {"crossing_level", "crossing level", "%", Needs::eye, ofEye<&EyeQuantities::crossingLevel>},
    {"one_noise", "one noise", nullptr, Needs::eye, ofEye<&EyeQuantities::oneNoise>},
    {"zero_noise", "zero noise", nullptr, Needs::eye, ofEye<&EyeQuantities::zeroNoise>},
    {"q_factor", "Q factor", "", Needs::eye, ofEye<&EyeQuantities::qFactor>},
    {"signal_to_noise", "signal to noise", "dB", Needs::eye, ofEye<&EyeQuantities::signalToNoise>},
    {"eye_jitter_rms", "eye jitter, rms", "s", Needs::eye, ofEye<&EyeQuantities::jitterRms, true>},
    {"eye_jitter_pp", "eye jitter, pp", "s", Needs::eye, ofEye<&EyeQuantities::jitterPeakToPeak, true>},
    {"eye_rise_time", "eye rise time", "s", Needs::eye, nullptr},
    {"eye_fall_time", "eye fall time", "s", Needs::eye, nullptr},
    {"phase_noise_at", "phase noise", "dBc/Hz", Needs::clock, nullptr},
    {"integrated_jitter", "integrated jitter", "s", Needs::clock, nullptr},
};

} // namespace

bool Quantity::takes(std::string_view key) const
{
    if (key == "source") return needs == Needs::source;
    if (key == "clock" && needs == Needs::clock) return true;
    if (key == "eye") return needs == Needs::eye;
    for (std::string_view rest = settings; !rest.empty();) {
        const std::size_t end = std::min(rest.find(' '), rest.size());
        if (rest.substr(0, end) == key) return true;
        rest.remove_prefix(std::min(end + 1, rest.size()));
    }
    return false;
}

std::span<const Quantity> quantities()
{
    return table;
}

const Quantity *findQuantity(const std::string &name)
{
    for (const Quantity &quantity : table) {
        if (name == quantity.name) return &quantity;
    }
    return nullptr;
}

} // namespace fulvex
