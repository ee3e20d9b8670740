#include "sinc_kernel.h"

#include "same_everywhere.h"
#include "widest_vectors.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

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

namespace {

constexpr int phases = 128, nodes = 4;

/// Rows of so many phases, evenly spread over a sample.
const SincKernel::Row *phaseRows()
{
    static const std::vector<SincKernel::Row> rows = [] {
        std::vector<SincKernel::Row> table;
        for (int phase = 0; phase <= phases; ++phase) table.push_back(SincKernel::row(double(phase) / phases));
        return table;
    }();
    return rows.data();
}

/// Sums over the taps of weights that lie on cubics through those of four phases.
FULVEX_WIDEST_VECTORS void sumsOnCubics(const SincKernel::Row *table, const double *samples, const double *at,
                                        std::size_t size, double *values)
{
    for (std::size_t i = 0; i < size; ++i) {
        const double left = std::floor(at[i]), phase = (at[i] - left) * phases;
        const double *const from = samples + (std::ptrdiff_t(left) - SincKernel::before);
        const int first = std::clamp(int(phase) - 1, 0, phases + 1 - nodes);
        const SincKernel::Row *const rows = table + first;
        const double u = phase - first, v = u - 1, w = u - 2, x = u - 3; // Lagrange
        const double a = v * w * x * (-1.0 / 6), b = u * w * x * 0.5, c = u * v * x * -0.5, d = u * v * w * (1.0 / 6);
        constexpr int lanes = 8; // added up in an order of their own: the same bits in vectors of any width
        double sums[lanes] = {};
        for (int tap = 0; tap < SincKernel::taps; tap += lanes) {
            for (int lane = 0; lane < lanes; ++lane) {
                const auto t = std::size_t(tap + lane);
                sums[lane] += (a * rows[0][t] + b * rows[1][t] + c * rows[2][t] + d * rows[3][t]) * from[t];
            }
        }
        for (int half = lanes / 2; half > 0; half /= 2)
            for (int lane = 0; lane < half; ++lane) sums[lane] += sums[lane + half];
        values[i] = sums[0];
    }
}

} // namespace

void SincKernel::valuesAt(const double *samples, std::span<const double> at, double *values)
{
    sumsOnCubics(phaseRows(), samples, at.data(), at.size(), values);
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
