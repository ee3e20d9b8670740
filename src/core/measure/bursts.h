#pragma once

#include "edge_list.h"
#include "population.h"

namespace fulvex {

/// Edges that follow on each other by less than a gap. A burst that may go on beyond the record, or beyond a gap in
/// the capture, does not count: for that, nothing may happen for a gap's length before its first and behind its last
/// edge.
struct Bursts {
    Population width;  ///< s, from the first mid crossing to the last
    Population pulses; ///< how many each holds: half its edges
    /// Directions of their first and last edges.
    EdgeChoice opens = EdgeChoice::both, closes = EdgeChoice::both;
};

/// `gap` in samples; a burst has two edges at least.
Bursts findBursts(const EdgeList &edges, const TimeAxis &axis, SampleRange range, double gap);

} // namespace fulvex
