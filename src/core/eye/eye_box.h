#pragma once

#include "eye_fold.h"
#include "population.h"

#include <cstdint>
#include <vector>

namespace fulvex {

/// A box in an eye: phases in unit intervals from a unit interval's first crossing on, levels in the channel's unit.
/// It may reach beyond 0 and 1, as the picture does.
struct EyeBox {
    double fromPhase = 0, toPhase = 1, low = 0, high = 0;
};

/// A unit interval that passes through a box.
struct EyePass {
    double time = 0; ///< s, of the first sample whose line from the one before meets the box
    std::int64_t unitInterval = 0;
    double value = 0; ///< channel's unit, of that sample
};

struct EyePasses {
    std::int64_t unitIntervals = 0; ///< asked
    std::int64_t count = 0;         ///< of them, those that pass
    std::vector<EyePass> first;     ///< in time; as many as were wanted
    std::size_t wanted = 0;
    void merge(const EyePasses &later);
};

/// Which of the folded unit intervals (`rule`'s), or of an overlay's laps, pass through a box: those in which a
/// straight line between neighbouring points, interpolated as the eye was folded, meets it. On all cores.
EyePasses passesThrough(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                        std::size_t wanted, Progress &progress);

/// The points of the folded unit intervals that lie in a box, each with its level in the channel's unit.
Population levelsInBox(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                       Progress &progress);
/// Where their curves cross the box's middle level within its phases: seconds from the unit interval's first crossing.
Population timesInBox(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                      Progress &progress);

} // namespace fulvex
