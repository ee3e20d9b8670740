#pragma once

#include "function_plot.h"
#include "results.h"

#include <QString>

namespace fulvex {

/// A row's value of each capture of a run, in the run's order, with its limits.
struct RunTrendFigure {
    QString title;
    QString empty; ///< not empty: nothing to draw, and why
    std::string unit;
    struct Point {
        int place = 0; ///< in the run, from 1 on
        double value = 0;
        bool fails = false;
        bool operator==(const Point &) const = default;
    };
    std::vector<Point> points;               ///< of captures that have one
    int captures = 0;                        ///< of the run
    std::optional<double> least, most, mean; ///< limits; of all captures
    std::optional<int> shown;                ///< the place of the capture that is shown
    bool operator==(const RunTrendFigure &) const = default;
    FunctionPlot plot() const;
    /// The capture nearest to a place across, from 1 on; none beside the plot.
    std::optional<int> placeAt(const QRectF &area, double x) const;
};

/// `names`: of the run's captures, in order. `shown`: of the one that is shown.
RunTrendFigure runTrendFigure(const Results &all, const std::string &row, const std::vector<std::string> &names,
                              const std::string &shown);
/// For the interface's thread.
void paintRunTrend(QPainter &painter, const QRectF &area, const RunTrendFigure &figure, const Look &look);

} // namespace fulvex
