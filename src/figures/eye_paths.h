#pragma once

#include "results.h"

#include <QPolygonF>
#include <vector>

namespace fulvex {

/// Single unit intervals of an eye as curves over it, band-limited: with half a unit interval before and behind, as
/// wide as the picture. May be made on any thread.
struct EyePaths {
    struct From {
        SourcePtr samples;
        std::shared_ptr<const Clock> by;
        std::vector<std::int64_t> unitIntervals;
        bool operator==(const From &) const = default;
    };
    static EyePaths of(const From &from);

    struct Path {
        std::int64_t unitInterval = 0;
        QPolygonF curve; ///< UI from -0.5 to 1.5, the channel's unit; broken off at a gap
    };
    std::vector<Path> paths;
};

} // namespace fulvex
