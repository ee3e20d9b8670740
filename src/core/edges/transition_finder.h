#pragma once

#include "edge_list.h"
#include "progress.h"
#include "reference_levels.h"
#include "sample_window.h"

namespace fulvex {

/// Passages between the state levels, as columns: from the first reference level to the other (samples). A falling one
/// starts at the high level.
struct Transitions {
    RawVector<double> starts, durations;
    std::vector<std::uint8_t> rising;
    std::size_t size() const { return starts.size(); }
};

/// Those of each direction, and in which order they follow each other.
struct TransitionLists {
    Transitions rising, falling;
    std::vector<std::uint8_t> order; ///< whether each rises
    Transitions inOrder() const;
};

/// The complete transitions among `edges`: from the last crossing of the first level before the mid crossing to the
/// first crossing of the other level after it, both without another mid crossing in between. Edges whose signal does
/// not reach both levels are left out. Instants on straight lines, or by sinc where the edges are.
/// Source: IEEE Std 181, transition duration.
Transitions findTransitions(const SampleSource &source, SampleRange range, const EdgeList &edges,
                            const ReferenceLevels &levels, EdgeChoice choice, Progress &progress);

/// The same of both directions in one pass; with a choice the other's list is empty.
TransitionLists findTransitionLists(const SampleSource &source, SampleRange range, const EdgeList &edges,
                                    const ReferenceLevels &levels, EdgeChoice choice, Progress &progress);

/// By straight lines an ideal step takes 0.8 samples; of a transition of less than this, where the samples lie moves
/// its instants: those of a step by the root of 1/12 of a sample, since it is put half-way between two wherever it was.
constexpr double fewestSamplesOfAnInstant = 1.5;

/// Median of how many samples the transitions take between the low and the high level, over 500 to 1000 spread evenly,
/// those that take more than some thousand left out; judged by the slope at the crossing when none is complete,
/// infinite when there are no edges.
double medianTransitionSamples(const SampleSource &source, const EdgeList &edges, const ReferenceLevels &levels);

} // namespace fulvex
