#include "histogram_tile.h"

namespace fulvex {

HistogramTile::HistogramTile(Workbench &bench, int index, QWidget *parent) : TileFrame(bench, index, parent)
{
    setObjectName("histogramTile");
    setToolTip(tr("Click: settings and evidence of this quantity"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &HistogramTile::refresh);
    refresh();
}

void HistogramTile::refresh()
{
    const HistogramFigure before = m_figure;
    if (bench().results())
        m_figure = histogramFigure(*bench().results(), rowId());
    else if (m_figure.histogram.counts.empty())
        m_figure.empty = tr("Measuring…");
    if (!(m_figure == before)) update();
}

bool HistogramTile::selected() const
{
    return bench().selection() == Selection{Selection::Kind::measurement, rowId()};
}

void HistogramTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintHistogram(painter, area, m_figure, bench().look());
}

void HistogramTile::choose()
{
    if (!rowId().empty()) bench().select({Selection::Kind::measurement, rowId()});
}

void HistogramTile::mousePressEvent(QMouseEvent *)
{
    choose();
}

void HistogramTile::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Delete)
        removeTile();
    else
        QWidget::keyPressEvent(event);
}

} // namespace fulvex
