#pragma once

#include <QImage>
#include <QSize>
#include <string>

namespace fulvex {

/// The picture of a plan's step, no larger than that; null where there is none that can be read. May be made on any
/// thread.
struct StepPicture {
    struct From {
        std::string file;
        QSize largest{420, 180}; ///< pixels
        bool operator==(const From &) const = default;
    };
    static StepPicture of(const From &from);
    From from;
    QImage image;
};

} // namespace fulvex
