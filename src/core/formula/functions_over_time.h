#pragma once

#include "progress.h"
#include "sample_source.h"

namespace fulvex {

/// (a[i + 1] - a[i - 1]) / (2 interval), exact for parabolas; at the ends and beside gaps the slope to the one
/// neighbour; a gap where there is a gap or no neighbour. Of a sine at f it is sin(2 pi f T) / (2 pi f T) of the true
/// one.
SourcePtr derivativeOf(const SourcePtr &argument, Progress &progress);

/// The sum of (a[i - 1] + a[i]) / 2 * interval from the first sample on, without those that touch a gap; exact for
/// straight lines. Scans the record for sums at fixed places, from which each block goes on.
SourcePtr integralOf(const SourcePtr &argument, Progress &progress);

} // namespace fulvex
