#pragma once

#include "jitter_edges.h"

#include <vector>

namespace fulvex {

/// Time interval errors at each boundary of the grid, s: straight lines between edges, each less what the mean of its
/// direction differs from that of all (a duty cycle moves no phase).
std::vector<double> errorsOnGrid(const JitterEdges &edges);
/// Takes the straight line through all out of values that lie evenly.
void takeOutLine(std::vector<double> &values);

} // namespace fulvex
