#pragma once

#include "frequency_mover.h"
#include "phase_noise_figure.h"
#include "stability_figure.h"
#include "tile_frame.h"

namespace fulvex {

/// The curve over offset. The limits of integration are dragged; a click chooses a line, and Space takes it into the
/// integral or out of it.
class PhaseNoiseTile final : public TileFrame {
    Q_OBJECT
public:
    PhaseNoiseTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Phase noise"); }
    QString facts() const override
    {
        return m_figure.title + (m_figure.facts.isEmpty() ? QString() : " · " + m_figure.facts);
    }
    QString aside() const override { return m_figure.aside; }
    bool asideFails() const override { return m_figure.failed; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void refresh();
    void askOf(std::size_t line);
    void drag(QPointF at);
    PhaseNoiseFigure m_figure;
    FrequencyMover m_mover;
    std::optional<PhaseNoiseFigure::Grip> m_dragged;
    int m_drags = 0; ///< each is one step to be undone
};

/// Jitter over numbers of periods, or deviations over averaging times.
class StabilityTile final : public TileFrame {
    Q_OBJECT
public:
    StabilityTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override;
    QString facts() const override { return m_figure.title; }
    QString aside() const override { return m_figure.wordsAt(); }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;

private:
    void refresh();
    StabilityFigure m_figure;
};

} // namespace fulvex
