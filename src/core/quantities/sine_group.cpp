// How good a sine is: by the averaged spectrum of the region.

#include "jackknife.h"
#include "number_text.h"
#include "quantity_table.h"
#include "sine_quality.h"

#include <cmath>
#include <limits>

namespace fulvex {

namespace {

Measured ofSine(QuantityInputs &in, double (SineQuality::*of)() const)
{
    const auto spectrum = in.spectrum();
    if (spectrum->segments == 0)
        return Measured::none("no stretch of the region is without gaps and at least 256 samples long: widen it");
    const auto quality = sineQuality(*spectrum, spectrum->density);
    if (!quality)
        return Measured::none("no sine of at least 18 periods in " + quantityText(1 / spectrum->step, "s", {}, 3) +
                              " stands out: take a longer record, or a signal of one frequency");
    in.note("sine", quantityText(quality->frequency, "Hz", spectrum->step / 10) + ", " +
                        std::to_string(quality->counted) + " harmonics; " + std::to_string(spectrum->segments) +
                        " segments of " + quantityText(1 / spectrum->step, "s", {}, 3) +
                        ", cosine window of seven terms");
    const auto uncertainty = jackknifeUncertainty(spectrum->parts.size(), [&](std::size_t part) {
        const auto without = sineQuality(*spectrum, spectrum->densityWithout(part));
        return without ? ((*without).*of)() : std::numeric_limits<double>::quiet_NaN();
    });
    const double value = ((*quality).*of)();
    if (!std::isfinite(value)) return Measured::none("there is no noise at all: a computed signal, it seems");
    return Measured::scattered(value, uncertainty);
}

Measured signalToNoise(QuantityInputs &in)
{
    return ofSine(in, &SineQuality::signalToNoise);
}

Measured signalToNoiseAndDistortion(QuantityInputs &in)
{
    return ofSine(in, &SineQuality::signalToNoiseAndDistortion);
}

Measured totalHarmonicDistortion(QuantityInputs &in)
{
    return ofSine(in, &SineQuality::totalHarmonicDistortion);
}

constexpr Quantity sineTable[] = {
    {"sine_signal_to_noise", "signal to noise of a sine", "dB", Needs::source, signalToNoise, "region"},
    {"sine_signal_to_noise_and_distortion", "signal to noise and distortion", "dB", Needs::source,
     signalToNoiseAndDistortion, "region"},
    {"total_harmonic_distortion", "total harmonic distortion", "%", Needs::source, totalHarmonicDistortion, "region"},
};

} // namespace

QuantityGroup sineQuantities()
{
    return {"sine", sineTable};
}

} // namespace fulvex
