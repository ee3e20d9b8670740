#pragma once

#include "quantity.h"

namespace fulvex {

/// A population, or the reason why it is empty.
Measured orReason(Population population, const std::string &reason);
/// What was seen of edges, what the quantity needs, and what would help.
std::string wants(QuantityInputs &in, const char *what);
/// "3 crossings of the mid level in the region; "
std::string edgesSeen(QuantityInputs &in);
/// Periods from chosen edge (rising by default) to edge.
Population allPeriods(QuantityInputs &in);
/// Of a resolution, as of a rectangular distribution.
double stepUncertainty(QuantityInputs &in);

} // namespace fulvex
