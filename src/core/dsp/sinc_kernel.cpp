#include "sinc_kernel.h"

#include "same_everywhere.h"
#include "widest_vectors.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

SincKernel::Row SincKernel::row(double fraction)
{
    constexpr double beta = 0.1102 * (90 - 8.7), half = taps / 2;
    Row weights;
    double sum = 0;
    for (int i = 0; i < taps; ++i) {
        const double distance = double(i - before) - fraction;
        const double inside = 1 - distance * distance / (half * half);
        const double window = inside > 0 ? besselI0(beta * std::sqrt(inside)) : 0;
        const double angle = std::numbers::pi * distance;
        weights[std::size_t(i)] = window * (distance == 0 ? 1 : sinCosPi(distance).first / angle);
        sum += weights[std::size_t(i)];
    }
    for (double &weight : weights) weight /= sum;
    return weights;
}

/// Tap by tap over a stretch that stays in the first-level cache: sums in the same order on every machine.
FULVEX_WIDEST_VECTORS static void filterStretch(const double *samples, const double *weights, double *out,
                                                std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = 0;
    for (int tap = 0; tap < SincKernel::taps; tap += 4) {
        const double a = weights[tap], b = weights[tap + 1], c = weights[tap + 2], d = weights[tap + 3];
        const double *from = samples + tap;
        for (std::size_t i = 0; i < count; ++i)
            out[i] += a * from[i] + b * from[i + 1] + c * from[i + 2] + d * from[i + 3];
    }
}

void SincKernel::filter(const double *samples, const Row &weights, double *out, std::size_t count)
{
    constexpr std::size_t stretch = 1024;
    for (std::size_t done = 0; done < count; done += stretch)
        filterStretch(samples + done, weights.data(), out + done, std::min(stretch, count - done));
}

} // namespace fulvex
