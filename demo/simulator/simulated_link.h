#pragma once

#include "link_signal.h"

#include <cstdint>
#include <random>
#include <string>
#include <vector>

namespace fulvex::demo {

/// What is wrong with the simulated link at present, besides what the camera link has in any case.
struct SimulatedFaults {
    double randomJitter = 4.5e-12, ripplePeak = 9e-12; ///< s rms, s
    double noise = 0.0035;                             ///< V rms, each leg its own
    bool dent = false;                                 ///< one bit of the next capture
};

/// The Brackwater camera link, capture after capture, fast enough for a live source: step responses and noise come from
/// tables, so that a million samples of both legs take some ten milliseconds. The same seed gives the same captures.
class SimulatedLink {
public:
    SimulatedLink(std::uint64_t seed, std::size_t samples);
    void make(const SimulatedFaults &faults);
    const std::vector<std::int16_t> &p() const { return m_p; }
    const std::vector<std::int16_t> &n() const { return m_n; }
    double interval() const; ///< s
    double scale() const;    ///< V a count

private:
    void addStep(std::vector<float> &leg, double place, float step);
    void finish(std::vector<float> &leg, float level, float noise, std::vector<std::int16_t> &codes);
    LinkImpairments m_is;
    std::mt19937_64 m_random;
    std::vector<float> m_noise; ///< normal, of variance 1
    std::vector<std::vector<float>>
        m_steps; ///< a step's response from its start on, by where between two samples it is
    std::vector<float> m_legP, m_legN;
    std::vector<std::int16_t> m_p, m_n;
};

} // namespace fulvex::demo
