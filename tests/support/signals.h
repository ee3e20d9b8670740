#pragma once

#include "sample_source.h"

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

namespace fulvex::test {

/// Gaussian numbers, mean 0, standard deviation 1, the same on every machine.
class Gaussian {
public:
    explicit Gaussian(std::uint64_t seed) : m_state(seed * 2654435769u + 88172645463325252u) {}
    double operator()();
    double uniform(); ///< 0 to 1

private:
    std::uint64_t m_state;
    double m_spare = 0;
    bool m_hasSpare = false;
};

/// Data as a sum of Gaussian step responses at instants that are known exactly.
struct DataSpec {
    double samplesPerUi = 12.3;
    std::int64_t unitIntervals = 4000;
    double offset = 3.37;            ///< samples, position of boundary 0
    double low = -0.4, high = 0.4;   ///< V
    std::vector<double> levels = {}; ///< V, rising; empty: low and high
    double edgeSigma = 0.12;         ///< UI, of the Gaussian step
    double randomJitter = 0;         ///< UI rms
    double noise = 0;                ///< V rms
    double dutyDistortion = 0;       ///< UI; rising edges are late by half of it, falling early
    std::uint64_t seed = 1;
    std::function<double(double ui)> wander = [](double) { return 0.0; }; ///< UI late at a UI
    std::function<int(std::int64_t ui)> bit;                              ///< or which of the levels; random when empty
};

struct Data {
    std::vector<double> volts;
    std::vector<double> edges;         ///< sample positions, ascending
    std::vector<std::int64_t> numbers; ///< boundary of each
    std::vector<bool> rising;
    std::vector<bool> bits;
    std::vector<int> symbols; ///< the same of several levels
    SourcePtr source(double interval = 1e-10) const { return makeMemorySource(volts, interval); }
};

Data makeData(const DataSpec &spec);

/// Two-level data of raised-cosine pulses with roll-off 1: band-limited to the symbol rate, and every transition passes
/// the middle exactly at its boundary (no data-dependent jitter).
Data makeBandLimitedData(double samplesPerUi, std::int64_t unitIntervals, std::uint64_t seed);

/// As they lie in a file of 64-bit floats.
std::string bytesOf(const std::vector<double> &values);

double rmsOf(const std::vector<double> &values);
double meanOf(const std::vector<double> &values);

} // namespace fulvex::test
