#include "extent_of_means.h"

#include "normal_distribution.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

constexpr double far = 6; ///< uncertainties, beyond which chance does not reach

struct Extreme {
    double value = 0, added = 0, variance = 0; ///< the highest told; what chance adds to it; variance of the highest
};

/// The highest of means times `sign`. Where all are told with a normal error, the highest is below x as often as each
/// of them is: the product of their distributions.
Extreme highest(std::span<const UncertainMean> means, double sign)
{
    double top = -INFINITY, sure = -INFINITY;
    for (const UncertainMean &one : means) {
        top = std::max(top, sign * one.mean);
        sure = std::max(sure, sign * one.mean - far * one.uncertainty);
    }
    std::vector<UncertainMean> near; // that may be the highest
    double most = top;
    for (const UncertainMean &one : means) {
        const double reach = sign * one.mean + far * one.uncertainty;
        if (one.uncertainty <= 0 || reach <= sure) continue;
        near.push_back({sign * one.mean, one.uncertainty});
        most = std::max(most, reach);
    }
    Extreme found{top, 0, 0};
    if (near.empty() || most <= sure) return found;
    constexpr int steps = 1000;
    const double step = (most - sure) / steps;
    // E(max) = most - integral of F; E((most - max)^2) = 2 * integral of (most - x) F.
    double first = 0, second = 0;
    for (int i = 0; i < steps; ++i) {
        const double x = sure + (i + 0.5) * step;
        double below = 1;
        for (const UncertainMean &one : near) {
            below *= normalTail((one.mean - x) / one.uncertainty);
            if (below < 1e-12) break;
        }
        first += below * step;
        second += 2 * (most - x) * below * step;
    }
    found.added = std::max(0.0, most - first - top);
    found.variance = std::max(0.0, second - first * first);
    return found;
}

} // namespace

ExtentOfMeans extentOf(std::span<const UncertainMean> means)
{
    if (means.size() < 2) return {};
    const Extreme up = highest(means, 1), down = highest(means, -1);
    const double added = up.added + down.added, told = up.value + down.value;
    ExtentOfMeans extent;
    extent.extent = std::max(0.0, told - added);
    // Of told means, which lie farther apart than the true ones, chance adds less: as much again may be left.
    extent.uncertainty = std::sqrt(up.variance + down.variance + added * added);
    return extent;
}

} // namespace fulvex
