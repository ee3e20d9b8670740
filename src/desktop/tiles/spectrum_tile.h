#pragma once

#include "figure_worker.h"
#include "frequency_mover.h"
#include "row_tile.h"
#include "spectrum_figure.h"

namespace fulvex {

/// The spectrum of a measured quantity's trend. A click on a line asks Evidence for the moments at its crests; wheel:
/// closer, about the pointer; Shift+drag: along.
class SpectrumTile final : public RowTile {
    Q_OBJECT
public:
    SpectrumTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override
    {
        return m_figure.title.isEmpty() ? tr("Spectrum") : tr("%1, spectrum").arg(m_figure.title);
    }
    QString facts() const override { return m_figure.facts; }
    QString aside() const override { return m_figure.asked ? m_aside : QString(); }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void refresh();
    QRectF plot() const { return FunctionPlot().plotRect(body()); }
    SpectrumFigure m_figure;
    Drawn<SpectrumDrawing> m_drawn;
    QString m_aside;
    FrequencyMover m_mover;
};

} // namespace fulvex
