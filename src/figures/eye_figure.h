#pragma once

#include "axis_painter.h"
#include "results.h"

#include <QImage>

namespace fulvex {

/// An eye two unit intervals wide, -0.5 … 1.5 with the crossings at 0 and 1, with its mask and what failed it.
struct EyeFigure {
    QString title, facts, verdict;
    bool failed = false;
    QString empty;         ///< not empty: nothing to draw, and why
    std::string eye, mask; ///< ids
    std::shared_ptr<const EyeFold> fold;
    std::vector<MaskShape> areas;
    struct Failure {
        double x, y; ///< UI, V
        std::size_t index;
    };
    std::vector<Failure> failures; ///< up to 2000, spread over the record
    std::string unit = "V";

    QRectF plotRect(const QRectF &area) const { return area.adjusted(72, 6, -14, -20); }
    static constexpr double left = -0.5, right = 1.5; ///< UI
};

EyeFigure eyeFigure(const Results &results, const std::string &eyeId);

/// The counts as a picture, log scale, empty cells in the tile's tone; one pixel a cell, 2 UI wide.
QImage eyeImage(const EyeCounts &counts, const Look &look);

void paintEye(QPainter &painter, const QRectF &area, const EyeFigure &figure, const Look &look);

} // namespace fulvex
