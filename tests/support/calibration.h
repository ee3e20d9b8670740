#pragma once

#include <string>
#include <vector>

namespace fulvex::test {

/// How often the truth lies within two of the uncertainties that are told.
struct Calibration {
    std::string quantity, signal;
    int runs = 0, held = 0;
    double stray = 0;       ///< rms of value - truth
    double uncertainty = 0; ///< rms of what is told; both in the quantity's unit
    double share() const { return double(held) / runs; }
};

/// Simulates each signal `runs` times with other noise, measures it as a project would, and compares with what is known
/// of how it was made: levels, timing and eye quantities, for noise that is independent from sample to sample and for
/// noise that hangs together.
std::vector<Calibration> calibrations(int runs);

} // namespace fulvex::test
