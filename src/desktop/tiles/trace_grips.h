#pragma once

#include "trace_figure.h"

namespace fulvex {

/// What of a traces tile lies under the pointer and can be taken hold of.
struct Grip {
    enum class Kind {
        none,
        divider,  ///< between the lane `index` and the next
        axis,     ///< the value axis of lane `index`
        baseline, ///< the zero of line `index`
        marker,
        level, ///< a reference level of the selected row
        region,
        regionStart,
        regionStop,
        note,
        noteSize, ///< the lower right corner of its box
        pin
    } kind = Kind::none;
    int index = -1; ///< in the figure's list
    bool operator==(const Grip &) const = default;
};

Grip gripAt(const TraceFigure &figure, const QRectF &area, QPointF at, const Look &look);

Qt::CursorShape cursorOf(const Grip &grip);

/// The document as it is when a grip, taken at `from`, is let go at `to`; `figure` is what was shown when it was taken.
void dragGrip(Document &document, TileEntry &tile, const TraceFigure &figure, const QRectF &area, const Look &look,
              const Grip &grip, QPointF from, QPointF to);

/// Stretches the values of an axis or of one line about the pointer; factor below 1 shows them larger.
void scaleGrip(TileEntry &tile, const TraceFigure &figure, const QRectF &area, const Grip &grip, double factor,
               double y);

/// Lets the lines of an axis, or one line, have the record's extremes again.
void freeRanges(TileEntry &tile, const TraceFigure &figure, const Grip &grip);

} // namespace fulvex
