#pragma once

#include "axis_painter.h"
#include "results.h"

#include <optional>

namespace fulvex {

/// The distribution of one measured quantity.
struct HistogramFigure {
    std::string measurement;
    QString title, facts, empty;
    QStringList statistics; ///< lines beside the bars
    ValueHistogram histogram;
    std::string unit;
    int ink = 3;
    std::optional<std::pair<double, double>> selected; ///< value span
    QRectF plotRect(const QRectF &area) const { return area.adjusted(20, 6, -16, -20); }
    double valueAt(const QRectF &area, double x) const;
};

HistogramFigure histogramFigure(const Results &results, const std::string &measurementId);
void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look);

} // namespace fulvex
