#pragma once

#include "figure_worker.h"
#include "histogram_figure.h"
#include "row_tile.h"

namespace fulvex {

/// The histogram of measured quantities. A click on a bar asks Evidence for the moments in it; one on the head selects
/// the quantity. Markers of its values are put and dragged here, and rest on its peaks.
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
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void refresh();
    void wantDrawing();
    void ask(std::size_t one, std::size_t other); ///< about bars, from one to the other
    void stepBar(int by);
    void putMarker(double x);
    void dragMarker(double x);
    bool removeMarker();  ///< that is selected, where it is one of these
    std::string m_marker; ///< id of the one that is held
    int m_drag = 0;
    HistogramFigure m_figure;
    Drawn<HistogramDrawing> m_drawn;
    std::optional<std::size_t> m_from; ///< bar that a drag began on
};

} // namespace fulvex
