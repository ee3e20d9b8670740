#pragma once

#include "histogram_figure.h"
#include "tile_frame.h"

namespace fulvex {

/// The histogram of a measured quantity. Click selects the quantity, and with it its evidence.
class HistogramTile final : public TileFrame {
    Q_OBJECT
public:
    HistogramTile(Workbench &bench, int index, QWidget *parent);

    void choose() override;

protected:
    QString title() const override { return m_figure.title.isEmpty() ? tr("Histogram") : m_figure.title; }
    QString facts() const override { return m_figure.facts; }
    bool selected() const override;
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    std::string rowId() const { return entry().of.empty() ? std::string() : entry().of.front(); }
    void refresh();
    HistogramFigure m_figure;
};

} // namespace fulvex
