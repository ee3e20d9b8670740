#include "scatter_tile.h"

namespace fulvex {

ScatterTile::ScatterTile(Workbench &bench, int index, QWidget *parent)
    : RowTile(bench, index, parent), m_drawn(bench.figures(), [this] { refresh(); })
{
    setObjectName("scatterTile");
    setToolTip(tr("Click a point: its moment · what goes up: in the tile's menu, \"Rows of a tile\""));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, &ScatterTile::refresh);
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    refresh();
}

void ScatterTile::refresh()
{
    const ScatterFigure before = m_figure;
    if (bench().results())
        m_figure = scatterFigure(*bench().results(), entry().of);
    else if (!m_figure.values)
        m_figure.empty = tr("Measuring…");
    m_figure.take(m_drawn.newest());
    if (before.values != m_figure.values || before.against != m_figure.against) m_shown.reset();
    m_figure.shown = m_shown;
    if (!(m_figure == before)) update();
}

void ScatterTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (const auto from = m_figure.drawingFrom(area, bench().look())) m_drawn.want(*from);
    paintScatter(painter, area, m_figure, bench().look());
}

void ScatterTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    const auto pair = m_figure.pairAt(body(), event->position());
    choose();
    if (!pair) return;
    m_shown = {pair->x, pair->y};
    refresh();
    goToOccurrence(pair->of);
}

} // namespace fulvex
