#pragma once

#include <cstdint>
#include <vector>

namespace fulvex::demo {

/// The drive of the gate's latch: 24 V pulses of three widths into a solenoid with its cable, which rings, and a few
/// that a loose contact lets only begin. All of it in numbers; see demo/README.md for the story.
struct LatchDrive {
    std::uint64_t seed = 3;
    double sampleRate = 10e6; ///< samples a second
    std::int64_t samples = 1'000'000;
    double high = 24;                                   ///< V; low is 0
    double resonance = 120e3;                           ///< Hz, of cable and solenoid, undamped
    double damping = 0.45;                              ///< of the second-order step response
    std::vector<double> widths{250e-6, 600e-6, 1.4e-3}; ///< s, one after the other
    double pause = 1.1e-3;                              ///< s, between pulses
    double pauseJitter = 40e-6;                         ///< s rms
    std::vector<int> loose{9, 23, 24, 41};              ///< before these pulses the contact bounces
    double looseHeight = 0.42;                          ///< of the swing
    double looseWidth = 90e-6;                          ///< s
    double noise = 0.08;                                ///< V rms, white
    double lsb = 36.0 / 16384;                          ///< V a code: 14 bits
    double overshoot() const;                           ///< of the swing, from the damping
    double riseTime() const;                            ///< s, 10 to 90 % of the step response
};

struct LatchCapture {
    std::vector<std::int16_t> codes;
    int pulses = 0;                ///< whole ones
    std::vector<double> runtTimes; ///< s, where they begin
};

LatchCapture makeLatch(const LatchDrive &is);

} // namespace fulvex::demo
