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
    std::optional<std::pair<std::size_t, std::size_t>> asked; ///< bars that Evidence is asked about, first and last
    bool operator==(const HistogramFigure &) const = default;
    /// The bar at a place of the plot; none beside it.
    std::optional<std::size_t> barAt(const QRectF &plot, double x) const;
    QRectF plotRect(const QRectF &area) const { return area.adjusted(20, 6, -16, -20); }
};

HistogramFigure histogramFigure(const Results &results, const std::string &measurementId);
void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look);

} // namespace fulvex
