#include "spectrogram_tile.h"

#include "tile_edits.h"

#include <QApplication>
#include <algorithm>

namespace fulvex {

SpectrogramTile::SpectrogramTile(Workbench &bench, int index, QWidget *parent)
    : TimeTile(bench, index, parent, Selection::Kind::spectrum), m_drawn(bench.figures(), [this] { refresh(); }),
      m_mover(bench, id())
{
    setObjectName("spectrogramTile");
    setToolTip(tr("Click: that frequency over time, and that moment's spectrum · drag a box: where in it the band is "
                  "strongest · Esc: none\n"
                  "Wheel: zoom in time · Ctrl+wheel: in frequency · Shift+drag: pan · F: all of it"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::viewChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, &SpectrogramTile::refresh);
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    refresh();
}

void SpectrogramTile::refresh()
{
    const SpectrogramFigure before = m_figure;
    if (bench().results())
        m_figure = spectrogramFigure(*bench().results(), entry(), view().from, view().to);
    else if (!m_figure.gram)
        m_figure.empty = tr("Transforming…");
    m_figure.take(m_drawn.newest());
    const Question &question = bench().question();
    if (question.id == entryId() && question.frequencies && question.times)
        m_figure.asked = {question.times->first, question.times->second, question.frequencies->first,
                          question.frequencies->second};
    if (m_figure == before) return;
    if (isVisible()) wantDrawing(body());
    update();
}

void SpectrogramTile::wantDrawing(const QRectF &area)
{
    if (const auto from = m_figure.drawingFrom(area, bench().look())) m_drawn.want(*from);
}

QString SpectrogramTile::facts() const
{
    return m_figure.title + (m_figure.facts.isEmpty() ? QString() : " · " + m_figure.facts);
}

void SpectrogramTile::paintBody(QPainter &painter, const QRectF &area)
{
    wantDrawing(area);
    paintSpectrogram(painter, area, m_figure, bench().look());
}

double SpectrogramTile::frequencyAt(double y) const
{
    return m_figure.view().scale().valueAt(std::clamp((plot().bottom() - y) / plot().height(), 0.0, 1.0));
}

void SpectrogramTile::mark(std::optional<double> frequency, std::optional<double> time)
{
    editTile(
        bench(), id(), tr("choose a frequency and a moment"),
        [&](TileEntry &tile) {
            tile.marked = frequency;
            tile.at = time;
        },
        "place on " + QString::fromStdString(id()));
}

SpectrogramFigure::Box SpectrogramTile::boxTo(QPointF end) const
{
    const auto [from, to] = std::minmax({timeAt(m_from.x()), timeAt(end.x())});
    const auto [low, high] = std::minmax({frequencyAt(m_from.y()), frequencyAt(end.y())});
    return {from, to, low, high};
}

void SpectrogramTile::mousePressEvent(QMouseEvent *event)
{
    if (buttonMovesView(*event)) return;
    setFocus(Qt::MouseFocusReason);
    m_from = event->position();
    m_viewFrom = view().from;
    m_boxed = false;
    const bool inside = m_figure.gram && plot().contains(m_from);
    m_drag = !inside                                                                         ? Drag::none
             : event->button() == Qt::MiddleButton || event->modifiers() & Qt::ShiftModifier ? Drag::pan
             : event->button() == Qt::LeftButton                                             ? Drag::box
                                                                                             : Drag::none;
    if (!inside) choose();
}

void SpectrogramTile::mouseMoveEvent(QMouseEvent *event)
{
    if (m_drag == Drag::pan) return pan(m_viewFrom, m_from.x(), event->position().x());
    if (m_drag != Drag::box) return;
    m_boxed |= (event->position() - m_from).manhattanLength() > QApplication::startDragDistance();
    if (!m_boxed) return;
    m_figure.asked = boxTo(event->position());
    update();
}

void SpectrogramTile::mouseReleaseEvent(QMouseEvent *event)
{
    if (std::exchange(m_drag, Drag::none) != Drag::box || !m_figure.gram) return;
    if (!std::exchange(m_boxed, false)) {
        mark(frequencyAt(m_from.y()), timeAt(m_from.x()));
        return choose();
    }
    const SpectrogramFigure::Box box = boxTo(event->position());
    Question question;
    question.times = {box.from, box.to};
    question.frequencies = {box.low, box.high};
    askEvidence(question);
}

void SpectrogramTile::wheelEvent(QWheelEvent *event)
{
    event->accept();
    if (event->modifiers() & Qt::ControlModifier)
        m_mover.wheel(*event, (plot().bottom() - event->position().y()) / plot().height(), m_figure.view());
    else
        wheelMovesView(*event);
}

void SpectrogramTile::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape) {
        if (entry().marked || entry().at) mark({}, {});
        return choose();
    }
    if (m_mover.key(*event))
        bench().fitView(index());
    else if (!keyMovesView(*event))
        TimeTile::keyPressEvent(event);
}

} // namespace fulvex
