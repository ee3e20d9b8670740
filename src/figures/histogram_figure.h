#pragma once

#include "function_plot.h"
#include "row_figure.h"

namespace fulvex {

/// The distribution of one measured quantity.
struct HistogramFigure : RowFigure {
    ValueHistogram histogram;
    std::optional<std::pair<std::size_t, std::size_t>> asked; ///< bars that Evidence is asked about, first and last
    bool operator==(const HistogramFigure &) const = default;
    /// The bar at a place of the plot; none beside it.
    std::optional<std::size_t> barAt(const QRectF &plot, double x) const;
    static constexpr QMargins margins{20, 6, 16, 20};
    QRectF plotRect(const QRectF &area) const { return area.marginsRemoved(margins.toMarginsF()); }
    FunctionPlot plot() const;
};

HistogramFigure histogramFigure(const Results &results, const std::string &measurementId);
/// For the interface's thread.
void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look);

} // namespace fulvex
