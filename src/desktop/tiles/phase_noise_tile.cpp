#include "phase_noise_tile.h"

#include "phase_noise_edits.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>

namespace fulvex {

PhaseNoiseTile::PhaseNoiseTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::phaseNoise), m_mover(bench, id())
{
    setObjectName("phaseNoiseTile");
    setMouseTracking(true);
    setToolTip(tr("Drag the dashed rules: between them jitter is integrated\n"
                  "Click a line: when it is strongest · Space: into the integral, or out of it\n"
                  "Wheel: closer · Shift+drag: along · F: all of it"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::lookChanged})
        connect(&bench, changed, this, &PhaseNoiseTile::refresh);
    refresh();
}

void PhaseNoiseTile::refresh()
{
    const auto pointed = m_figure.pointed;
    const PhaseNoiseSpan span = m_figure.span;
    if (const auto shown = results())
        m_figure = phaseNoiseFigure(*shown, entry());
    else
        m_figure.empty = tr("Averaging phases…");
    m_figure.pointed = pointed;
    const Question &question = bench().question();
    if (question.id == entryId()) m_figure.chosen = question.part;
    if (m_dragged) m_figure.span = span; // the hand is ahead of the results
    update();
}

void PhaseNoiseTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintPhaseNoise(painter, area, m_figure, bench().look());
}

void PhaseNoiseTile::askOf(std::size_t line)
{
    Question question;
    question.part = line;
    askEvidence(question);
}

void PhaseNoiseTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    if (m_mover.press(*event, m_figure.view())) return;
    if (event->button() != Qt::LeftButton) return;
    m_dragged = m_figure.gripAt(body(), event->position());
    if (m_dragged) {
        ++m_drags;
        return;
    }
    if (const auto line = m_figure.lineAt(body(), event->position().x()))
        askOf(*line);
    else
        choose();
}

void PhaseNoiseTile::drag(QPointF at)
{
    const QRectF plot = FunctionPlot().plotRect(body());
    const double share = std::clamp((at.x() - plot.left()) / plot.width(), 0.0, 1.0);
    const double offset = std::clamp(m_figure.view().scale().valueAt(share), m_figure.lowest, m_figure.highest);
    constexpr double least = 1.01; // a span has some width
    const bool from = *m_dragged == PhaseNoiseFigure::Grip::from;
    (from ? m_figure.span.from : m_figure.span.to) =
        from ? std::min(offset, m_figure.span.to / least) : std::max(offset, m_figure.span.from * least);
    m_figure.aside = m_figure.jitterText();
    setIntegral(bench(), entryId(), m_figure.span, m_drags);
    update();
}

void PhaseNoiseTile::mouseMoveEvent(QMouseEvent *event)
{
    if (m_dragged) return drag(event->position());
    if (m_mover.drag(*event, FunctionPlot().plotRect(body()).width())) return;
    m_figure.pointed = m_figure.offsetAt(body(), event->position());
    setCursor(m_figure.gripAt(body(), event->position()) ? Qt::SplitHCursor : Qt::ArrowCursor);
    update();
}

void PhaseNoiseTile::mouseReleaseEvent(QMouseEvent *)
{
    m_mover.release();
    if (!m_dragged) return;
    m_dragged.reset();
    refresh();
}

void PhaseNoiseTile::leaveEvent(QEvent *)
{
    m_figure.pointed.reset();
    update();
}

void PhaseNoiseTile::wheelEvent(QWheelEvent *event)
{
    event->accept();
    const QRectF plot = FunctionPlot().plotRect(body());
    m_mover.wheel(*event, (event->position().x() - plot.left()) / plot.width(), m_figure.view());
}

void PhaseNoiseTile::keyPressEvent(QKeyEvent *event)
{
    const auto count = m_figure.shown.empty() ? 0 : std::ptrdiff_t(m_figure.shown.front().found->lines.size());
    if (count > 0 && (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)) {
        const std::ptrdiff_t by = event->key() == Qt::Key_Left ? -1 : 1;
        const std::ptrdiff_t from = m_figure.chosen ? std::ptrdiff_t(*m_figure.chosen) : by > 0 ? -1 : count;
        return askOf(std::size_t(std::clamp<std::ptrdiff_t>(from + by, 0, count - 1)));
    }
    if (event->key() == Qt::Key_Space && m_figure.chosen) {
        countLine(bench(), entryId(), *m_figure.chosen);
        return;
    }
    if (!m_mover.key(*event)) TileFrame::keyPressEvent(event);
}

StabilityTile::StabilityTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::phaseNoise)
{
    setObjectName(QString::fromStdString(entry().kind) + "Tile");
    setMouseTracking(true);
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &StabilityTile::refresh);
    refresh();
}

QString StabilityTile::title() const
{
    return m_figure.what == StabilityPlot::accumulated ? tr("Accumulated jitter") : tr("Time deviation");
}

void StabilityTile::refresh()
{
    const auto pointed = m_figure.pointed;
    const auto what = stabilityPlotOf(entry().kind).value_or(StabilityPlot::accumulated);
    if (bench().results()) m_figure = stabilityFigure(*bench().results(), entryId(), what);
    m_figure.what = what;
    m_figure.pointed = pointed;
    update();
}

void StabilityTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintStability(painter, area, m_figure, bench().look());
}

void StabilityTile::mousePressEvent(QMouseEvent *)
{
    setFocus(Qt::MouseFocusReason);
    choose();
}

void StabilityTile::mouseMoveEvent(QMouseEvent *event)
{
    m_figure.pointed = m_figure.placeAt(body(), event->position().x());
    update();
}

void StabilityTile::leaveEvent(QEvent *)
{
    m_figure.pointed.reset();
    update();
}

} // namespace fulvex
