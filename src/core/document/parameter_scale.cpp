#include "parameter_scale.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

ParameterScale::ParameterScale(const ParameterEntry &entry) : step(entry.step.value_or(0))
{
    const double value = entry.value;
    low = entry.min.value_or(value > 0 ? value / 10 : value < 0 ? 2 * value : -1);
    high = entry.max.value_or(value > 0 ? 10 * value : value < 0 ? -value : 1);
    low = std::min(low, value);
    high = std::max({high, value, low + 1e-3 * std::abs(low)});
    if (!(high > low)) high = low + 1;
    logarithmic = low > 0 && (entry.scale == "logarithmic" || (entry.scale.empty() && step == 0 && high / low > 20));
}

double ParameterScale::valueAt(double share) const
{
    share = std::clamp(share, 0.0, 1.0);
    const double exact = logarithmic ? low * std::pow(high / low, share) : low + share * (high - low);
    const double size = logarithmic ? exact : high - low;
    const double digit = step > 0 ? step : std::pow(10, std::floor(std::log10(size)) - (logarithmic ? 2 : 3));
    const double from = step > 0 ? low : 0;
    return std::clamp(from + std::round((exact - from) / digit) * digit, low, high);
}

double ParameterScale::shareOf(double value) const
{
    const double share = logarithmic ? std::log(value / low) / std::log(high / low) : (value - low) / (high - low);
    return std::isfinite(share) ? std::clamp(share, 0.0, 1.0) : 0;
}

} // namespace fulvex
