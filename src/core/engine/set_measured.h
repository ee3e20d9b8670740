#pragma once

#include "results.h"

namespace fulvex {

/// Puts what was measured into a row: statistics, histogram, reason, and in its provenance what the uncertainty is made
/// of, in place of what was said of others before.
void setMeasured(Row &row, Measured measured);

} // namespace fulvex
