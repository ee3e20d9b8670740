#pragma once

#include "formula.h"

namespace fulvex {

/// (a[i + 1] - a[i - 1]) / (2 interval), exact for parabolas; at the ends and beside gaps the slope to the one
/// neighbour; a gap where there is a gap or no neighbour. Of a sine at f it is sin(2 pi f T) / (2 pi f T) of the true
/// one.
SourcePtr derivativeOf(const FormulaOver &of);

/// The sum of (a[i - 1] + a[i]) / 2 * interval from the first sample on, without those that touch a gap; exact for
/// straight lines. Scans the record for sums at fixed places, from which each block goes on.
SourcePtr integralOf(const FormulaOver &of);

/// The mean of the samples that lie within half a time to either side, gaps left out; at the ends of those that there
/// are. A gap stays one. Of n samples its gain at f is sin(pi f n T) / (n sin(pi f T)), its delay 0. Error for a time
/// that is no number, below 0, or longer than a million samples.
SourcePtr smoothOf(const FormulaOver &of);

} // namespace fulvex
