#include "nested_bins.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

NestedBins NestedBins::over(double least, double most, int between)
{
    constexpr int finest = -600; // below what can be computed with, above where scaling overflows
    constexpr int digits = 53;   // of a double, its leading one included
    NestedBins bins;
    const auto reachOf = [](double size) { // the exponent of the power of two above it: none for nothing
        int exponent = finest;
        if (size > 0) std::frexp(size, &exponent);
        return exponent;
    };
    const double width = (most - least) / between;
    int unused = 0;
    const bool powerOfTwo = std::frexp(width, &unused) == 0.5; // is as wide as itself
    const int digit = reachOf(std::max(std::abs(least), std::abs(most))) - digits;
    bins.exponent = std::max({reachOf(width) - int(powerOfTwo), digit, finest});
    return bins.covering(least, most);
}

NestedBins NestedBins::covering(double low, double high) const
{
    NestedBins bins{exponent, 0, 0};
    bins.first = bins.binOf(low);
    bins.count = int(bins.binOf(high)) + 1;
    return bins;
}

double NestedBins::width() const
{
    return std::ldexp(1.0, exponent);
}

std::int64_t NestedBins::binOf(double value) const
{
    return std::int64_t(std::floor(std::ldexp(value, -exponent))) - first;
}

} // namespace fulvex
