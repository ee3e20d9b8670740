#include "same_everywhere.h"

#include "widest_vectors.h"

#include <cassert>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

/// first - first z / (a (a + 1)) + …: the alternating series of sine and cosine in z = t^2, from its smallest term.
inline __attribute__((always_inline)) double series(double z, int a)
{
    constexpr int last = 18; // (pi / 4)^19 / 19! is below 1e-19
    double sum = 0;
#pragma GCC unroll 16
    for (int n = last + a % 2; n > a; n -= 2) sum = (1 + sum) * (-z / double(n * (n - 1)));
    return 1 + sum;
}

inline __attribute__((always_inline)) std::pair<double, double> sineAndCosine(double x)
{
    const double halves = std::floor(2 * x + 0.5), rest = x - halves / 2; // both exact
    const double t = std::numbers::pi * rest, sine = t * series(t * t, 1), cosine = series(t * t, 0);
    // Of quarters of a turn every other one swaps the two, and two in a row turn the signs of each.
    const double quarter = halves - 4 * std::floor(halves / 4);
    const bool swapped = quarter == 1 || quarter == 3;
    const double first = swapped ? cosine : sine, second = swapped ? sine : cosine;
    return {quarter >= 2 ? -first : first, quarter == 1 || quarter == 2 ? -second : second};
}

FULVEX_WIDEST_VECTORS void sinesAndCosines(const double *x, std::size_t size, double *sines, double *cosines)
{
    for (std::size_t i = 0; i < size; ++i) {
        const auto [sine, cosine] = sineAndCosine(x[i]);
        sines[i] = sine;
        cosines[i] = cosine;
    }
}

} // namespace

std::pair<double, double> sinCosPi(double x)
{
    assert(std::abs(x) < 0x1p50);
    return sineAndCosine(x);
}

void sinCosPi(std::span<const double> x, double *sines, double *cosines)
{
    sinesAndCosines(x.data(), x.size(), sines, cosines);
}

double besselI0(double x)
{
    const double quarter = x * x / 4;
    double term = 1, sum = 1;
    for (int k = 1; term > sum * 1e-17; ++k) sum += term *= quarter / (double(k) * double(k));
    return sum;
}

} // namespace fulvex
