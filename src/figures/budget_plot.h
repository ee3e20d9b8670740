#pragma once

#include "function_plot.h"
#include "results.h"

#include <QString>

namespace fulvex {

/// What stands around a jitter budget, each of it a plot.
enum class BudgetPlot {
    bathtub,   ///< error ratio along the unit interval
    histogram, ///< of the errors, with what the parts make of it
    tails,     ///< of what is neither data nor line, on the scale on which a normal distribution is a straight line
    pattern,   ///< mean at each edge of the pattern, or of each history
    strength   ///< of a line along the record
};
/// By a tile's kind; none for others.
std::optional<BudgetPlot> budgetPlotOf(const std::string &tileKind);

/// Such a plot. May be made on any thread.
struct BudgetDrawing {
    struct From {
        BudgetPlot what = BudgetPlot::bathtub;
        std::shared_ptr<const JitterMakeUp> found;
        std::shared_ptr<const BoundedJitter> bounded; ///< of what is not left out
        double random = 0, randomUncertainty = 0;     ///< s rms
        double apart = 0;                             ///< s, of the tails' two values
        double ratio = 1e-12;
        bool counted = true;  ///< edges as they are; false where the model leaves something out
        std::size_t line = 0; ///< of strength: which
        double begin = 0;     ///< s, of the first boundary
        bool operator==(const From &) const = default;
    };
    static BudgetDrawing of(const From &from);

    From from;
    FunctionPlot plot;
};

struct BudgetPlotFigure {
    std::string id; ///< of the budget
    BudgetPlot what = BudgetPlot::bathtub;
    QString title, aside;
    QString empty; ///< not empty: nothing to draw, and why
    std::shared_ptr<const BudgetResult> result;
    std::shared_ptr<const BudgetDrawing> drawing;     ///< null: not made yet; may be of something older
    std::optional<double> ratio;                      ///< of a bathtub: error ratio that the pointer is at
    std::size_t line = 0;                             ///< of strength: which of the lines found
    void chooseLine(std::optional<std::size_t> part); ///< that a piece of the budget is; else the strongest
    std::optional<BudgetDrawing::From> drawingFrom() const;
    void take(std::shared_ptr<const BudgetDrawing> made);
    FunctionPlot plot() const;
    /// "open 1.486 ns, 0.951 UI, at 1e-9".
    QString openingAt(double errorRatio) const;
    /// The error ratio at a height of a bathtub; none beside it.
    std::optional<double> ratioAt(const QRectF &area, double y) const;
};

BudgetPlotFigure budgetPlotFigure(const Results &results, const std::string &budget, BudgetPlot what);
/// For the interface's thread.
void paintBudgetPlot(QPainter &painter, const QRectF &area, const BudgetPlotFigure &figure, const Look &look);

} // namespace fulvex
