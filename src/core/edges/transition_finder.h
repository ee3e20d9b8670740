#pragma once

#include "edge_list.h"
#include "progress.h"
#include "reference_levels.h"
#include "sample_window.h"

namespace fulvex {

/// One passage between the state levels, at its three reference levels (sample positions). For a falling transition
/// `start` is the passage of the high level.
struct Transition {
    double start, mid, stop;
    bool rising;
};

/// The complete transitions among `edges`: from the last crossing of the first level before the mid crossing to the
/// first crossing of the other level after it, both without another mid crossing in between. Edges whose signal does
/// not reach both levels are left out. Instants on straight lines, or by sinc where the edges are.
/// Source: IEEE Std 181, transition duration.
std::vector<Transition> findTransitions(const SampleSource &source, SampleRange range, const EdgeList &edges,
                                        const ReferenceLevels &levels, EdgeChoice choice, Progress &progress);

/// Median of how many samples the transitions take between the low and the high level, over up to 2000 spread evenly,
/// those that take more than some thousand left out; judged by the slope at the crossing when none is complete,
/// infinite when there are no edges.
double medianTransitionSamples(const SampleSource &source, const EdgeList &edges, const ReferenceLevels &levels);

} // namespace fulvex
