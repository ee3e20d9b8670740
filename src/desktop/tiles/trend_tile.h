#pragma once

#include "figure_worker.h"
#include "time_tile.h"
#include "trend_figure.h"

namespace fulvex {

/// How a measured quantity goes along the record, over the same time as the traces. Click: the moment of the nearest
/// value; drag: Evidence of what lies between; Esc: of all.
class TrendTile final : public TimeTile {
    Q_OBJECT
public:
    TrendTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override
    {
        return m_figure.title.isEmpty() ? tr("Trend") : tr("%1, trend").arg(m_figure.title);
    }
    QString facts() const override { return m_figure.facts; }
    QString aside() const override { return m_figure.statistics.join(" · "); }
    QRectF plot() const override { return FunctionPlot().plotRect(body()); }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    enum class Drag { none, span, pan };
    void refresh();
    void wantDrawing(const QRectF &area);
    void ask(double from, double to);
    void goToNearest(double time);
    TrendFigure m_figure;
    Drawn<TrendDrawing> m_drawn;
    Drag m_drag = Drag::none;
    double m_from = 0, m_viewFrom = 0;
};

} // namespace fulvex
