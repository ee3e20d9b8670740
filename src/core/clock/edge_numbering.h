#pragma once

#include "edge_list.h"
#include "progress.h"

#include <cstdint>

namespace fulvex {

/// Gives every edge the number of the unit interval boundary that it belongs to, by a tracker of second order that
/// follows wander: not falling, equal where two crossings fall into one interval. `period`: samples a unit interval,
/// nearly. Of one edge at least.
void numberEdges(const EdgeList &edges, double period, BoundaryNumbers &numbers, Progress &progress);

} // namespace fulvex
