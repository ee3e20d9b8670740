#pragma once

#include "figure_worker.h"
#include "frequency_mover.h"
#include "spectrogram_figure.h"
#include "time_tile.h"

namespace fulvex {

/// A channel's spectrum from moment to moment. A click chooses a frequency and a moment, whose courses stand beside it;
/// a box asks Evidence where within it the band is strongest; Ctrl+wheel: closer in frequency; Esc chooses none.
class SpectrogramTile final : public TimeTile {
    Q_OBJECT
public:
    SpectrogramTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Spectrogram"); }
    QString facts() const override;
    QRectF plot() const override { return m_figure.placesIn(body()).picture; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void refresh();
    void wantDrawing(const QRectF &area);
    double frequencyAt(double y) const;
    void mark(std::optional<double> frequency, std::optional<double> time);
    SpectrogramFigure::Box boxTo(QPointF end) const;
    SpectrogramFigure m_figure;
    Drawn<SpectrogramDrawing> m_drawn;
    FrequencyMover m_mover;
    enum class Drag { none, box, pan } m_drag = Drag::none;
    bool m_boxed = false;
    QPointF m_from;
    double m_viewFrom = 0; ///< s, where a drag began
};

} // namespace fulvex
