#pragma once

#include "budget_figure.h"
#include "budget_plot.h"
#include "figure_worker.h"
#include "tile_frame.h"

namespace fulvex {

/// What eats the unit interval. A click on a piece chooses it; Space takes a line out of the budget, or back in.
class BudgetTile final : public TileFrame {
    Q_OBJECT
public:
    BudgetTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Budget of the unit interval") + ofWhich(); }
    QString facts() const override
    {
        return m_figure.title + (m_figure.facts.isEmpty() ? QString() : " · " + m_figure.facts);
    }
    QString aside() const override { return m_figure.verdict; }
    bool asideFails() const override { return m_figure.failed; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void refresh();
    void askOf(std::size_t part);
    QString m_help;
    BudgetFigure m_figure;
};

/// One of the plots around a budget, by the tile's kind. Under the pointer of a bathtub: how far the eye is open at
/// that error ratio.
class BudgetPlotTile final : public TileFrame {
    Q_OBJECT
public:
    BudgetPlotTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return name() + ofWhich(); }
    QString aside() const override { return m_figure.aside; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;

private:
    QString name() const;
    void refresh();
    void point(std::optional<double> ratio);
    BudgetPlotFigure m_figure;
    Drawn<BudgetDrawing> m_drawn;
};

} // namespace fulvex
