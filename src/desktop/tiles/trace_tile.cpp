#include "trace_tile.h"

#include "measurement_edits.h"
#include "number_text.h"
#include "references.h"
#include "region_edits.h"
#include "tile_edits.h"

#include <QInputDialog>
#include <QMenu>
#include <QMimeData>
#include <algorithm>
#include <cmath>

namespace fulvex {

TraceTile::TraceTile(Workbench &bench, int index, QWidget *parent)
    : TimeTile(bench, index, parent), m_drawn(bench.figures(), [this] { update(); }),
      m_symbols(bench.figures(), [this] { update(); })
{
    setObjectName("traceTile");
    setAcceptDrops(true);
    setMouseTracking(true);
    setCursor(Qt::CrossCursor);
    setToolTip(tr("Drag: zoom in · wheel: zoom · Shift+drag: pan · F: whole record · Alt+Left: view before\n"
                  "Click: marker a · Shift+click: b · Ctrl+click: one more · Esc: none\n"
                  "Ctrl+drag: a named region · Ctrl+Shift+drag: a box to make a histogram of · double click: note\n"
                  "On the value axis or a zero: drag to move, wheel to scale, double click to fit"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &TraceTile::follow);
    connect(&bench, &Workbench::runChanged, this, [this] {
        if (entry().captures != "one") update();
    });
}

void TraceTile::follow()
{
    if (!m_paintedFrom.changes(bench(), m_close ? PaintedFrom::With::clocksAndMasks : PaintedFrom::With::traces))
        return;
    if (isVisible()) m_figure = figureOf(body()); // has it drawn while the rest is painted
    update();
}

QString TraceTile::facts() const
{
    QStringList names;
    for (const auto &line : m_figure.lines) names << line.name;
    return names.join(", ");
}

std::optional<double> TraceTile::valueAt(const std::string &channel, double time) const
{
    const ChannelResult *result = bench().results() ? findEntry(bench().results()->channels, channel) : nullptr;
    return result && result->source ? traceValue(*result->source, time, entry().straight) : std::nullopt;
}

QString TraceTile::aside() const
{
    const auto &markers = m_figure.markers;
    if (markers.empty()) return text(quantityText(view().to - view().from, "s", {}, 4)) + tr(" shown");
    const double step = (view().to - view().from) / 2000;
    const auto valueOf = [&](const TraceFigure::Marker &marker) { // a free moment: on the first trace
        return marker.value || !marker.time || m_figure.lines.empty() ? marker.value
                                                                      : valueAt(m_figure.lines[0].id, *marker.time);
    };
    const auto unitOf = [&](const TraceFigure::Marker &marker) {
        return m_figure.lines.empty() ? std::string("V")
                                      : m_figure.lines[std::size_t(std::max(0, marker.line))].unit.toStdString();
    };
    const auto &a = markers[0];
    const auto va = valueOf(a);
    QStringList parts;
    if (markers.size() < 2) {
        if (a.time) parts << text(quantityText(*a.time, "s", step));
        if (va) parts << text(quantityText(*va, unitOf(a)));
        return "a " + parts.join(", ");
    }
    const auto &b = markers[1];
    const auto vb = valueOf(b);
    const bool sameUnit = unitOf(a) == unitOf(b);
    const double dt = a.time && b.time ? *b.time - *a.time : 0;
    if (a.time && b.time) parts << "dt " + text(quantityText(dt, "s", step));
    if (dt != 0) parts << "1/dt " + text(quantityText(1 / dt, "Hz", {}, 4));
    if (va && vb && sameUnit) parts << "dv " + text(quantityText(*vb - *va, unitOf(a)));
    if (va && vb && sameUnit && dt != 0) parts << tr("slope ") + text(quantityText((*vb - *va) / dt, unitOf(a) + "/s"));
    return parts.join(" · ");
}

void TraceTile::changeTile(const QString &what, const TileEdit &edit, const QString &mergeKey)
{
    bench().change(
        what,
        [&](Document &document) {
            if (TileEntry *tile = tileIn(document, id())) edit(document, *tile);
        },
        mergeKey);
}

const TileEntry &TraceTile::shownEntry() const
{
    const TileEntry *drafted = m_draft ? tileIn(std::as_const(*m_draft), id()) : nullptr;
    return drafted ? *drafted : entry();
}

void TraceTile::paintBody(QPainter &painter, const QRectF &area)
{
    m_figure = figureOf(area);
    if (!bench().results()) {
        paintEmpty(painter, area,
                   bench().document().captures.empty() ? tr("Drop a capture here, or press Ctrl+O.") : tr("Reading…"),
                   bench().look());
        return;
    }
    paintTraces(painter, area, m_figure, bench().look());
    if (m_drag == Drag::box) {
        QColor tone = bench().look().accent;
        painter.setPen(QPen(tone, 1));
        tone.setAlpha(30);
        painter.setBrush(tone);
        painter.drawRect(QRectF(m_from, m_to).normalized());
    }
    if ((m_drag == Drag::span || m_drag == Drag::region) && std::abs(m_to.x() - m_from.x()) > 3) {
        const QRectF plot = m_figure.plotRect(area);
        QColor tone = m_drag == Drag::span ? bench().look().accent : bench().look().ink;
        painter.setPen(QPen(tone, 1));
        tone.setAlpha(30);
        painter.setBrush(tone);
        painter.drawRect(QRectF(QPointF(m_from.x(), plot.top()), QPointF(m_to.x(), plot.bottom())).normalized());
    }
}

void TraceTile::mousePressEvent(QMouseEvent *event)
{
    if (buttonMovesView(*event)) return;
    const bool pan = event->button() == Qt::MiddleButton ||
                     (event->button() == Qt::LeftButton && event->modifiers() & Qt::AltModifier);
    if ((event->button() != Qt::LeftButton && !pan) || !bench().results()) return;
    m_from = m_to = event->position();
    m_viewFrom = view().from;
    m_taken = figureOf(body());
    m_grip = pan ? Grip{} : gripAt(m_taken, body(), m_from, bench().look());
    m_drag = pan                               ? Drag::pan
             : m_grip.kind != Grip::Kind::none ? Drag::grip
             : event->modifiers() & Qt::ControlModifier
                 ? event->modifiers() & Qt::ShiftModifier ? Drag::box : Drag::region
                 : Drag::span;
}

void TraceTile::mouseMoveEvent(QMouseEvent *event)
{
    if (m_drag == Drag::none) {
        setCursor(cursorOf(gripAt(m_figure, body(), event->position(), bench().look())));
        return;
    }
    m_to = event->position();
    if (m_drag == Drag::pan || (m_drag == Drag::span && event->modifiers() & Qt::ShiftModifier)) {
        m_drag = Drag::pan;
        pan(m_viewFrom, m_from.x(), m_to.x());
    }
    if (m_drag == Drag::grip && (m_draft || (m_to - m_from).manhattanLength() > 3)) {
        m_draft = bench().document();
        drag(*m_draft);
    }
    update();
}

void TraceTile::mouseReleaseEvent(QMouseEvent *event)
{
    const Drag dragged = std::exchange(m_drag, Drag::none);
    const bool draft = std::exchange(m_draft, {}).has_value();
    const QPointF at = event->position();
    const bool moved = std::abs(at.x() - m_from.x()) > 3;
    const double a = timeAt(m_from.x()), b = timeAt(at.x());
    m_to = at;
    if (draft) // on the document as it is by now, whatever changed in it since the drag began
        bench().change(tr("drag on the traces"), [&](Document &document) { drag(document); });
    else if (dragged == Drag::span && moved)
        bench().setView(std::min(a, b), std::max(a, b), index(), true);
    else if (dragged == Drag::region && moved)
        bench().select({Selection::Kind::region, addRegion(bench(), std::min(a, b), std::max(a, b))});
    else if (dragged == Drag::box && moved && std::abs(at.y() - m_from.y()) > 3)
        askOfBox(m_from, at, event->globalPosition().toPoint());
    else if (dragged == Drag::span || dragged == Drag::region || dragged == Drag::grip)
        clicked(m_grip, at, event->modifiers());
    update();
}

void TraceTile::drag(Document &document)
{
    if (TileEntry *tile = tileIn(document, id()))
        dragGrip(document, *tile, m_taken, body(), bench().look(), m_grip, m_from, m_to);
}

void TraceTile::clicked(const Grip &grip, QPointF at, Qt::KeyboardModifiers modifiers)
{
    m_byClick.reset();
    switch (grip.kind) {
    case Grip::Kind::note:
    case Grip::Kind::noteSize:
    case Grip::Kind::pin:
        return bench().select({Selection::Kind::note, m_taken.notes[std::size_t(grip.index)].id});
    case Grip::Kind::region:
    case Grip::Kind::regionStart:
    case Grip::Kind::regionStop:
        return bench().select({Selection::Kind::region, m_taken.regions[std::size_t(grip.index)].id});
    case Grip::Kind::baseline:
        return bench().select({Selection::Kind::channel, m_taken.lines[std::size_t(grip.index)].id});
    case Grip::Kind::divider:
    case Grip::Kind::level:
        return;
    case Grip::Kind::marker:
        if (modifiers == Qt::NoModifier)
            return bench().select({Selection::Kind::marker, m_taken.markers[std::size_t(grip.index)].id});
        break;
    case Grip::Kind::axis:
    case Grip::Kind::none:
        break;
    }
    MarkerEntry marker;
    if (grip.kind == Grip::Kind::axis) {
        const int line = m_taken.axisLine(grip.index);
        if (line < 0) return;
        marker.channel = m_taken.lines[std::size_t(line)].id;
        marker.level = m_taken.rested(body(), line, m_taken.valueAt(body(), line, at.y()));
    } else {
        marker.time = timeAt(at.x());
        marker.channel = traceAt(at);
    }
    bench().putMarker(modifiers & Qt::ControlModifier ? bench().document().markers.size()
                                                      : std::size_t(modifiers & Qt::ShiftModifier ? 1 : 0),
                      marker);
    m_byClick = bench().revision();
}

void TraceTile::askOfBox(QPointF from, QPointF to, QPoint menuAt)
{
    const int lane = m_taken.laneAt(body(), from.y());
    const std::string on = traceAt({(from.x() + to.x()) / 2, (from.y() + to.y()) / 2});
    const int line = !on.empty() && m_taken.lineOf(on) >= 0 ? m_taken.lineOf(on) : m_taken.axisLine(lane);
    if (line < 0) return;
    const std::string channel = m_taken.lines[std::size_t(line)].id;
    const std::pair times{timeAt(from.x()), timeAt(to.x())};
    const std::pair values{m_taken.valueAt(body(), line, from.y()), m_taken.valueAt(body(), line, to.y())};
    auto *menu = new QMenu(this);
    menu->setObjectName("boxMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const std::uint64_t session = bench().session();
    const auto offer = [&](const QString &words, const char *quantity) {
        connect(menu->addAction(words.arg(text(channel))), &QAction::triggered, this, [=, this] {
            if (session == bench().session()) measureBox(bench(), quantity, channel, times, values);
        });
    };
    offer(tr("Histogram of the values of %1 in the box"), "sample_values");
    offer(tr("Histogram of the times at which %1 crosses its middle"), "crossing_times");
    menu->popup(menuAt);
}

std::string TraceTile::traceAt(QPointF at) const
{
    constexpr double reach = 7; // pixels
    const QRectF area = body();
    for (int i = int(m_taken.lines.size()) - 1; i >= 0; --i) { // the last is painted on top
        const auto &line = m_taken.lines[std::size_t(i)];
        double low = NAN, high = NAN;
        if (line.drawing && line.drawing->columns.size() > 0) {
            const TraceDrawing &drawing = *line.drawing;
            const auto columns = double(drawing.columns.size());
            const double share = (m_taken.timeAt(area, at.x()) - drawing.start) / (drawing.stop - drawing.start);
            const Extent &extent = drawing.columns.extents[std::size_t(std::clamp(share * columns, 0.0, columns - 1))];
            low = extent.low;
            high = extent.high;
        } else if (const auto value = valueAt(line.id, timeAt(at.x()))) {
            low = high = *value;
        }
        if (at.y() > m_taken.yOf(area, i, high) - reach && at.y() < m_taken.yOf(area, i, low) + reach) return line.id;
    }
    return {};
}

void TraceTile::addNote(QPointF at)
{
    if (m_figure.lines.empty()) return;
    const std::string on = traceAt(at);
    const int lane = m_figure.laneAt(body(), at.y()), line = on.empty() ? m_figure.axisLine(lane) : m_figure.lineOf(on);
    if (line < 0) return;
    // Kept now: the traces may be made anew while the dialog is open.
    const std::string channel = m_figure.lines[std::size_t(line)].id;
    const double time = timeAt(at.x()), level = m_figure.valueAt(body(), line, at.y());
    bool given = false;
    const QString words =
        QInputDialog::getText(this, tr("Note"), tr("Pinned to this moment and level:"), QLineEdit::Normal, {}, &given);
    if (!given || words.isEmpty()) return;
    bench().change(tr("add note"), [&](Document &document) {
        NoteEntry note{freeId(document, "note"), channel, words.toStdString(), time, level};
        document.notes.push_back(note);
    });
}

void TraceTile::editNote(const std::string &id)
{
    const NoteEntry *note = findEntry(bench().document().notes, id);
    if (!note) return;
    bool given = false;
    const QString words = QInputDialog::getMultiLineText(this, tr("Note"), tr("Pinned to its moment and level:"),
                                                         text(note->text), &given);
    if (!given || words.isEmpty()) return;
    bench().change(tr("edit note"), [&](Document &document) {
        if (NoteEntry *entry = findEntry(document.notes, id)) entry->text = words.toStdString();
    });
}

void TraceTile::mouseDoubleClickEvent(QMouseEvent *event)
{
    m_drag = Drag::none;
    const bool samePlace = (event->position() - m_from).manhattanLength() < 8;
    // What this one's first click made goes, unless anything was changed since.
    if (std::exchange(m_byClick, {}) == bench().revision() && samePlace) bench().undoStack().undo();
    m_taken = figureOf(body());
    const Grip grip = gripAt(m_taken, body(), event->position(), bench().look());
    if (grip.kind == Grip::Kind::note || grip.kind == Grip::Kind::pin)
        editNote(m_taken.notes[std::size_t(grip.index)].id);
    else if (grip.kind == Grip::Kind::axis || grip.kind == Grip::Kind::baseline)
        changeTile(tr("scale by the record"), [&](Document &, TileEntry &tile) { freeRanges(tile, m_taken, grip); });
    else if (grip.kind == Grip::Kind::divider)
        changeTile(tr("lanes alike"), [](Document &, TileEntry &tile) { tile.heights.clear(); });
    else
        addNote(event->position());
}

void TraceTile::wheelEvent(QWheelEvent *event)
{
    const double steps = event->angleDelta().y() / 120.0;
    event->accept();
    const Grip grip = gripAt(m_figure, body(), event->position(), bench().look());
    if (grip.kind == Grip::Kind::axis || grip.kind == Grip::Kind::baseline) {
        m_figure = figureOf(body()); // turns may come faster than it is painted
        changeTile(
            tr("scale"),
            [&](Document &, TileEntry &tile) {
                scaleGrip(tile, m_figure, body(), grip, std::pow(0.9, steps), event->position().y());
            },
            "scale " + text(entry().id));
    } else {
        wheelMovesView(*event);
    }
}

void TraceTile::removeSelected()
{
    const Selection selection = bench().selection();
    using Kind = Selection::Kind;
    if (selection.kind != Kind::note && selection.kind != Kind::region && selection.kind != Kind::marker)
        return removeTile(bench(), id());
    bench().change(tr("remove %1").arg(text(selection.id)),
                   [&](Document &document) { removeWithDependents(document, selection.id); });
    bench().select({});
}

void TraceTile::keyPressEvent(QKeyEvent *event)
{
    if (keyMovesView(*event)) return;
    switch (event->key()) {
    case Qt::Key_N:
        addNote(mapFromGlobal(QCursor::pos()));
        break;
    case Qt::Key_Escape:
        m_draft.reset(); // what is being dragged goes back
        if (std::exchange(m_drag, Drag::none) == Drag::none) bench().clearMarkers(true);
        update();
        break;
    case Qt::Key_Delete:
        removeSelected();
        break;
    default:
        TimeTile::keyPressEvent(event);
    }
}

void TraceTile::dragEnterEvent(QDragEnterEvent *event)
{
    if (event->mimeData()->hasFormat("application/x-fulvex-channel")) event->acceptProposedAction();
}

void TraceTile::dropEvent(QDropEvent *event)
{
    const std::string id = event->mimeData()->data("application/x-fulvex-channel").toStdString();
    changeTile(tr("show channel"), [&](Document &, TileEntry &tile) {
        if (std::find(tile.of.begin(), tile.of.end(), id) == tile.of.end()) tile.of.push_back(id);
    });
    event->acceptProposedAction();
}

} // namespace fulvex
