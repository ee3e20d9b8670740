#pragma once

#include "edge_list.h"
#include "numbered_edges.h"
#include "population.h"
#include "progress.h"
#include "time_axis.h"
#include "transition_finder.h"

namespace fulvex {

/// A cancel of `progress` ends each of these with Cancelled.

/// From each chosen edge to the next of the same direction, in s. Nothing reaches across a gap.
/// Source: IEEE Std 181, waveform period; JEDEC JESD65, cycle period.
Population periods(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, EdgeChoice edge,
                   Progress &progress);
/// From rising (positive) or falling edges to the next edge of the other direction, in s.
Population widths(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, bool positive,
                  Progress &progress);
/// Width of the positive pulse over the period, from rising edge to rising edge, in %.
Population dutyCycles(const std::shared_ptr<const EdgeList> &edges, const TimeAxis &axis, Progress &progress);
/// The same occurrences with 1 / value.
Population reciprocal(const Population &population);
/// Each value minus the mean of all. Source: JEDEC JESD65, period jitter.
Population deviations(const Population &population);
/// Each value minus the one before, where they follow on each other. Source: JEDEC JESD65, cycle-to-cycle jitter.
Population successiveDifferences(const Population &population);
/// Durations of transitions, in s.
Population transitionTimes(const std::shared_ptr<const Transitions> &transitions, const TimeAxis &axis);
/// Level difference over duration, in V/s; negative for falling ones.
Population slewRates(const std::shared_ptr<const Transitions> &transitions, const TimeAxis &axis,
                     double levelDifference);
/// Instant minus clock instant for every edge from the map's settling on, in s; late is positive.
Population timeIntervalErrors(const NumberedEdges &edges, const UnitIntervalMap &map, EdgeChoice edge,
                              Progress &progress);

} // namespace fulvex
