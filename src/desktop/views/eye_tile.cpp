#include "eye_tile.h"

#include "axis_painter.h"

namespace fulvex {

EyeTile::EyeTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent), m_drawn(bench.figures(), [this] { update(); })
{
    setObjectName("eyeTile");
    setToolTip(tr("Click: settings and evidence · click a cross: that bit on the trace · drag a box: the unit "
                  "intervals that pass through it"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &EyeTile::refresh);
    connect(&bench, &Workbench::selectionChanged, this, &EyeTile::refresh);
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
    const Question &question = bench().question();
    if (m_figure.fold && question.id == eyeId() && question.phases && question.values)
        m_figure.asked = QRectF(QPointF(question.phases->first, question.values->first),
                                QPointF(question.phases->second, question.values->second));
    m_figure.picture = before.picture;
    if (m_figure == before) return;
    if (isVisible()) wantPicture(); // has it drawn while the rest is painted
    update();
}

void EyeTile::wantPicture()
{
    if (const auto from = m_figure.pictureFrom(bench().look())) m_drawn.want(*from);
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
    wantPicture();
    m_figure.picture = m_drawn.newest();
    paintEye(painter, area, m_figure, bench().look());
}

void EyeTile::mousePressEvent(QMouseEvent *event)
{
    m_pressed.reset();
    if (!m_figure.fold || event->button() != Qt::LeftButton) return;
    m_pressed = event->position();
    setFocus(Qt::MouseFocusReason);
}

void EyeTile::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_pressed || !m_figure.fold) return;
    if (!m_dragged && (event->position() - *m_pressed).manhattanLength() < QApplication::startDragDistance()) return;
    const QRectF plot = m_figure.plotRect(body());
    const auto at = [&](QPointF point) {
        return m_figure.valuesAt(
            plot, {std::clamp(point.x(), plot.left(), plot.right()), std::clamp(point.y(), plot.top(), plot.bottom())});
    };
    m_dragged = QRectF(at(*m_pressed), at(event->position())).normalized();
    m_figure.asked = m_dragged;
    update();
}

void EyeTile::mouseReleaseEvent(QMouseEvent *)
{
    const auto pressed = std::exchange(m_pressed, {});
    const auto box = std::exchange(m_dragged, {});
    if (!pressed || !m_figure.fold) return;
    const Selection eye{Selection::Kind::eye, eyeId()};
    if (box) {
        Question question;
        question.phases = {box->left(), box->right()};
        question.values = {box->top(), box->bottom()};
        return bench().select(eye, question);
    }
    choose();
    const QRectF plot = m_figure.plotRect(body());
    for (const EyeFigure::Failure &failure : m_figure.failures) {
        if ((m_figure.pointOf(plot, failure.x, failure.y) - *pressed).manhattanLength() > 9) continue;
        bench().goTo(RecordSpan{failure.from, failure.to, m_figure.source, true});
        return;
    }
}

} // namespace fulvex
