#pragma once

#include "edge_finder.h"
#include "symbol_levels.h"
#include "symbol_timing.h"

#include <memory>
#include <string>

namespace fulvex {

/// The transitions of a signal of several levels.
struct SymbolEdges {
    EdgeList edges; ///< each with its step; those of one direction may follow on each other
    SymbolLevels levels;
    std::string reason; ///< not empty: there are none, why, and what would help
};

/// Finds the transitions of a signal whose symbols take several levels, each at the instant at which it passes the
/// middle between the level that it leaves and the one that it reaches. Which transitions occur is told by the symbols
/// at the middle of the unit intervals of a slow loop (a two-hundredth of the symbol rate) that runs on the crossings
/// of the threshold next to the middle one; then each is the crossing of its own middle that lies nearest to where it
/// is expected, within 0.6 of a unit interval. Instants by windowed sinc where a unit interval has fewer than 32
/// samples, unless `interpolation` says otherwise.
/// `samples`: the histogram of all of the range. `expected`: as findSymbolTiming() takes it.
/// Source: docs/methods.md, "Several amplitude levels".
SymbolEdges findSymbolEdges(const std::shared_ptr<const SampleSource> &source, SampleRange range,
                            const AmplitudeHistogram &samples, const SymbolLevelRule &rule,
                            std::optional<double> expected, EdgeInterpolation interpolation, Progress &progress);

} // namespace fulvex
