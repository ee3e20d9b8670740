#pragma once

#include "results.h"

#include <QPolygonF>
#include <vector>

namespace fulvex {

/// Single unit intervals of an eye as curves over it, band-limited: with one before and one behind, as wide as a
/// picture may be. Or single laps of an overlay. May be made on any thread.
struct EyePaths {
    struct From {
        SourcePtr samples;
        std::shared_ptr<const Clock> by;
        std::vector<std::int64_t> unitIntervals; ///< of a lap its first
        EyeRule rule;
        bool operator==(const From &) const = default;
    };
    static EyePaths of(const From &from);

    struct Path {
        std::int64_t unitInterval = 0;
        QPolygonF curve; ///< along the picture's axis, the channel's unit; broken off at a gap
    };
    std::vector<Path> paths;
};

} // namespace fulvex
