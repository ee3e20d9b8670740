#pragma once

#include "figure_worker.h"
#include "histogram_figure.h"
#include "row_tile.h"

namespace fulvex {

/// The histogram of measured quantities. A click on a bar asks Evidence for the moments in it; one on the head selects
/// the quantity.
class HistogramTile final : public RowTile {
    Q_OBJECT
public:
    HistogramTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return m_figure.title.isEmpty() ? tr("Histogram") : m_figure.title; }
    QString facts() const override { return m_figure.facts; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void refresh();
    void wantDrawing();
    void ask(std::size_t one, std::size_t other); ///< about bars, from one to the other
    void stepBar(int by);
    HistogramFigure m_figure;
    Drawn<HistogramDrawing> m_drawn;
    std::optional<std::size_t> m_from; ///< bar that a drag began on
};

} // namespace fulvex
