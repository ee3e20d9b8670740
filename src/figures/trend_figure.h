#pragma once

#include "function_plot.h"
#include "row_figure.h"

namespace fulvex {

/// The values of populations over a span of time, as many as can be told apart: all of them, or the least and the
/// greatest in each pixel column; and their means over so many values. May be made on any thread.
struct TrendDrawing {
    struct From {
        std::vector<std::shared_ptr<const Measured>> rows;
        double start, stop; ///< s
        int columns;        ///< pixels from start to stop
        std::optional<int> smooth;
        bool operator==(const From &) const = default;
    };
    static TrendDrawing of(const From &from);

    struct Line {
        std::vector<double> x, y; ///< s, the quantity's unit; in order of time
        bool all = true;          ///< one point a value
        std::vector<double> smoothX, smoothY;
    };
    std::vector<Line> lines;
};

/// How measured quantities go along the record.
struct TrendFigure : RowFigure {
    std::shared_ptr<const Measured> values; ///< of the first
    TileEntry tile;                         ///< how it is shown
    double from = 0, to = 1;                ///< s
    double low = 0, high = 1;               ///< of all values
    std::optional<double> mean;
    std::shared_ptr<const TrendDrawing> drawing;           ///< null: not made yet; may be of another span
    std::optional<std::pair<double, double>> asked, shown; ///< s: what Evidence is asked about, and what it points to
    bool operator==(const TrendFigure &) const = default;
    /// What its drawing is made from; none where there is nothing to draw.
    std::optional<TrendDrawing::From> drawingFrom(const QRectF &area) const;
    FunctionPlot plot() const;
};

/// Without its drawing: a window has that made beside the interface.
TrendFigure trendFigure(const Results &results, const TileEntry &tile, double from, double to);
/// For the interface's thread.
void paintTrend(QPainter &painter, const QRectF &area, const TrendFigure &figure, const Look &look);

} // namespace fulvex
