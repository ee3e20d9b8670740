#include "crossing_refiner.h"

#include "quartic_kernel.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// Weights for the quarters of a sample interval.
const SincKernel::Row *quarterRows()
{
    static const SincKernel::Row rows[3] = {SincKernel::row(0.25), SincKernel::row(0.5), SincKernel::row(0.75)};
    return rows;
}

/// The left one of the two samples that a passage lies between: a rising passage ends on the level, a falling one
/// starts there.
std::int64_t sampleBefore(double position, bool rising)
{
    const double left = std::floor(position);
    return std::int64_t(left) - std::int64_t(rising & (left == position));
}

/// Four sums side by side, which the compiler keeps in vectors.
double weighted(const double *samples, const SincKernel::Row &row)
{
    double sums[4] = {};
    for (std::size_t i = 0; i < SincKernel::taps; i += 4) {
        for (std::size_t lane = 0; lane < 4; ++lane) sums[lane] += samples[i + lane] * row[i + lane];
    }
    return (sums[0] + sums[2]) + (sums[1] + sums[3]);
}

/// A polynomial on the nodes 0, 1, 2, 3, 4 (quarters of the sample interval) by Newton's divided differences.
struct Quartic {
    double c[5]; ///< c[0] + x (c[1] + (x - 1) (c[2] + …))
    struct At {
        double value, slope; ///< per quarter
    };
    At at(double x) const
    {
        double value = c[4], slope = 0;
        for (int k = 3; k >= 0; --k) {
            slope = slope * (x - k) + value;
            value = value * (x - k) + c[k];
        }
        return {value, slope};
    }
};

Quartic quarticThrough(const double *values)
{
    Quartic quartic;
    std::copy_n(values, 5, quartic.c);
    for (int order = 1; order < 5; ++order) {
        for (int i = 4; i >= order; --i) quartic.c[i] = (quartic.c[i] - quartic.c[i - 1]) / order;
    }
    return quartic;
}

/// The band-limited signal at the quarters between two samples, minus a level; none where the kernel has no room.
struct Quarters {
    Quarters(SampleWindow &window, std::int64_t left, double level)
    {
        const std::int64_t first = left - SincKernel::before;
        if (first < 0 || first + SincKernel::taps > window.count()) return;
        double scratch[SincKernel::taps];
        const double *samples = window.run(first, SincKernel::taps, scratch);
        f[0] = samples[SincKernel::before] - level;
        f[4] = samples[SincKernel::before + 1] - level;
        for (int q = 0; q < 3; ++q) f[q + 1] = weighted(samples, quarterRows()[q]) - level;
        known = std::isfinite(f[0] + f[1] + f[2] + f[3] + f[4]); // else a gap lies within the kernel
    }
    double f[5] = {};
    bool known = false;
};

/// Its passage within 0 … 4 from a start, by Newton's method; outside when it does not settle.
double newton(const Quartic &quartic, double x)
{
    for (int round = 0; round < 5; ++round) {
        const Quartic::At here = quartic.at(x);
        const double step = here.value / here.slope;
        x -= step;
        if (!(x >= 0 && x <= 4)) return -1;
        if (std::abs(step) < CrossingLanes::settled) return x;
    }
    return -1;
}

} // namespace

double refinedCrossing(SampleWindow &window, double position, double level, bool rising)
{
    const std::int64_t left = sampleBefore(position, rising);
    const Quarters quarters(window, left, level);
    const double *f = quarters.f;
    if (!quarters.known || !(f[0] * f[4] <= 0) || f[0] == f[4]) return position; // no bracket
    const Quartic quartic = quarticThrough(f);
    const auto value = [&](double x) { return quartic.at(x).value; };
    const double quick = newton(quartic, 4 * (position - double(left)));
    if (quick >= 0) return double(left) + quick / 4;
    // Regula falsi, the end that stays being halved (Illinois): keeps the bracket, converges superlinearly.
    double a = 0, b = 4, fa = f[0], fb = f[4], x = 4 * (position - double(left));
    for (int round = 0, side = 0; round < 40; ++round) {
        const double fx = value(x);
        if ((fx > 0) == (fa > 0)) {
            a = x, fa = fx;
            if (side == 1) fb /= 2;
            side = 1;
        } else {
            b = x, fb = fx;
            if (side == -1) fa /= 2;
            side = -1;
        }
        const double next = fb != fa ? (a * fb - b * fa) / (fb - fa) : x;
        const bool settled = std::abs(next - x) < 1e-7;
        x = next;
        if (settled) break;
    }
    return double(left) + x / 4;
}

std::optional<double> refinedSlope(SampleWindow &window, double position)
{
    const auto left = std::int64_t(std::floor(position));
    const Quarters quarters(window, left, 0);
    if (!quarters.known) return {};
    return 4 * quarticThrough(quarters.f).at(4 * (position - double(left))).slope;
}

void refineCrossings(SampleWindow &window, double level, std::span<double> positions,
                     std::span<const std::uint8_t> flags)
{
    constexpr std::size_t size = CrossingLanes::size;
    using Run = double[SincKernel::taps];
    const Run nothing = {};
    Run own[size];
    CrossingLanes lanes;
    std::int64_t left[size];
    for (std::size_t done = 0; done < positions.size(); done += size) {
        const std::size_t count = std::min(size, positions.size() - done);
        std::int64_t least = INT64_MAX, most = INT64_MIN;
        for (std::size_t i = 0; i < count; ++i) {
            left[i] = sampleBefore(positions[done + i], flags[done + i] & EdgeList::rising);
            lanes.at[i] = 4 * (positions[done + i] - double(left[i]));
            least = std::min(least, left[i]);
            most = std::max(most, left[i]);
        }
        std::fill_n(lanes.samples, size, nothing); // nobody looks at what such lanes give
        const auto isThere = [&](std::int64_t from, std::int64_t to) {
            return from >= SincKernel::before && to - SincKernel::before + SincKernel::taps <= window.count();
        };
        const std::int64_t first = least - SincKernel::before;
        if (const double *const all =
                isThere(least, most) ? window.within(first, most - least + SincKernel::taps) : nullptr) {
            for (std::size_t i = 0; i < count; ++i) lanes.samples[i] = all + (left[i] - least);
        } else {
            for (std::size_t i = 0; i < count; ++i) {
                if (!isThere(left[i], left[i])) continue;
                const double *const run = window.run(left[i] - SincKernel::before, SincKernel::taps, own[i]);
                if (run != own[i]) std::copy_n(run, SincKernel::taps, own[i]); // they may be far apart
                lanes.samples[i] = own[i];
            }
        }
        solveQuartics(lanes, quarterRows(), level);
        for (std::size_t i = 0; i < count; ++i) {
            const bool settled = lanes.samples[i] != nothing && lanes.at[i] >= 0 && lanes.at[i] <= 4 &&
                                 std::abs(lanes.step[i]) < CrossingLanes::settled;
            double &position = positions[done + i];
            position = settled ? double(left[i]) + lanes.at[i] / 4
                               : refinedCrossing(window, position, level, flags[done + i] & EdgeList::rising);
        }
    }
}

} // namespace fulvex
