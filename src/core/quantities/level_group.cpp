#include "amplitude_levels.h"
#include "instant_parts.h"
#include "jackknife.h"
#include "number_text.h"
#include "quantity_support.h"
#include "quantity_table.h"
#include "word_list.h"

#include <cmath>

namespace fulvex {

namespace {

using In = QuantityInputs &;

/// Made of `samples` single samples.
Measured ofExtremes(In in, double value, int samples)
{
    const double root = std::sqrt(double(samples));
    return Measured::one(value, {{"noise", root * in.noise()}, {"quantisation", root * stepUncertainty(in)}});
}
Measured maximum(In in)
{
    return ofExtremes(in, in.survey()->stats.maximum, 1);
}
Measured minimum(In in)
{
    return ofExtremes(in, in.survey()->stats.minimum, 1);
}
Measured peakToPeak(In in)
{
    const auto survey = in.survey();
    return ofExtremes(in, survey->stats.maximum - survey->stats.minimum, 2);
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
    return Measured::one(in.levels().states.high, {{"levels", in.stateUncertainty().high}});
}
Measured low(In in)
{
    return Measured::one(in.levels().states.low, {{"levels", in.stateUncertainty().low}});
}
Measured amplitude(In in)
{
    return Measured::one(in.levels().states.amplitude(), {{"levels", in.stateUncertainty().amplitude}});
}

Measured aberration(In in, EdgeChoice choice, RawVector<double> Aberrations::*which)
{
    const auto transitions = in.transitions(choice);
    const auto beside = in.aberrations(choice);
    const std::shared_ptr<const RawVector<double>> values(beside, &(beside.get()->*which));
    Measured found =
        orReason(aberrationsOf(transitions, in.axis(), values),
                 wants(in, "no transition of that direction reaches both levels and has samples beside it"));
    if (!found.reason.empty()) return found;
    // The state that it goes beyond is as uncertain for all of them.
    const StateUncertainty known = in.stateUncertainty();
    const bool atHigh = (choice == EdgeChoice::rising) == (which == &Aberrations::overshoot);
    const double percent = 100 / in.levels().states.amplitude();
    found.parts.push_back({"levels", percent * (atHigh ? known.high : known.low)});
    found.parts.push_back({"quantisation", percent * stepUncertainty(in) / std::sqrt(double(found.population.size()))});
    addNoise(found, percent * in.noise());
    return found;
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

/// One of the values that samples gather around: of a keyed or stepped envelope, or a signal of several states.
Measured amplitudeLevel(In in)
{
    const auto survey = in.survey();
    const auto levels = amplitudeLevels(survey->histogram);
    const int which = in.entry().level.value_or(1);
    if (std::size_t(which) > levels.size()) {
        const std::string known =
            listed(levels, [&](const AmplitudeLevel &one) { return quantityText(one.at, in.unit(), {}, 3); });
        return Measured::none("its samples gather around " + std::to_string(levels.size()) + " values, " +
                              (known.empty() ? "too few of them to tell" : known) + ": there is no level " +
                              std::to_string(which));
    }
    const AmplitudeLevel &level = levels[std::size_t(which - 1)];
    in.note("share", quantityText(100 * level.share, "%", {}, 3) + " of the samples");
    in.note("spread", quantityText(level.spread, in.unit(), {}, 3));
    const auto scatter = jackknifeUncertainty(survey->stretches.size(), [&](std::size_t part) {
        return sameLevelIn(survey->histogram.without(survey->stretches[part].histogram), level).at;
    });
    const double plain = level.spread / std::sqrt(std::max(1.0, level.share * double(survey->stats.count)));
    return Measured::one(level.at, {{"scatter", scatter.value_or(plain)}, {"quantisation", stepUncertainty(in)}});
}

/// In a box over a trace: each sample's value.
Measured sampleValues(In in)
{
    constexpr std::int64_t most = 20'000'000; // each is kept
    in.survey();                              // says why there is nothing to be had
    const SampleRange range = in.range();
    if (range.size() > most)
        throw Unmeasurable{std::to_string(range.size()) +
                           " samples are too many to keep each of them: restrict it to a "
                           "region of at most 20 million"};
    const double above = in.entry().above.value_or(-INFINITY), below = in.entry().below.value_or(INFINITY);
    const SourcePtr source = in.samples();
    PopulationBuilder found(in.axis());
    std::vector<double> block(1 << 16);
    for (std::int64_t at = range.first; at < range.last; at += std::int64_t(block.size())) {
        in.progress().advance(0);
        const auto count = std::min<std::int64_t>(std::int64_t(block.size()), range.last - at);
        source->read(at, std::span(block).first(std::size_t(count)));
        for (std::int64_t i = 0; i < count; ++i) {
            const double v = block[std::size_t(i)];
            if (v >= above && v <= below) found.add(double(at + i), 0, v); // not gaps
        }
    }
    Measured measured = orReason(found.take(), "no sample of the region lies between these values: widen the box");
    if (!measured.reason.empty()) return measured;
    measured.parts.push_back({"quantisation", sharedStep(in.resolution(), in.survey()->stats)});
    addNoise(measured, in.noise());
    return measured;
}

constexpr Quantity levelTable[] = {
    {"maximum", "maximum", nullptr, Needs::source, maximum, "region"},
    {"minimum", "minimum", nullptr, Needs::source, minimum, "region"},
    {"peak_to_peak", "peak to peak", nullptr, Needs::source, peakToPeak, "region"},
    {"mean", "mean", nullptr, Needs::source, mean, "region"},
    {"rms", "rms", nullptr, Needs::source, rms, "region"},
    {"ac_rms", "ac rms", nullptr, Needs::source, acRms, "region"},
    {"high", "high", nullptr, Needs::source, high, "region levels"},
    {"low", "low", nullptr, Needs::source, low, "region levels"},
    {"amplitude", "amplitude", nullptr, Needs::source, amplitude, "region levels"},
    {"amplitude_level", "amplitude level", nullptr, Needs::source, amplitudeLevel, "region level"},
    {"overshoot_rising", "overshoot, rising", "%", Needs::source, overshootRising, "region levels interpolate"},
    {"overshoot_falling", "overshoot, falling", "%", Needs::source, overshootFalling, "region levels interpolate"},
    {"preshoot_rising", "preshoot, rising", "%", Needs::source, preshootRising, "region levels interpolate"},
    {"sample_values", "values in a box", nullptr, Needs::source, sampleValues, "region above below"},
    {"preshoot_falling", "preshoot, falling", "%", Needs::source, preshootFalling, "region levels interpolate"},
};

} // namespace

QuantityGroup levelQuantities()
{
    return {"levels", levelTable};
}

} // namespace fulvex
