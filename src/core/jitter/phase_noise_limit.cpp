#include "phase_noise_limit.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

std::optional<double> PhaseNoiseLimit::at(double offset) const
{
    if (offsets.empty() || !(offset >= offsets.front() && offset <= offsets.back())) return {};
    const auto after = std::upper_bound(offsets.begin(), offsets.end(), offset);
    if (after == offsets.end()) return levels.back();
    const auto i = std::size_t(after - offsets.begin());
    const double share = std::log(offset / offsets[i - 1]) / std::log(offsets[i] / offsets[i - 1]);
    return levels[i - 1] + share * (levels[i] - levels[i - 1]);
}

PhaseNoiseLimit::Check PhaseNoiseLimit::check(const PhaseNoise &found) const
{
    Check check;
    if (offsets.empty()) return check;
    constexpr double rounding = 1e-9;
    check.whole = offsets.front() >= found.lowest * (1 - rounding) && offsets.back() <= found.highest * (1 + rounding);
    std::vector<double> places = offsets;
    constexpr int aDecade = 20;
    const double decades = std::log10(offsets.back() / offsets.front());
    for (int i = 1; i < int(aDecade * decades); ++i)
        places.push_back(offsets.front() * std::pow(10, double(i) / aDecade));
    for (const double offset : places) {
        const auto level = found.at(std::clamp(offset, found.lowest, found.highest));
        if (!level || offset < found.lowest * (1 - rounding) || offset > found.highest * (1 + rounding)) continue;
        const double below = *at(std::clamp(offset, offsets.front(), offsets.back())) - level->value;
        if (!check.worst || below < check.worst->value) check.worst = PhaseNoise::Point{offset, below};
        if (below < 0) check.passes = false;
        // Of few lines the mean scatters by far more above than a normal distribution's; over a hundred offsets, one in
        // a thousand records that keep their limit by nothing is said to fail.
        constexpr double sure = 2.5;
        if (below < -sure * level->uncertainty) check.fails = true;
    }
    return check;
}

} // namespace fulvex
