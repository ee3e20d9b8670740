#pragma once

#include "numbered_edges.h"
#include "progress.h"

#include <memory>
#include <optional>

namespace fulvex {

/// A phase-locked loop's jitter transfer H. Order 2: H(s) = (2 z wn s + wn^2) / (s^2 + 2 z wn s + wn^2); order 1:
/// H(s) = wn / (s + wn).
struct LoopRule {
    int order = 2;
    double bandwidth = 1e6;  ///< Hz: the -3 dB frequency of H, or of 1 - H with ofError
    double damping = 0.7071; ///< z, order 2 only
    bool ofError = false;
    /// Natural angular frequency wn, rad/s.
    double naturalFrequency() const;
    /// |H| at a frequency: what the loop follows.
    double jitterTransfer(double frequency) const;
    /// |1 - H|: what it leaves as jitter.
    double errorTransfer(double frequency) const;
};

/// The straight line through the edges' instants; with `period` (samples per unit interval) that one exactly, at the
/// best offset.
Clock fixedClock(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing, TimeAxis axis,
                 std::optional<double> period);

/// A loop that follows the edges' deviation from the fitted line (from the given period's line with `period`). The
/// loop runs on the unit interval grid by the bilinear transform, prewarped so that the -3 dB frequency is kept;
/// unit intervals without a transition carry the phase on, on the straight line between their neighbours. The bandwidth
/// is at most highestCorner of the rate. Until 3 / bandwidth after the first edge the loop counts as not settled.
Clock loopClock(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing, TimeAxis axis,
                std::optional<double> period, const LoopRule &rule, Progress &progress);
/// The highest bandwidth that a loop has on a grid of unit intervals, as a share of the symbol rate: what is faster
/// than half of it is not there to be followed.
constexpr double highestCorner = 0.45;

} // namespace fulvex
