#include "normal_distribution.h"
#include "number_text.h"
#include "quantity_table.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace fulvex {

namespace {

using In = QuantityInputs &;

constexpr const char *settings = "region pattern data opening method";
constexpr const char *atRatio = "region pattern data opening method ber";

/// Notes on what a part rests; throws Unmeasurable where there is none.
std::shared_ptr<const JitterMakeUp> makeUp(In in)
{
    const auto found = in.jitter();
    if (!found->reason.empty()) throw Unmeasurable{found->reason};
    const auto number = [](auto value) { return std::to_string(value); };
    in.note("edges", number(found->count) + " of " + number(found->unitIntervals) + " unit intervals");
    const DataDependence &data = found->data;
    if (data.pattern > 0)
        in.note("pattern", number(data.pattern) + " UI, " + number(std::int64_t(data.repeats)) + " repeats");
    else
        in.note("pattern", "none: by " + number(data.groups.size()) + " histories of symbols");
    in.note("lines", found->lines.empty() ? "none stands out"
                                          : number(found->lines.size()) + ", the strongest at " +
                                                quantityText(found->lines.front().frequency, "Hz", {}, 5));
    return found;
}

/// The random part and what is bounded, by the row's method.
struct Parts {
    std::shared_ptr<const JitterMakeUp> found;
    double random, randomUncertainty;
    std::shared_ptr<const BoundedJitter> bounded;
    std::vector<UncertaintyPart> uncertain; ///< of the bounded ones
    double totalAt(double ratio) const { return bounded->totalAt(ratio, random); }
    /// Of a total, of what the parts leave uncertain of it.
    std::vector<UncertaintyPart> uncertainAt(double ratio) const
    {
        std::vector<UncertaintyPart> parts = uncertain;
        parts.push_back({"random", 2 * normalQuantile(ratio) * randomUncertainty});
        return parts;
    }
};

std::shared_ptr<const JitterTails> tails(In in)
{
    const auto found = in.jitterTails();
    if (!found->fit.reason.empty()) throw Unmeasurable{found->fit.reason};
    in.note("tails", found->fit.extent > 0 ? "a normal distribution behind " +
                                                 quantityText(found->fit.extent, "s", {}, 3) + " that are bounded"
                                           : std::string("a normal distribution alone"));
    return found;
}

bool byTails(In in)
{
    return in.entry().method == "tail";
}

Parts partsOf(In in)
{
    Parts parts;
    parts.found = makeUp(in);
    parts.random = parts.found->random;
    parts.randomUncertainty = parts.found->randomUncertainty;
    parts.bounded = parts.found->bounded;
    parts.uncertain = {{"lines", parts.found->periodicUncertainty()}, {"pattern", parts.found->data.uncertainty}};
    in.note("method", byTails(in) ? "tail" : "spectral");
    if (byTails(in)) {
        const auto by = tails(in);
        parts.random = by->fit.random;
        parts.randomUncertainty = by->fit.uncertainty();
        parts.bounded = by->bounded;
    }
    return parts;
}

Measured randomJitter(In in)
{
    const Parts parts = partsOf(in);
    return Measured::one(parts.random, {{"scatter", parts.randomUncertainty}});
}

Measured periodicJitter(In in)
{
    const auto found = makeUp(in);
    return Measured::one(found->periodic(), {{"scatter", found->periodicUncertainty()}});
}

Measured dataDependent(In in)
{
    const auto found = makeUp(in);
    if (!found->data.reason.empty()) return Measured::none(found->data.reason);
    return Measured::one(found->data.peakToPeak, {{"scatter", found->data.uncertainty}});
}

Measured dutyCycle(In in)
{
    const auto found = makeUp(in);
    const auto apart = found->dutyCycle();
    if (!apart)
        return Measured::none(std::string("no ") + (found->rising.count == 0 ? "rising" : "falling") +
                              " transitions: duty-cycle distortion needs both");
    return Measured::one(*apart, {{"scatter", found->dutyCycleUncertainty()}});
}

Measured boundedUncorrelated(In in)
{
    if (!byTails(in)) return Measured::none("only the tail method tells: set the row's method to it");
    partsOf(in);
    const auto by = tails(in);
    return Measured::one(by->fit.apart, {{"scatter", by->fit.apartUncertainty}});
}

double ratioOf(In in)
{
    constexpr double usual = 1e-12;
    const double ratio = in.entry().ber.value_or(usual);
    if (!(ratio >= 1e-18 && ratio <= 0.1))
        throw Unmeasurable{"an error ratio lies within 1e-18 and 0.1: give another \"ber\""};
    return ratio;
}

Measured totalJitter(In in)
{
    const double ratio = ratioOf(in);
    const Parts parts = partsOf(in);
    return Measured::one(parts.totalAt(ratio), parts.uncertainAt(ratio));
}

Measured eyeOpening(In in)
{
    const double ratio = ratioOf(in);
    const Parts parts = partsOf(in);
    return Measured::one(parts.found->edges.unitInterval - parts.totalAt(ratio), parts.uncertainAt(ratio));
}

/// Dual-Dirac: of transition density 1, at one error in 10^12.
Measured dualDirac(In in)
{
    constexpr double ratio = 1e-12;
    const Parts parts = partsOf(in);
    return Measured::one(parts.totalAt(ratio) - 2 * normalQuantile(ratio) * parts.random, parts.uncertainAt(ratio));
}

Measured extent(In in)
{
    const Parts parts = partsOf(in);
    return Measured::one(parts.bounded->extent(), parts.uncertain);
}

constexpr Quantity jitterTable[] = {
    {"random_jitter", "random jitter", "s", Needs::clock, randomJitter, settings},
    {"deterministic_jitter", "deterministic jitter", "s", Needs::clock, dualDirac, settings},
    {"deterministic_jitter_pp", "deterministic jitter, pp", "s", Needs::clock, extent, settings},
    {"periodic_jitter", "periodic jitter", "s", Needs::clock, periodicJitter, settings},
    {"data_dependent_jitter", "data-dependent jitter", "s", Needs::clock, dataDependent, settings},
    {"duty_cycle_distortion", "duty-cycle distortion", "s", Needs::clock, dutyCycle, settings},
    {"bounded_uncorrelated_jitter", "bounded uncorrelated jitter", "s", Needs::clock, boundedUncorrelated, settings},
    {"total_jitter", "total jitter", "s", Needs::clock, totalJitter, atRatio},
    {"eye_opening", "eye opening", "s", Needs::clock, eyeOpening, atRatio},
};

} // namespace

bool isOfJitter(const Quantity &quantity)
{
    return std::any_of(std::begin(jitterTable), std::end(jitterTable),
                       [&](const Quantity &one) { return one.measure == quantity.measure; });
}

QuantityGroup jitterQuantities()
{
    return {"jitter make-up", jitterTable};
}

} // namespace fulvex
