#include "eye_tile.h"

#include "evidence_list.h"

namespace fulvex {

EyeTile::EyeTile(Workbench &bench, int index, QWidget *parent) : TileFrame(bench, index, parent)
{
    setObjectName("eyeTile");
    setToolTip(tr("Click: settings and evidence · click a cross: that bit on the trace"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &EyeTile::refresh);
    refresh();
}

void EyeTile::refresh()
{
    const EyeFigure before = m_figure;
    if (bench().results())
        m_figure = eyeFigure(*bench().results(), eyeId());
    else if (!m_figure.fold)
        m_figure.empty =
            bench().document().captures.empty() ? tr("Drop a capture here, or press Ctrl+O.") : tr("Folding…");
    if (!(m_figure == before)) update();
}

QString EyeTile::facts() const
{
    return m_figure.title + (m_figure.facts.isEmpty() ? QString() : " · " + m_figure.facts);
}

bool EyeTile::selected() const
{
    const Selection &selection = bench().selection();
    return (selection.kind == Selection::Kind::eye && selection.id == eyeId()) ||
           (selection.kind == Selection::Kind::mask && selection.id == m_figure.mask);
}

void EyeTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintEye(painter, area, m_figure, bench().look());
}

void EyeTile::mousePressEvent(QMouseEvent *event)
{
    if (!m_figure.fold) return;
    choose();
    const QRectF plot = m_figure.plotRect(body());
    for (const EyeFigure::Failure &failure : m_figure.failures) {
        const QPointF at(plot.left() + (failure.x - EyeFigure::left) / 2 * plot.width(),
                         plot.bottom() - (failure.y - m_figure.low) / (m_figure.high - m_figure.low) * plot.height());
        if ((at - event->position()).manhattanLength() > 9) continue;
        bench().goTo(Moment{failure.from, failure.to, m_figure.source, true});
        return;
    }
}

void EyeTile::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        choose();
    else if (event->key() == Qt::Key_Delete)
        removeTile();
    else
        QWidget::keyPressEvent(event);
}

} // namespace fulvex
