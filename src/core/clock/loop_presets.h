#pragma once

#include <span>

namespace fulvex {

/// A loop as an open standard defines the clock recovery of its measurements.
struct LoopPreset {
    const char *words;  ///< for people
    const char *source; ///< standard and clause
    int order;
    double bandwidth; ///< Hz; 0: by `perRate`
    double perRate;   ///< the symbol rate over the bandwidth; 0: that is given
    double damping;   ///< of order 2
    double bandwidthAt(double rate) const { return perRate > 0 ? rate / perRate : bandwidth; }
};

std::span<const LoopPreset> loopPresets();

} // namespace fulvex
