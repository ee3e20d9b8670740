#include "level_bathtub_tile.h"

#include <QMouseEvent>

namespace fulvex {

LevelBathtubTile::LevelBathtubTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::eye)
{
    setObjectName("levelBathtubTile");
    setMouseTracking(true);
    setToolTip(tr("Solid: counted; dashed: extrapolated\nUnder the pointer: how far the eye is open at that ratio"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &LevelBathtubTile::refresh);
    for (auto changed : {&Workbench::selectionChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, [this] { update(); });
    refresh();
}

void LevelBathtubTile::refresh()
{
    LevelBathtubFigure made;
    if (bench().results())
        made = levelBathtubFigure(*bench().results(), entryId());
    else
        made.empty = tr("Folding…");
    made.ratio = m_figure.ratio;
    if (made == m_figure) return;
    m_figure = std::move(made);
    update();
}

void LevelBathtubTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintLevelBathtub(painter, area, m_figure, bench().look());
}

void LevelBathtubTile::mousePressEvent(QMouseEvent *)
{
    setFocus(Qt::MouseFocusReason);
    choose();
}

void LevelBathtubTile::mouseMoveEvent(QMouseEvent *event)
{
    m_figure.ratio = m_figure.ratioAt(body(), event->position().y());
    update();
}

void LevelBathtubTile::leaveEvent(QEvent *)
{
    m_figure.ratio.reset();
    update();
}

} // namespace fulvex
