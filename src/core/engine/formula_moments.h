#pragma once

#include "eye_fold.h"
#include "formula_function.h"
#include "population.h"
#include "unit_interval_map.h"

namespace fulvex {

/// A row's occurrences as moments of its channel; none of a row of a single number.
FormulaMoments momentsOf(const Measured &measured, const SourcePtr &channel);
/// Where a clock's unit intervals begin, from where it has settled on.
FormulaMoments momentsOf(const UnitIntervalMap &map);
/// Where an overlay's laps begin, or an eye's unit intervals.
FormulaMoments momentsOf(const UnitIntervalMap &map, const EyeRule &rule);

} // namespace fulvex
