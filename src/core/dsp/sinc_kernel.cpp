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

/// The sum over the taps of weights that lie on cubics through those of four phases.
FULVEX_WIDEST_VECTORS double sumOnCubics(const SincKernel::Row *rows, const double *of, const double *samples)
{
    constexpr int lanes = 8; // added up in their order: the same bits in vectors of any width
    double sums[lanes] = {};
    for (int tap = 0; tap < SincKernel::taps; tap += lanes) {
        for (int lane = 0; lane < lanes; ++lane) {
            const auto t = std::size_t(tap + lane);
            const double weight = of[0] * rows[0][t] + of[1] * rows[1][t] + of[2] * rows[2][t] + of[3] * rows[3][t];
            sums[lane] += weight * samples[t];
        }
    }
    double all = 0;
    for (const double sum : sums) all += sum;
    return all;
}

} // namespace

double SincKernel::valueAt(const double *samples, double fraction)
{
    static const std::vector<Row> rows = [] {
        std::vector<Row> table;
        for (int phase = 0; phase <= phases; ++phase) table.push_back(row(double(phase) / phases));
        return table;
    }();
    const double at = fraction * phases;
    const int first = std::clamp(int(at) - 1, 0, phases + 1 - nodes);
    const double u = at - first, v = u - 1, w = u - 2, x = u - 3;
    const double of[nodes] = {v * w * x / -6, u * w * x / 2, u * v * x / -2, u * v * w / 6}; // Lagrange
    return sumOnCubics(rows.data() + first, of, samples);
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
