#pragma once

#include "row_tile.h"
#include "run_trend_figure.h"

namespace fulvex {

/// A row's value of each capture of the run. A click shows that capture.
class RunTrendTile final : public RowTile {
    Q_OBJECT
public:
    RunTrendTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return m_figure.title.isEmpty() ? tr("By capture") : m_figure.title; }
    QString facts() const override { return tr("capture by capture"); }
    QString aside() const override { return m_words; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;

private:
    void refresh();
    RunTrendFigure m_figure;
    QString m_words;
};

} // namespace fulvex
