#pragma once

#include "trace_drawing.h"

#include <QPainter>
#include <QRectF>

namespace fulvex {

/// What lies at the edges of where a drawing is painted: s, and the channel's unit.
struct TraceSpan {
    double from, to, low, high;
};

/// The curve of a drawing that shows samples, or the lines between them, and the samples themselves where they are far
/// apart, by the painter's pen. `dash`: pixels, see TraceFigure::Line.
void paintSamples(QPainter &painter, const QRectF &rect, const TraceDrawing &drawing, const TraceSpan &span,
                  double dash);

/// The pen that traces are drawn by.
QPen tracePen(const QColor &ink, double width);

} // namespace fulvex
