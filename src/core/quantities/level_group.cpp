#include "quantity_support.h"
#include "quantity_table.h"

#include <cmath>

namespace fulvex {

namespace {

using In = QuantityInputs &;

Measured maximum(In in)
{
    return Measured::one(in.survey()->stats.maximum, stepUncertainty(in));
}
Measured minimum(In in)
{
    return Measured::one(in.survey()->stats.minimum, stepUncertainty(in));
}
Measured peakToPeak(In in)
{
    const auto survey = in.survey();
    return Measured::one(survey->stats.maximum - survey->stats.minimum, std::sqrt(2.0) * stepUncertainty(in));
}
Measured mean(In in)
{
    return ofSamples(*in.survey(), in.resolution(), [](const AmplitudeStats &stats) { return stats.mean; });
}
Measured rms(In in)
{
    return ofSamples(*in.survey(), in.resolution(), [](const AmplitudeStats &stats) { return stats.rms(); });
}
Measured acRms(In in)
{
    return ofSamples(*in.survey(), in.resolution(), [](const AmplitudeStats &stats) { return stats.acRms(); });
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
    return Measured::one(states.amplitude(), states.amplitudeUncertainty);
}

Measured aberration(In in, EdgeChoice choice, RawVector<double> Aberrations::*which)
{
    const auto transitions = in.transitions(choice);
    return orReason(aberrationsOf(transitions, in.axis(), in.aberrations(choice).get()->*which),
                    wants(in, "no transition of that direction reaches both levels and has samples beside it"));
}
Measured overshootRising(In in)
{
    return aberration(in, EdgeChoice::rising, &Aberrations::overshoot);
}
Measured overshootFalling(In in)
{
    return aberration(in, EdgeChoice::falling, &Aberrations::overshoot);
}
Measured preshootRising(In in)
{
    return aberration(in, EdgeChoice::rising, &Aberrations::preshoot);
}
Measured preshootFalling(In in)
{
    return aberration(in, EdgeChoice::falling, &Aberrations::preshoot);
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
    {"overshoot_rising", "overshoot, rising", "%", Needs::source, overshootRising, "region levels"},
    {"overshoot_falling", "overshoot, falling", "%", Needs::source, overshootFalling, "region levels"},
    {"preshoot_rising", "preshoot, rising", "%", Needs::source, preshootRising, "region levels"},
    {"preshoot_falling", "preshoot, falling", "%", Needs::source, preshootFalling, "region levels"},
};

} // namespace

QuantityGroup levelQuantities()
{
    return {"levels", table};
}

} // namespace fulvex
