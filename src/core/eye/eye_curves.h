#pragma once

#include "eye_fold.h"

namespace fulvex {

/// Draws up to `most` unit intervals of those folded, in runs spread evenly over them, on all cores. None of unit
/// intervals with so many samples that these lie in every column.
EyeCurves drawCurves(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, std::int64_t most,
                     Progress &progress);

} // namespace fulvex
