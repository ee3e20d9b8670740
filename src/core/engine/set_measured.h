#pragma once

#include "results.h"

namespace fulvex {

/// Puts what was measured into a row: statistics, histogram, reason, and in its provenance what the uncertainty is made
/// of, in place of what was said of others before.
void setMeasured(Row &row, Measured measured);

/// What the uncertainty of a row's mean is made of, in its provenance, in place of what was said before.
void sayUncertainty(Row &row);

} // namespace fulvex
