#pragma once

#include "axis_painter.h"
#include "results.h"

namespace fulvex {

/// The distribution of one measured quantity.
struct HistogramFigure {
    std::string measurement;
    QString title, facts, empty;
    QStringList statistics; ///< lines beside the bars
    ValueHistogram histogram;
    std::string unit;
    int ink = 3;
    bool operator==(const HistogramFigure &) const = default;
    QRectF plotRect(const QRectF &area) const { return area.adjusted(20, 6, -16, -20); }
};

HistogramFigure histogramFigure(const Results &results, const std::string &measurementId);
void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look);

} // namespace fulvex
