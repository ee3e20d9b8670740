#pragma once

#include "eye_fold.h"
#include "mask_geometry.h"
#include "mask_result.h"

namespace fulvex {

struct MaskRule {
    double zero = 0, one = 1;         ///< channel's unit, the eye's state levels
    double margin = 0;                ///< fraction that the areas are grown by for the verdict
    std::int64_t first = 0, last = 0; ///< unit intervals tested
    int interpolation = 1;            ///< as the eye was folded
    /// Failed unit intervals that end the test, `keptFailures` at most; 0: none do. The result is that of the unit
    /// intervals up to the last of them.
    std::int64_t stopAt = 0;
};

/// Lays the record over the mask by a clock's map, on all cores. A sample on or inside an area's border is a hit; where
/// a line between neighbouring samples passes through an area and neither end lies in it, that is one hit as well. The
/// margin is searched by bisection for every line that would lower it, to 1e-6, in the same pass.
MaskResult runMask(const SourcePtr &source, const UnitIntervalMap &map, const MaskDefinition &mask,
                   const MaskRule &rule, Progress &progress);

/// The same of a template, laid at each of these sample positions: they count as unit intervals, in their order, and
/// phases are seconds from them. Where templates overlap, a sample is looked at in each.
MaskResult runTemplate(const SourcePtr &source, std::span<const double> edges, const MaskDefinition &mask,
                       const MaskRule &rule, Progress &progress);

} // namespace fulvex
