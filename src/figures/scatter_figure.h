#pragma once

#include "function_plot.h"
#include "paired_values.h"
#include "row_figure.h"

#include <QImage>

namespace fulvex {

/// One quantity against another: each pair a point where they are few, else how many lie in each pixel. May be made on
/// any thread.
struct ScatterDrawing {
    struct From {
        std::shared_ptr<const Measured> x, y;
        QSize size;   ///< pixels of the plot
        unsigned ink; ///< rgb
        bool operator==(const From &) const = default;
    };
    static ScatterDrawing of(const From &from);
    From from;
    std::size_t count = 0;
    double correlation = 0;
    AxisScale xScale, yScale;              ///< without units
    std::vector<double> x, y;              ///< by rising x, where they are few
    std::vector<std::uint32_t> indices;    ///< in the first population, of each
    std::shared_ptr<const QImage> density; ///< null: they are few
    std::vector<std::uint32_t> inCell;     ///< one of those in each pixel, row by row from the top; 0: none, else + 1
};

struct ScatterFigure : RowFigure {
    std::shared_ptr<const Measured> values, against; ///< across, up
    QString otherName;
    std::string otherUnit;
    std::shared_ptr<const ScatterDrawing> drawing;
    std::optional<std::pair<double, double>> shown; ///< the pair that Evidence stands on
    bool operator==(const ScatterFigure &) const = default;
    std::optional<ScatterDrawing::From> drawingFrom(const QRectF &area, const Look &look) const;
    void take(std::shared_ptr<const ScatterDrawing> made);
    struct Pair {
        std::size_t of; ///< index in the first population
        double x, y;
    };
    /// The pair nearest to a place, within a few pixels; to a pixel where there are many.
    std::optional<Pair> pairAt(const QRectF &area, QPointF at) const;
    FunctionPlot plot() const;
};

/// `of`: the quantity across, and the one up.
ScatterFigure scatterFigure(const Results &results, const std::vector<std::string> &of);
/// For the interface's thread.
void paintScatter(QPainter &painter, const QRectF &area, const ScatterFigure &figure, const Look &look);

} // namespace fulvex
