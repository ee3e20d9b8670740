#include "normal_distribution.h"

#include <cmath>
#include <numbers>

namespace fulvex {

double normalTail(double q)
{
    return 0.5 * std::erfc(q / std::numbers::sqrt2);
}

double normalQuantile(double part)
{
    double low = -40, high = 40; // beyond which nothing is left that a number could tell
    for (int i = 0; i < 100; ++i) {
        const double middle = (low + high) / 2;
        (normalTail(middle) > part ? low : high) = middle;
    }
    return (low + high) / 2;
}

} // namespace fulvex
