#pragma once

#include "figure_worker.h"
#include "row_tile.h"
#include "scatter_figure.h"

namespace fulvex {

/// One quantity against another. A click on a point goes to its moment.
class ScatterTile final : public RowTile {
    Q_OBJECT
public:
    ScatterTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return m_figure.title.isEmpty() ? tr("One against another") : m_figure.title; }
    QString facts() const override { return m_figure.facts; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    void refresh();
    ScatterFigure m_figure;
    Drawn<ScatterDrawing> m_drawn;
    std::optional<std::pair<double, double>> m_shown; ///< the pair that was clicked
};

} // namespace fulvex
