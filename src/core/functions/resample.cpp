#include "convolution.h"
#include "error.h"
#include "functions.h"
#include "number_text.h"
#include "resampled_source.h"
#include "windowed_taps.h"

#include <cmath>

namespace fulvex {

SourcePtr resampleOf(const FormulaOver &of)
{
    SourcePtr source = of.sources[0];
    TimeAxis axis = source->axis();
    const double own = 1 / axis.interval, rate = of.constants[0];
    constexpr double farthest = 1000;
    if (!(rate <= own * farthest && rate >= own / farthest))
        throw Error("", "a rate of " + quantityText(rate, "Hz") + " for samples at " + quantityText(own, "Hz"),
                    "give one within a factor of " + fixedText(farthest, 0) + ", or go in two steps");
    if (rate < own) {
        const double share = rate / own;
        std::vector<double> taps = windowedTaps(FilterPass::low, 0.4 * share, 0, 0.1 * share);
        const auto half = std::int64_t(taps.size() / 2);
        source = convolved(source, std::move(taps), half);
    }
    axis.count = std::int64_t(std::floor(double(axis.count - 1) * axis.interval * rate * (1 + 1e-12))) + 1;
    axis.interval = 1 / rate;
    return resampled(source, axis);
}

SourcePtr interpolateOf(const FormulaOver &of)
{
    const double factor = of.constants[0];
    constexpr double most = 64;
    if (factor != std::round(factor) || !(factor >= 1 && factor <= most))
        throw Error("", "interpolate by a factor that is no whole number from 1 to " + fixedText(most, 0),
                    "take resample() for a rate of any number");
    return factor == 1 ? of.sources[0] : upsampled(of.sources[0], int(factor));
}

} // namespace fulvex
