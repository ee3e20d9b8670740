#include "same_everywhere.h"

#include <cassert>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

/// first - first z / (a (a + 1)) + …: the alternating series of sine and cosine in z = t^2, from its smallest term.
double series(double z, int a)
{
    constexpr int last = 18; // (pi / 4)^19 / 19! is below 1e-19
    double sum = 0;
    for (int n = last + a % 2; n > a; n -= 2) sum = (1 + sum) * (-z / double(n * (n - 1)));
    return 1 + sum;
}

} // namespace

std::pair<double, double> sinCosPi(double x)
{
    assert(std::abs(x) < 0x1p50);
    const double halves = std::floor(2 * x + 0.5), rest = x - halves / 2; // both exact
    const double t = std::numbers::pi * rest, sine = t * series(t * t, 1), cosine = series(t * t, 0);
    switch (int(halves - 4 * std::floor(halves / 4))) {
    case 0:
        return {sine, cosine};
    case 1:
        return {cosine, -sine};
    case 2:
        return {-sine, -cosine};
    default:
        return {-cosine, sine};
    }
}

double besselI0(double x)
{
    const double quarter = x * x / 4;
    double term = 1, sum = 1;
    for (int k = 1; term > sum * 1e-17; ++k) sum += term *= quarter / (double(k) * double(k));
    return sum;
}

} // namespace fulvex
