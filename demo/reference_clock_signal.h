#pragma once

#include <cstdint>
#include <vector>

namespace fulvex::demo {

/// The oscillator that all of the tide station's rates come from. Its supply is the link's: what the converter puts on
/// it, the link's transmitter repeats. See demo/README.md for the story.
struct ReferenceClock {
    std::uint64_t seed = 11;
    double sampleRate = 1e9; ///< samples a second
    std::int64_t samples = 1'000'000;
    double frequency = 38.4e6;      ///< Hz
    double firstEdge = 7.3e-9;      ///< s
    double swing = 1.2;             ///< V, from 0 on
    double edgeSigma = 1.6e-9;      ///< s, of the Gaussian step response
    double whiteJitter = 3e-12;     ///< s rms, each edge its own: white phase noise
    double walk = 0.3e-12;          ///< s rms, from edge to edge, which adds up: phase noise that falls as 1/f^2
    double rippleFrequency = 2.2e6; ///< Hz, the converter's
    double ripplePeak = 6e-12;      ///< s, half of peak to peak
    double noise = 0.5e-3;          ///< V rms, white, the capture's own
    double lsb = 4.0 / 65536;       ///< V a code
    /// L in dBc/Hz at an offset, Hz, of the clock alone, without its line.
    double levelAt(double offset) const;
    double lineLevel() const; ///< dBc
};

std::vector<std::int16_t> makeReferenceClock(const ReferenceClock &is);

} // namespace fulvex::demo
