#pragma once

#include <algorithm>
#include <chrono>

namespace fulvex::bench {

/// Steps a second, in 1e9, that this core takes now of a chain of additions, one a clock: what is left of its clock on
/// a machine that others use as well.
inline double coreClock()
{
    constexpr long steps = 20000000;
    double best = 0;
    for (int i = 0; i < 5; ++i) {
        const auto start = std::chrono::steady_clock::now();
        unsigned long chain = 0;
        for (long step = 0; step < steps; ++step) asm volatile("add $1, %0" : "+r"(chain));
        best = std::max(best, double(steps) / double((std::chrono::steady_clock::now() - start).count()));
    }
    return best;
}

} // namespace fulvex::bench
