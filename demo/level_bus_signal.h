#pragma once

#include <array>
#include <cstdint>
#include <vector>

namespace fulvex::demo {

/// The bus between the tide station's sensors and its logger: a clock of 25 MHz, and beside it symbols of four and of
/// three levels, one at each of its edges. All three follow the same oscillator, which wanders. See demo/README.md for
/// the story.
struct LevelBus {
    std::uint64_t seed = 7;
    double sampleRate = 1e9; ///< samples a second
    std::int64_t samples = 400'000;
    double symbolRate = 50e6;     ///< Bd
    double firstBoundary = 13e-9; ///< s
    /// V; they should be 0, 1, 2 and 3: the third one sags.
    std::array<double, 4> four{0, 1, 2.16, 3};
    std::array<double, 3> three{-1, 0, 1}; ///< V
    double clockSwing = 1.2;               ///< V, from 0 on
    double edgeSigma = 2.1e-9;             ///< s, of the Gaussian step response
    double randomJitter = 60e-12;          ///< s rms, each edge its own, of the data alone
    double wanderFrequency = 15e3;         ///< Hz, of the oscillator
    double wanderPeak = 22e-9;             ///< s, peak: more than a unit interval
    double noise = 0.022;                  ///< V rms, white, each line its own
    double lsb = 8.0 / 65536;              ///< V a code
};

struct LevelBusCapture {
    std::vector<std::int16_t> clock, four, three;
    std::vector<int> fourSymbols, threeSymbols; ///< of unit interval 0, 1, …
};

/// The four-level symbols are random; the three-level ones go round -1, 0, 1, 0 for each one of a random bit stream and
/// stay for each zero, so that they never pass two levels at once (as MLT-3 in IEEE Std 802.3, clause 25).
LevelBusCapture makeLevelBus(const LevelBus &is);

} // namespace fulvex::demo
