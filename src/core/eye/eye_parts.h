#pragma once

#include "clock_recovery.h"
#include "eye_fold.h"

#include <optional>

namespace fulvex {

/// What parts of a record are folded by.
struct PartsRule {
    EyeRule fold;                 ///< first and last are not used
    std::optional<LoopRule> loop; ///< none: a fixed clock
    std::optional<double> period; ///< samples a unit interval, where it is given
    double first = 0, last = 0;   ///< sample positions that the eye is asked of
};

/// A first picture of an eye within some 20 ms: of parts spread evenly over the record, each with the loop run over its
/// own edges alone, from 3 / bandwidth before on. Not for numbers: use foldEye for those. Nothing where the parts would
/// be a third of the record or more.
std::optional<EyeFold> foldParts(const SourcePtr &source, const std::shared_ptr<const EdgeList> &edges,
                                 const std::shared_ptr<const SymbolTiming> &timing, const TimeAxis &axis,
                                 const PartsRule &rule, Progress &progress);

} // namespace fulvex
