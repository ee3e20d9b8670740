#include "trend_tile.h"

#include "row_tile.h"

#include <algorithm>

namespace fulvex {

TrendTile::TrendTile(Workbench &bench, int index, QWidget *parent)
    : TimeTile(bench, index, parent, Selection::Kind::measurement), m_drawn(bench.figures(), [this] { refresh(); })
{
    setObjectName("trendTile");
    setToolTip(tr("Click: the moment of the nearest value · drag: the moments between · Esc: all of them\n"
                  "Wheel: zoom · Shift+drag: pan · F: whole record"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::viewChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, &TrendTile::refresh);
    refresh();
}

void TrendTile::refresh()
{
    const TrendFigure before = m_figure;
    if (bench().results())
        m_figure = trendFigure(*bench().results(), entry(), view().from, view().to);
    else if (!m_figure.values)
        m_figure.empty = tr("Measuring…");
    const Question &question = bench().question();
    m_figure.asked = question.id == entryId() ? question.times : Question::Span();
    if (bench().moment()) m_figure.shown = {bench().moment()->from, bench().moment()->to};
    m_figure.drawing = m_drawn.newest();
    if (m_figure == before) return;
    if (isVisible()) wantDrawing(body()); // has it drawn while the rest is painted
    update();
}

void TrendTile::wantDrawing(const QRectF &area)
{
    if (const auto from = m_figure.drawingFrom(area)) m_drawn.want(*from);
}

void TrendTile::paintBody(QPainter &painter, const QRectF &area)
{
    wantDrawing(area);
    paintTrend(painter, area, m_figure, bench().look());
}

void TrendTile::ask(double from, double to)
{
    Question question;
    question.times = {std::min(from, to), std::max(from, to)};
    askEvidence(question);
}

void TrendTile::goToNearest(double time)
{
    if (!m_figure.values || m_figure.values->population.size() == 0) return;
    const Population &all = m_figure.values->population;
    const double place = all.axis.positionOf(time);
    std::size_t at = all.position.firstNotBelow(place);
    if (at == all.size() || (at > 0 && place - all.position[at - 1] < all.position[at] - place)) --at;
    const Row *row = bench().results() ? findEntry(bench().results()->rows, entryId()) : nullptr;
    if (row && row->measured == m_figure.values) bench().goTo(occurrenceOf(*row, at));
}

void TrendTile::mousePressEvent(QMouseEvent *event)
{
    if (buttonMovesView(*event)) return;
    setFocus(Qt::MouseFocusReason);
    m_from = event->position().x();
    m_viewFrom = view().from;
    const bool inside = plot().contains(event->position());
    m_drag = !inside                                                                         ? Drag::none
             : event->button() == Qt::MiddleButton || event->modifiers() & Qt::ShiftModifier ? Drag::pan
                                                                                             : Drag::span;
    if (!inside) choose();
}

void TrendTile::mouseMoveEvent(QMouseEvent *event)
{
    const double x = event->position().x();
    if (m_drag == Drag::pan)
        pan(m_viewFrom, m_from, x);
    else if (m_drag == Drag::span && std::abs(x - m_from) > 3)
        ask(timeAt(m_from), timeAt(x));
}

void TrendTile::mouseReleaseEvent(QMouseEvent *event)
{
    const Drag drag = std::exchange(m_drag, Drag::none);
    if (drag != Drag::span || std::abs(event->position().x() - m_from) > 3) return;
    choose();
    goToNearest(timeAt(m_from));
}

void TrendTile::wheelEvent(QWheelEvent *event)
{
    event->accept();
    wheelMovesView(*event);
}

void TrendTile::keyPressEvent(QKeyEvent *event)
{
    if (keyMovesView(*event)) return;
    if (event->key() == Qt::Key_Escape) return choose();
    TimeTile::keyPressEvent(event);
}

} // namespace fulvex
