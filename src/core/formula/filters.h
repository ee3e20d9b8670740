#pragma once

#include "formula.h"

namespace fulvex {

/// Recursive filters that run forward, as a circuit would: what is known of the past is that the first value (and the
/// first behind a gap) had been there for ever. Gain 1 at 0 Hz, of a high pass at half the sample rate. Error for an
/// order other than 1 to 10, or a corner that does not lie between 1e-6 and 1/2 of the sample rate.
SourcePtr lowpassOf(const FormulaOver &of);
SourcePtr highpassOf(const FormulaOver &of);

} // namespace fulvex
