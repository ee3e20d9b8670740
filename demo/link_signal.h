#pragma once

#include <cstdint>
#include <functional>
#include <vector>

namespace fulvex::demo {

/// The pattern's bit: x^9 + x^5 + 1, 511 bits, repeating.
bool linkBit(std::int64_t index);

/// Everything that is wrong with the Brackwater camera link, in numbers. See demo/README.md for the story.
struct LinkImpairments {
    std::uint64_t seed = 1;
    double sampleRate = 8e9; ///< samples a second
    std::int64_t samples = 1000000;
    double symbolRate = 640e6 * (1 - 3.1e-6); ///< Bd; the camera's oscillator is 3.1 ppm slow
    double firstBoundary = 0.4e-9;            ///< s, of the first unit interval
    double amplitude = 0.41;                  ///< V, differential, from the middle to either state
    double edgeSigma = 190e-12;               ///< s, of the Gaussian step response
    double tailShare = 0.10;        ///< of the step that arrives late over the cable (intersymbol interference)
    double tailTime = 0.9e-9;       ///< s, its time constant
    double legSkew = 40e-12;        ///< s, the N leg is later
    double randomJitter = 4.5e-12;  ///< s rms, Gaussian, each edge its own
    double rippleFrequency = 2.2e6; ///< Hz, the converter's
    double ripplePeak = 9e-12;      ///< s, sinusoidal jitter it causes, peak
    double wanderFrequency = 32e3;  ///< Hz, of the oscillator
    double wanderPeak = 440e-12;    ///< s, peak
    double legNoise = 0.0035;       ///< V rms, white, each leg its own
    double fullScale = 0.4;         ///< V, of the 12-bit converter, a leg from -fullScale to +fullScale
    std::int64_t dentedBit = 68519; ///< the first one at or after it in the middle of 5 or more ones; negative: none
    double dentDepth = 0.39;        ///< V, differential
    double dentSigma = 170e-12;     ///< s, of its Gaussian shape
    std::function<bool(std::int64_t)> bit = linkBit; ///< what is sent
};

struct LinkCapture {
    std::vector<std::int16_t> p, n; ///< converter codes
    double lsb = 0;                 ///< V a count in the file
    std::int64_t dentedBit = -1;    ///< as found
    double dentTime = 0;            ///< s, its deepest point
};

/// Both legs as the converter stores them. The differential signal is a sum of analytic step responses (a Gaussian
/// edge and an exponential tail behind it) at jittered instants, so every impairment is known exactly.
LinkCapture makeLink(const LinkImpairments &impairments);

} // namespace fulvex::demo
