#pragma once

#include "function_plot.h"
#include "results.h"

#include <QString>

namespace fulvex {

/// How often a decision in the middle of an eye would be wrong, over the level of its threshold: a curve for each
/// opening, measured and extrapolated told apart.
struct LevelBathtubFigure {
    QString title;
    QString empty; ///< not empty: nothing to draw, and why
    std::string unit;
    struct Opening {
        std::vector<double> levels, ratios; ///< channel's unit; of errors
        std::vector<bool> measured;
        bool operator==(const Opening &) const = default;
    };
    std::vector<Opening> openings; ///< the lowest first
    std::optional<double> ratio;   ///< that the pointer is at
    bool operator==(const LevelBathtubFigure &) const = default;
    FunctionPlot plot() const;
    /// How far each opening is open, "0.61 V, 0.58 V at 1e-9".
    QString openAt(double errorRatio) const;
    /// The error ratio at a height; none beside it.
    std::optional<double> ratioAt(const QRectF &area, double y) const;
};

LevelBathtubFigure levelBathtubFigure(const Results &results, const std::string &eye);
/// For the interface's thread.
void paintLevelBathtub(QPainter &painter, const QRectF &area, const LevelBathtubFigure &figure, const Look &look);

} // namespace fulvex
