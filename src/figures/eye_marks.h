#pragma once

#include "results.h"

#include <QPainter>
#include <vector>

namespace fulvex {

struct EyeFigure;
struct Look;

/// Where on an eye a quantity was measured, in UI and the channel's unit.
struct EyeMark {
    enum class As {
        level,  ///< a line across
        arrow,  ///< a distance, with both ends
        spread, ///< an area of values or instants
    };
    As as = As::level;
    double fromX = 0, fromY = 0, toX = 0, toY = 0;
    bool operator==(const EyeMark &) const = default;
};

/// Of a row of the table that is of this eye; none of another's, or of one that could not be measured.
std::vector<EyeMark> eyeMarks(const Results &results, const EyeResult &eye, const std::string &row);

void paintEyeMarks(QPainter &painter, const QRectF &plot, const EyeFigure &figure, const Look &look);

} // namespace fulvex
