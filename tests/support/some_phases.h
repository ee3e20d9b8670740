#pragma once

#include "phase_kernels.h"

#include <random>
#include <vector>

namespace fulvex::test {

/// Phases of so many samples, and some behind them.
inline std::vector<std::uint32_t> somePhases(std::mt19937_64 &random, std::size_t count)
{
    std::vector<std::uint32_t> phases(count + lanePadding + 64);
    std::uint32_t at = std::uint32_t(random());
    for (std::uint32_t &phase : phases) phase = at, at += std::uint32_t(random() % ClockPhase::unitInterval);
    // And about where questions turn.
    for (const double turn : {0.0, 0.25, 0.4, 0.5, 0.6, 0.75})
        phases[random() % count] = std::uint32_t(turn * ClockPhase::unitInterval) + std::uint32_t(random() % 3) - 1;
    return phases;
}

} // namespace fulvex::test
