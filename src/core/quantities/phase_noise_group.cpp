#include "number_text.h"
#include "quantity_table.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using In = QuantityInputs &;

std::string hertz(double value)
{
    return quantityText(value, "Hz", {}, 4);
}

std::shared_ptr<const PhaseNoise> noiseOf(In in)
{
    const auto found = in.phaseNoise();
    if (!found->reason.empty()) throw Unmeasurable{found->reason};
    in.note("carrier", hertz(found->carrier) + (found->ofData ? ", the symbol rate of data" : ""));
    in.note("offsets", hertz(found->lowest) + " to " + hertz(found->highest));
    in.note("lines", std::to_string(found->lines.size()) + ", in dBc");
    return found;
}

/// What would be needed for an offset that is too low or too high.
std::string beyond(const PhaseNoise &found, double offset)
{
    if (offset < found.lowest)
        return "an offset of " + hertz(offset) + " needs a record of " + quantityText(recordFor(offset), "s", {}, 3) +
               "; this one tells from " + hertz(found.lowest) + " on: take a longer capture, or a higher offset";
    return "an offset of " + hertz(offset) + " lies beyond " + hertz(found.highest) + ", " +
           (found.ofData ? "up to where edges that data leave out allow" : "half the rate of the edges") +
           ": choose a lower one";
}

Measured phaseNoiseAt(In in)
{
    const auto offset = in.entry().offset;
    if (!offset || !(*offset > 0)) return Measured::none("phase noise is told at an offset: give \"offset\", in Hz");
    const auto found = noiseOf(in);
    const auto at = found->at(*offset);
    if (!at) return Measured::none(beyond(*found, *offset));
    return Measured::one(at->value, {{"scatter", at->uncertainty}});
}

Measured integratedJitter(In in)
{
    const auto found = noiseOf(in);
    const double from = in.entry().from.value_or(found->lowest), to = in.entry().toFrequency.value_or(found->highest);
    constexpr double rounding = 1e-9;
    if (!(from < to))
        return Measured::none("it is integrated from a lower to a higher offset: \"from\", \"to\", in Hz");
    if (from < found->lowest * (1 - rounding)) return Measured::none(beyond(*found, from));
    if (to > found->highest * (1 + rounding)) return Measured::none(beyond(*found, to));
    const bool lines = in.entry().lines;
    in.note("integrated", hertz(from) + " to " + hertz(to) + (lines ? ", lines included" : ", lines left out"));
    const PhaseNoise::Value jitter = found->jitter({from, to, lines, {}});
    return Measured::one(jitter.value, {{"scatter", jitter.uncertainty}});
}

constexpr Quantity phaseNoiseTable[] = {
    {"phase_noise_at", "phase noise", "dBc/Hz", Needs::source, phaseNoiseAt, "clock region levels interpolate offset"},
    {"integrated_jitter", "integrated jitter", "s", Needs::source, integratedJitter,
     "clock region levels interpolate from to_frequency lines"},
};

} // namespace

QuantityGroup phaseNoiseQuantities()
{
    return {"phase noise", phaseNoiseTable};
}

} // namespace fulvex
