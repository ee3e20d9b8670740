#include "trace_tile.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

TraceTile::TraceTile(Workbench &bench, int index, QWidget *parent) : TileFrame(bench, index, parent)
{
    setObjectName("traceTile");
    setAcceptDrops(true);
    setCursor(Qt::CrossCursor);
    setToolTip(tr("Drag: zoom in · wheel: zoom · Shift+drag: pan · F: whole record\nClick: marker a · Shift+click: "
                  "marker b · Esc: none · double click: note"));
}

QString TraceTile::facts() const
{
    QStringList names;
    for (const auto &line : m_figure.lines) names << line.name;
    return names.join(", ");
}

double TraceTile::timeAt(double x) const
{
    const QRectF plot = m_figure.plotRect(body());
    return bench().viewFrom() + (x - plot.left()) / plot.width() * (bench().viewTo() - bench().viewFrom());
}

std::optional<double> TraceTile::valueAt(const std::string &channel, double time) const
{
    const ChannelResult *result = bench().results() ? findEntry(bench().results()->channels, channel) : nullptr;
    if (!result || !result->source) return {};
    const TimeAxis &axis = result->source->axis();
    const double position = axis.positionOf(time);
    const auto left = std::int64_t(std::floor(position));
    if (left < 0 || left + 1 >= axis.count) return {};
    double pair[2];
    result->source->read(left, pair);
    return pair[0] + (pair[1] - pair[0]) * (position - double(left));
}

QString TraceTile::aside() const
{
    const auto &markers = bench().markers();
    if (markers.empty()) return text(quantityText(bench().viewTo() - bench().viewFrom(), "s", {}, 4)) + tr(" shown");
    const double step = (bench().viewTo() - bench().viewFrom()) / 2000;
    QString line = "a " + text(quantityText(markers[0], "s", step));
    const auto va = m_figure.lines.empty() ? std::nullopt : valueAt(m_figure.lines[0].id, markers[0]);
    const std::string unit = m_figure.lines.empty() ? "V" : m_figure.lines[0].unit.toStdString();
    if (markers.size() < 2) return va ? line + ", " + text(quantityText(*va, unit)) : line;
    const double dt = markers[1] - markers[0];
    line = "dt " + text(quantityText(dt, "s", step));
    if (dt != 0) line += " · 1/dt " + text(quantityText(1 / dt, "Hz", {}, 4));
    const auto vb = m_figure.lines.empty() ? std::nullopt : valueAt(m_figure.lines[0].id, markers[1]);
    if (va && vb) line += " · dv " + text(quantityText(*vb - *va, unit));
    return line;
}

void TraceTile::addMeasuredPoints(TraceFigure &figure) const
{
    const Results &results = *bench().results();
    if (bench().selection().kind != Selection::Kind::measurement) return;
    const Row *row = findEntry(results.rows, bench().selection().id);
    if (!row || !row->measurable() || row->measured->single) return;
    const auto line =
        std::find_if(figure.lines.begin(), figure.lines.end(), [&](const auto &l) { return l.id == row->source; });
    if (line == figure.lines.end()) return;
    const Population &all = row->measured->population;
    auto at = std::size_t(std::lower_bound(all.time.begin(), all.time.end(), figure.from) - all.time.begin());
    const std::size_t end =
        std::size_t(std::upper_bound(all.time.begin(), all.time.end(), figure.to) - all.time.begin());
    if (end - at > 60) return; // too many to tell apart: come closer
    QColor wash = bench().look().accent;
    wash.setAlpha(34);
    for (; at < end; ++at) {
        for (const double time : {all.time[at], all.time[at] + all.duration[at]}) {
            if (const auto value = valueAt(row->source, time)) figure.points.push_back({time, *value, line->lane});
            if (all.duration[at] == 0) break;
        }
        if (all.duration[at] > 0)
            figure.marks.push_back({all.time[at], all.time[at] + all.duration[at], line->lane, wash});
    }
}

