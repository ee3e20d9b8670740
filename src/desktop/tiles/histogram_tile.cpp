#include "histogram_tile.h"

#include "references.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

HistogramTile::HistogramTile(Workbench &bench, int index, QWidget *parent)
    : RowTile(bench, index, parent), m_drawn(bench.figures(), [this] { refresh(); })
{
    setObjectName("histogramTile");
    setToolTip(
        tr("Click a bar, or drag over several: the moments in it · click the head: all of them · arrows: the next bar\n"
           "Ctrl+click: a marker, which rests on peaks · drag it; Delete takes it away\n"
           "How it is shown: in the Inspector, under its row"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::viewChanged, &Workbench::runChanged})
        connect(&bench, changed, this, &HistogramTile::refresh);
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    refresh();
}

void HistogramTile::refresh()
{
    const HistogramFigure before = m_figure;
    if (const auto shown = results())
        m_figure = histogramFigure(*shown, entry(), {bench().viewFrom(), bench().viewTo()});
    else if (m_figure.histogram.counts.empty())
        m_figure.empty = tr("Measuring…");
    m_figure.take(m_drawn.newest());
    m_figure.mark(bench().document().markers); // as a hand moves them, whatever the results are of
    const Question &question = bench().question();
    const ValueHistogram &histogram = m_figure.histogram;
    if (question.id == entryId() && question.values && !histogram.counts.empty()) {
        const auto barOf = [&](double value) {
            return histogram.binOf(std::clamp(value, histogram.low, histogram.high));
        };
        m_figure.asked = {barOf(question.values->first), barOf(std::nextafter(question.values->second, histogram.low))};
    }
    if (m_figure == before) return;
    if (isVisible()) wantDrawing(); // has it counted while the rest is painted
    update();
}

void HistogramTile::wantDrawing()
{
    if (const auto from = m_figure.drawingFrom()) m_drawn.want(*from);
}

void HistogramTile::paintBody(QPainter &painter, const QRectF &area)
{
    wantDrawing();
    paintHistogram(painter, area, m_figure, bench().look());
}

void HistogramTile::ask(std::size_t one, std::size_t other)
{
    Question question;
    question.values = m_figure.histogram.valuesOf(std::min(one, other), std::max(one, other));
    question.times = m_figure.view;
    askEvidence(question);
}

void HistogramTile::mousePressEvent(QMouseEvent *event)
{
    const QRectF plot = m_figure.plotRect(body());
    m_from = m_figure.barAt(plot, event->position().x());
    if (event->position().y() < headHeight) m_from.reset();
    setFocus(Qt::MouseFocusReason);
    if (m_from && event->modifiers() & Qt::ControlModifier) {
        m_from.reset();
        return putMarker(event->position().x());
    }
    if (const auto *marker = m_from ? m_figure.markerAt(plot, event->position().x()) : nullptr) {
        m_from.reset();
        m_marker = marker->id;
        ++m_drag;
        return bench().select({Selection::Kind::marker, m_marker});
    }
    if (m_from)
        ask(*m_from, *m_from);
    else
        choose();
}

void HistogramTile::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_marker.empty()) return dragMarker(event->position().x());
    if (!m_from) return;
    const QRectF plot = m_figure.plotRect(body());
    const auto to = m_figure.barAt(plot, std::clamp(event->position().x(), plot.left(), plot.right()));
    if (to && *m_from < m_figure.histogram.counts.size()) ask(*m_from, *to);
}

void HistogramTile::mouseReleaseEvent(QMouseEvent *)
{
    m_marker.clear();
}

void HistogramTile::putMarker(double x)
{
    const QRectF plot = m_figure.plotRect(body());
    MarkerEntry marker;
    marker.row = entryId();
    marker.level = m_figure.rested(plot, m_figure.valueAt(plot, x));
    bench().putMarker(bench().document().markers.size(), marker);
    bench().select({Selection::Kind::marker, bench().document().markers.back().id}); // which Delete is about
}

void HistogramTile::dragMarker(double x)
{
    const QRectF plot = m_figure.plotRect(body());
    const double value = m_figure.rested(plot, m_figure.valueAt(plot, std::clamp(x, plot.left(), plot.right())));
    bench().change(
        tr("move marker"),
        [&](Document &document) {
            if (MarkerEntry *marker = findEntry(document.markers, m_marker)) marker->level = value;
        },
        QString("histogram marker %1").arg(m_drag));
}

bool HistogramTile::removeMarker()
{
    const Selection &selection = bench().selection();
    const MarkerEntry *marker =
        selection.kind == Selection::Kind::marker ? findEntry(bench().document().markers, selection.id) : nullptr;
    if (!marker || marker->row != entryId()) return false;
    return bench().change(tr("remove marker"),
                          [&, id = selection.id](Document &document) { removeWithDependents(document, id); });
}

void HistogramTile::stepBar(int by)
{
    const auto &counts = m_figure.histogram.counts;
    auto bar = m_figure.asked ? std::ptrdiff_t(m_figure.asked->first) : by > 0 ? -1 : std::ptrdiff_t(counts.size());
    do bar += by;
    while (bar >= 0 && bar < std::ptrdiff_t(counts.size()) && counts[std::size_t(bar)] == 0);
    if (bar >= 0 && bar < std::ptrdiff_t(counts.size())) ask(std::size_t(bar), std::size_t(bar));
}

void HistogramTile::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)
        return stepBar(event->key() == Qt::Key_Left ? -1 : 1);
    if (event->key() == Qt::Key_Delete && removeMarker()) return;
    if (event->key() == Qt::Key_Escape) return choose();
    RowTile::keyPressEvent(event);
}

} // namespace fulvex
