#pragma once

#include "eye_fold.h"

namespace fulvex {

/// Draws up to `most` unit intervals of those folded, in runs spread evenly over them, on all cores. None of unit
/// intervals with so many samples that these lie in every column.
EyeCurves drawCurves(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, std::int64_t most,
                     Progress &progress);

/// The same of an overlay: up to `rule.curves` of the laps that begin at some unit intervals, spread evenly over them.
EyeCurves drawLaps(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule,
                   std::span<const std::int64_t> begins, Progress &progress);

} // namespace fulvex
