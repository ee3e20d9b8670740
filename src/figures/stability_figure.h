#pragma once

#include "function_plot.h"
#include "results.h"

#include <QString>

namespace fulvex {

enum class StabilityPlot {
    accumulated, ///< jitter over numbers of periods
    deviations   ///< time and Allan deviation over averaging times
};
/// By a tile's kind; none for others.
std::optional<StabilityPlot> stabilityPlotOf(const std::string &tileKind);

struct StabilityFigure {
    StabilityPlot what = StabilityPlot::accumulated;
    QString title;
    QString empty; ///< not empty: nothing to draw, and why
    std::shared_ptr<const ClockStability> stability;
    std::optional<double> pointed;                       ///< periods, or s
    std::vector<FunctionPlot> plots() const;             ///< one below the other
    std::vector<QRectF> areas(const QRectF &area) const; ///< where each of them goes
    std::optional<double> placeAt(const QRectF &area, double x) const;
    /// What it is where the pointer is; else at the left end.
    QString wordsAt() const;

private:
    AxisScale across() const;
};

StabilityFigure stabilityFigure(const Results &results, const std::string &phaseNoise, StabilityPlot what);
/// For the interface's thread.
void paintStability(QPainter &painter, const QRectF &area, const StabilityFigure &figure, const Look &look);

} // namespace fulvex