void TraceTile::addMarks(TraceFigure &figure) const
{
    const Results &results = *bench().results();
    if (const auto &moment = bench().moment()) {
        QColor wash = moment->failure ? bench().look().fail : bench().look().accent;
        wash.setAlpha(46);
        const auto line = std::find_if(figure.lines.begin(), figure.lines.end(),
                                       [&](const auto &l) { return l.id == moment->channel; });
        figure.marks.push_back({moment->from, moment->to, line == figure.lines.end() ? -1 : line->lane, wash});
    }
    for (const NoteEntry &note : bench().document().notes) {
        const auto line =
            std::find_if(figure.lines.begin(), figure.lines.end(), [&](const auto &l) { return l.id == note.channel; });
        if (line != figure.lines.end())
            figure.notes.push_back({note.time, note.level, line->lane, text(note.text), note.id});
    }
    figure.markers = bench().markers();
    for (const ClockResult &clock : results.clocks) { // boundaries of the clock that the view is about
        const ClockEntry *entry = findEntry(bench().document().clocks, clock.id);
        const bool chosen = bench().selection().kind == Selection::Kind::clock ? bench().selection().id == clock.id
                                                                               : entry && entry->method == "pll";
        const bool shown = entry && std::any_of(figure.lines.begin(), figure.lines.end(),
                                                [&](const auto &l) { return l.id == entry->source; });
        if (!chosen || !shown || !clock.clock) continue;
        const TimeAxis &axis = clock.clock->axis();
        const double first = clock.clock->unitIntervalAt(axis.positionOf(figure.from)),
                     last = clock.clock->unitIntervalAt(axis.positionOf(figure.to));
        if (last - first > 120) break;
        for (double n = std::ceil(first); n <= last; ++n)
            figure.clockInstants.push_back(axis.timeOf(clock.clock->positionOf(n)));
        break;
    }
}

void TraceTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (!bench().results()) {
        paintEmpty(painter, area,
                   bench().document().captures.empty() ? tr("Drop a capture here, or press Ctrl+O.") : tr("Reading…"),
                   bench().look());
        return;
    }
    m_figure = traceFigure(*bench().results(), entry(), bench().viewFrom(), bench().viewTo(), int(area.width() - 86));
    addMarks(m_figure);
    addMeasuredPoints(m_figure);
    paintTraces(painter, area, m_figure, bench().look());
    if (m_drag == Drag::span && std::abs(m_to.x() - m_from.x()) > 3) {
        const QRectF plot = m_figure.plotRect(area);
        painter.setPen(QPen(bench().look().accent, 1));
        QColor wash = bench().look().accent;
        wash.setAlpha(30);
        painter.setBrush(wash);
        painter.drawRect(QRectF(QPointF(m_from.x(), plot.top()), QPointF(m_to.x(), plot.bottom())).normalized());
    }
}

void TraceTile::addToMenu(QMenu &menu)
{
    QAction *lanes = menu.addAction(tr("One lane a channel"));
    lanes->setCheckable(true);
    lanes->setChecked(entry().lanes);
    connect(lanes, &QAction::triggered, this, [this](bool on) {
        bench().change(tr("lanes"), [&](Document &document) {
            document.sheets[std::size_t(bench().sheet())].tiles[std::size_t(index())].lanes = on;
        });
    });
    QMenu *shown = menu.addMenu(tr("Channels"));
    for (const ChannelEntry &channel : bench().document().channels) {
        QAction *action = shown->addAction(text(channel.shownName()));
        action->setCheckable(true);
        const auto &of = entry().of;
        action->setChecked(std::find(of.begin(), of.end(), channel.id) != of.end());
        connect(action, &QAction::triggered, this, [this, id = channel.id](bool on) {
            bench().change(tr("channels of a tile"), [&](Document &document) {
                auto &list = document.sheets[std::size_t(bench().sheet())].tiles[std::size_t(index())].of;
                if (on)
                    list.push_back(id);
                else
                    std::erase(list, id);
            });
        });
    }
    menu.addSeparator();
}

void TraceTile::mousePressEvent(QMouseEvent *event)
{
    const bool pan = event->button() == Qt::MiddleButton ||
                     (event->button() == Qt::LeftButton && event->modifiers() & Qt::AltModifier);
    if (event->button() != Qt::LeftButton && !pan) return;
    m_drag = pan ? Drag::pan : Drag::span;
    m_from = m_to = event->position();
    m_viewFrom = bench().viewFrom();
}

