#pragma once

#include <cstdint>
#include <vector>

namespace fulvex::demo {

/// Input and output of the hydrophone's amplifier while the sounder pings on: a tone, amplified, late, with noise of
/// its own. See demo/README.md for the story.
struct AmplifierTest {
    std::uint64_t seed = 5;
    double sampleRate = 5e6; ///< samples a second
    std::int64_t samples = 400'000;
    double tone = 38.4e3;                                     ///< Hz
    double inputPeak = 12e-3;                                 ///< V
    double gain = 94;                                         ///< V/V; the data sheet says 100 within half a decibel
    double delay = 1.85e-6;                                   ///< s
    double inputNoise = 40e-6;                                ///< V rms
    double outputNoise = 6e-3;                                ///< V rms
    double inputLsb = 40e-3 / 65536, outputLsb = 4.0 / 65536; ///< V a code
};

struct AmplifierCapture {
    std::vector<std::int16_t> input, output;
};

AmplifierCapture makeAmplifier(const AmplifierTest &is);

} // namespace fulvex::demo
