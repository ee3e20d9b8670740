#pragma once

#include "look.h"
#include "results.h"

#include <QImage>

namespace fulvex {

/// An eye as a picture: how dense it is (log scale, empty cells in the tile's tone, one pixel a cell), single traces,
/// or contours of equal hit ratio. May be made on any thread.
struct EyePicture {
    /// All that it is made from.
    struct From {
        std::shared_ptr<const EyeFold> fold;
        int first, last; ///< rows first <= row < last
        const Look *look;
        double left = -0.5, right = 1.5; ///< along its axis, whole columns; of an overlay the whole lap
        std::string shown = "density";   ///< as an eye's entry says
        SourcePtr samples = {};          ///< of traces: that they are drawn from
        std::shared_ptr<const Clock> by = {};
        std::shared_ptr<const EyeErrorRatio> errors = {};
        EyeRule rule = {}; ///< that it was folded by
        bool operator==(const From &) const = default;
    };
    static EyePicture of(const From &from);

    QImage image;
    double low = 0, high = 1;                     ///< values at its bottom and top
    double left = -0.5, right = 1.5;              ///< along its axis at its sides
    std::vector<double> mean;                     ///< of an overlay's laps, column by column
    std::vector<EyeErrorRatio::Contour> contours; ///< of error ratios, of all openings
};

} // namespace fulvex