void TraceTile::mouseMoveEvent(QMouseEvent *event)
{
    if (m_drag == Drag::none) return;
    m_to = event->position();
    if (m_drag == Drag::pan || event->modifiers() & Qt::ShiftModifier) {
        m_drag = Drag::pan;
        const double width = bench().viewTo() - bench().viewFrom();
        const double from = m_viewFrom - (m_to.x() - m_from.x()) / m_figure.plotRect(body()).width() * width;
        bench().setView(from, from + width);
    }
    update();
}

void TraceTile::mouseReleaseEvent(QMouseEvent *event)
{
    const Drag drag = std::exchange(m_drag, Drag::none);
    if (drag != Drag::span) return;
    const double a = timeAt(m_from.x()), b = timeAt(event->position().x());
    if (std::abs(event->position().x() - m_from.x()) > 3)
        bench().setView(std::min(a, b), std::max(a, b));
    else
        bench().setMarker(event->modifiers() & Qt::ShiftModifier ? 1 : 0, b);
    update();
}

void TraceTile::addNote(QPointF at)
{
    if (m_figure.lines.empty()) return;
    const int lane = m_figure.laneAt(body(), at.y());
    const auto line =
        std::find_if(m_figure.lines.begin(), m_figure.lines.end(), [&](const auto &l) { return l.lane == lane; });
    if (line == m_figure.lines.end()) return;
    // Kept now: the traces may be made anew while the dialog is open.
    const std::string channel = line->id;
    const double time = timeAt(at.x()), level = m_figure.valueAt(body(), lane, at.y());
    bool given = false;
    const QString words =
        QInputDialog::getText(this, tr("Note"), tr("Pinned to this moment and level:"), QLineEdit::Normal, {}, &given);
    if (!given || words.isEmpty()) return;
    bench().change(tr("add note"), [&](Document &document) {
        document.notes.push_back({freeId(document, "note"), channel, words.toStdString(), time, level});
    });
}

void TraceTile::mouseDoubleClickEvent(QMouseEvent *event)
{
    m_drag = Drag::none;
    bench().clearMarkers();
    addNote(event->position());
}

void TraceTile::wheelEvent(QWheelEvent *event)
{
    const double steps = event->angleDelta().y() / 120.0;
    if (event->modifiers() & Qt::ShiftModifier || event->angleDelta().x() != 0) {
        const double by = -(steps + event->angleDelta().x() / 120.0) * 0.1 * (bench().viewTo() - bench().viewFrom());
        bench().setView(bench().viewFrom() + by, bench().viewTo() + by);
    } else {
        bench().zoom(std::pow(0.8, steps), timeAt(event->position().x()));
    }
    event->accept();
}

void TraceTile::keyPressEvent(QKeyEvent *event)
{
    const double width = bench().viewTo() - bench().viewFrom(), middle = bench().viewFrom() + width / 2;
    switch (event->key()) {
    case Qt::Key_Left:
        bench().setView(bench().viewFrom() - width / 8, bench().viewTo() - width / 8);
        break;
    case Qt::Key_Right:
        bench().setView(bench().viewFrom() + width / 8, bench().viewTo() + width / 8);
        break;
    case Qt::Key_Plus:
    case Qt::Key_Up:
        bench().zoom(0.5, middle);
        break;
    case Qt::Key_Minus:
    case Qt::Key_Down:
        bench().zoom(2, middle);
        break;
    case Qt::Key_F:
        bench().fitView();
        break;
    case Qt::Key_N:
        addNote(mapFromGlobal(QCursor::pos()));
        break;
    case Qt::Key_Escape:
        bench().clearMarkers();
        break;
    case Qt::Key_Delete:
        removeTile();
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

void TraceTile::dragEnterEvent(QDragEnterEvent *event)
{
    if (event->mimeData()->hasFormat("application/x-fulvex-channel")) event->acceptProposedAction();
}

void TraceTile::dropEvent(QDropEvent *event)
{
    const std::string id = event->mimeData()->data("application/x-fulvex-channel").toStdString();
    bench().change(tr("show channel"), [&](Document &document) {
        auto &list = document.sheets[std::size_t(bench().sheet())].tiles[std::size_t(index())].of;
        if (std::find(list.begin(), list.end(), id) == list.end()) list.push_back(id);
    });
    event->acceptProposedAction();
}

} // namespace fulvex
