#pragma once

#include "histogram_figure.h"
#include "tile_frame.h"

namespace fulvex {

/// The histogram of a measured quantity. A click on a bar asks Evidence for the moments in it; one on the head selects
/// the quantity.
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
    void mouseMoveEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    std::string rowId() const { return entry().of.empty() ? std::string() : entry().of.front(); }
    void refresh();
    void ask(std::size_t one, std::size_t other); ///< about bars, from one to the other
    void stepBar(int by);
    HistogramFigure m_figure;
    std::optional<std::size_t> m_from; ///< bar that a drag began on
};

} // namespace fulvex
