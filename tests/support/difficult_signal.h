#pragma once

#include "signals.h"

#include <cmath>
#include <vector>

namespace fulvex::test {

/// Noise that wanders in and out of the band, some of it exactly on the levels, with gaps where asked.
inline std::vector<double> difficult(std::size_t count, std::uint64_t seed, bool gaps)
{
    Gaussian random(seed);
    std::vector<double> volts;
    double v = 0;
    for (std::size_t i = 0; i < count; ++i) {
        v = 0.8 * v + 0.5 * random();
        volts.push_back(std::round(v * 10) / 10); // lands on the levels often
        if (gaps && random.uniform() < 0.01) volts.back() = NAN;
    }
    return volts;
}

} // namespace fulvex::test
