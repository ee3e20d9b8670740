#pragma once

#include "level_bathtub.h"
#include "tile_frame.h"

namespace fulvex {

/// Error ratio over the level of an eye's threshold. Under the pointer: how far it is open at that ratio.
class LevelBathtubTile final : public TileFrame {
    Q_OBJECT
public:
    LevelBathtubTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Bathtub over level"); }
    QString facts() const override { return m_figure.title; }
    QString aside() const override { return m_figure.empty.isEmpty() ? m_figure.openAt(1e-12) : QString(); }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;

private:
    void refresh();
    LevelBathtubFigure m_figure;
};

} // namespace fulvex
