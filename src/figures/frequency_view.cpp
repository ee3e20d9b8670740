#include "frequency_view.h"

namespace fulvex {

std::pair<double, double> FrequencyView::shown() const
{
    const double least = logarithmic ? step : 0;
    if (!(highest > least)) return {0, std::max(highest, step)};
    const double wide =
        std::clamp(span.value_or(highest - least), std::min(4 * step, highest - least), highest - least);
    const double low = std::clamp(centre.value_or((highest + least) / 2) - wide / 2, least, highest - wide);
    return {low, low + wide};
}

AxisScale FrequencyView::scale(const char *unit) const
{
    const auto [low, high] = shown();
    return {low, high, unit, logarithmic && low > 0};
}

std::pair<double, double> FrequencyView::between(double shareFrom, double shareTo) const
{
    const AxisScale now = scale();
    const double least = logarithmic ? step : 0;
    double low = now.valueAt(shareFrom), high = now.valueAt(shareTo);
    if (!now.logarithmic) { // keeps its width at the ends
        const double wide = std::clamp(high - low, std::min(8 * step, highest - least), highest - least);
        low = std::clamp(low, least, highest - wide);
        high = low + wide;
    }
    return {std::clamp(low, least, highest), std::clamp(high, least, highest)};
}

std::pair<double, double> FrequencyView::closer(double share, double factor) const
{
    return between(share - share / factor, share + (1 - share) / factor);
}

std::pair<double, double> FrequencyView::moved(double share) const
{
    return between(share, 1 + share);
}

} // namespace fulvex
