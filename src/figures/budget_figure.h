#pragma once

#include "axis_painter.h"
#include "results.h"

#include <QString>

namespace fulvex {

/// What eats a unit interval: a bar a unit interval long, of which the eaten part is drawn larger below, cut into its
/// pieces.
struct BudgetFigure {
    std::string budget; ///< id
    QString title, facts, verdict;
    bool failed = false;
    QString empty; ///< not empty: nothing to draw, and why
    struct Piece {
        QString name, size, remark;
        double share = 0; ///< of all pieces
        QColor ink;
        bool leftOut = false;
        std::size_t part = 0; ///< of the budget's
    };
    std::vector<Piece> pieces;
    double eaten = 0;                  ///< of the unit interval
    std::optional<double> limit;       ///< of the unit interval
    QString open, sum;                 ///< in words
    std::optional<std::size_t> chosen; ///< part
    /// Where the pieces are, and the one at a place.
    std::vector<QRectF> places(const QRectF &area) const;
    std::optional<std::size_t> partAt(const QRectF &area, QPointF at) const;
};

/// What there is to draw of a budget, whose title it gives; null: nothing, and `empty` says why.
const BudgetResult *drawableBudget(const Results &results, const std::string &id, QString &title, QString &empty);

BudgetFigure budgetFigure(const Results &results, const std::string &id, const Look &look);
void paintBudget(QPainter &painter, const QRectF &area, const BudgetFigure &figure, const Look &look);

} // namespace fulvex
