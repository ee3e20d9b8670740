#pragma once

#include "phase_noise.h"

#include <optional>
#include <utility>
#include <vector>

namespace fulvex {

/// The highest phase noise that is allowed: straight lines over the logarithm of the offset between points.
struct PhaseNoiseLimit {
    std::vector<double> offsets, levels; ///< Hz, rising; dBc/Hz
    /// dBc/Hz; none beyond its points.
    std::optional<double> at(double offset) const;
    struct Check {
        std::optional<PhaseNoise::Point> worst; ///< where the curve comes nearest, and how many dB below; none tested
        bool passes = true;                     ///< where it could be tested
        bool fails = false;                     ///< somewhere by more than it is uncertain
        bool whole = true;                      ///< all of it could be
    };
    /// The curve without lines against it, at its own points and twenty offsets a decade between them.
    Check check(const PhaseNoise &found) const;
};

} // namespace fulvex
