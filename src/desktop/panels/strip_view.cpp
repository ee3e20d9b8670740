#include "strip_view.h"

#include "axis_painter.h"
#include "number_text.h"
#include "references.h"
#include "trace_figure.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace fulvex {

StripView::StripView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_drawn(bench.figures(), [this] { update(); })
{
    setObjectName("strip");
    setAccessibleName(tr("Strip: the whole record"));
    setFixedHeight(62);
    setToolTip(tr("The whole record. Drag the frame: move the view · drag elsewhere: choose one · double click: all · "
                  "drag a region's tab: move it, its ends: change it"));
    setMouseTracking(true);
    for (auto changed :
         {&Workbench::viewChanged, &Workbench::selectionChanged, &Workbench::sheetChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, qOverload<>(&QWidget::update));
    connect(&bench, &Workbench::momentsListed, this, qOverload<>(&QWidget::update));
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    for (auto changed : {&Workbench::resultsChanged, &Workbench::documentChanged}) {
        connect(&bench, changed, this, [this] {
            if (!m_paintedFrom.changes(m_bench, PaintedFrom::With::clocksAndMasks)) return;
            if (isVisible()) wantRecord(); // has it drawn while the rest is painted
            update();
        });
    }
}

void StripView::showOutliers(const std::vector<double> &times)
{
    if (times == m_outliers) return;
    m_outliers = times;
    update();
}

double StripView::timeAt(double x) const
{
    return m_whole.first + (x - plot().left()) / plot().width() * (m_whole.second - m_whole.first);
}

double StripView::xOf(double time) const
{
    return plot().left() + (time - m_whole.first) / (m_whole.second - m_whole.first) * plot().width();
}

/// The channel that the sheet is about: its first computed one, else its first.
const ChannelResult *StripView::shownChannel() const
{
    const Results &results = *m_bench.results();
    const ChannelResult *found = nullptr;
    const auto &sheets = m_bench.document().sheets;
    if (std::size_t(m_bench.sheet()) < sheets.size()) {
        for (const TileEntry &tile : sheets[std::size_t(m_bench.sheet())].tiles) {
            if (tile.kind == "eye" && !tile.of.empty()) {
                if (const EyeEntry *eye = findEntry(m_bench.document().eyes, tile.of[0]))
                    return findEntry(results.channels, eye->source);
            }
            for (std::string id : tile.of) {
                if (!findEntry(m_bench.document().channels, id)) id = channelOf(m_bench.document(), id);
                const ChannelEntry *entry = findEntry(m_bench.document().channels, id);
                if (!entry) continue;
                if (!found) found = findEntry(results.channels, id);
                if (!entry->formula.empty()) return findEntry(results.channels, id);
            }
        }
    }
    return found ? found : results.channels.empty() ? nullptr : &results.channels.front();
}

bool StripView::wantRecord()
{
    const auto record = m_bench.record();
    if (!record) return false;
    m_whole = *record;
    const ChannelResult *channel = shownChannel();
    if (!channel || !channel->source || !channel->pyramid || channel->pyramid->whole().empty()) return false;
    const Extent whole = channel->pyramid->whole();
    const double low = whole.low, high = whole.high > whole.low ? whole.high : whole.low + 1;
    m_drawn.want({channel->source, channel->pyramid, m_whole.first, m_whole.second, int(plot().width()), true, low,
                  high, int(plot().height()), m_bench.look().trace(inkOf(m_bench.document(), channel->id)).rgb()});
    return true;
}

/// Where along the record a mask failed: each failure where they are few, else the spans of time that have any.
static std::vector<double> failureTimes(const Results &results, const MaskRun &mask, const EyeResult &eye)
{
    std::vector<double> times;
    const MaskResult &result = *mask.result;
    const ClockResult *clock = findEntry(results.clocks, eye.clock);
    if (result.failedUnitIntervals <= std::int64_t(result.failures.size()) || !clock || !clock->clock ||
        eye.rule.across.seconds) {
        for (const MaskFailure &failure : result.failures) times.push_back(failure.time);
        return times;
    }
    const double span = std::ldexp(1.0, result.spread.shift);
    for (std::size_t i = 0; i < result.spread.counts.size(); ++i) {
        if (result.spread.counts[i] == 0) continue;
        times.push_back(clock->clock->map.axis().timeOf(clock->clock->map.positionOf((double(i) + 0.5) * span)));
    }
    return times;
}

void StripView::paintMarks(QPainter &painter)
{
    const Look &look = m_bench.look();
    const Results &results = *m_bench.results();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setFont(look.font(9));
    const ChannelResult *channel = shownChannel();
    for (const ClockResult &clock : results.clocks) {
        const ClockEntry *entry = findEntry(m_bench.document().clocks, clock.id);
        if (!clock.clock || clock.clock->map.settleTime() <= 0 || !channel || !entry || entry->source != channel->id)
            continue;
        const double left = xOf(m_whole.first), right = xOf(m_whole.first + clock.clock->map.settleTime());
        painter.fillRect(QRectF(left, plot().bottom() + 1, std::max(2.0, right - left), 3), look.trace(4));
        painter.setPen(look.words(look.trace(4)));
        painter.drawText(QRectF(plot().left() + 60, plot().bottom() + 3, 120, 12), Qt::AlignLeft | Qt::AlignVCenter,
                         tr("%1 settles").arg(text(clock.id)));
        break;
    }
    painter.setPen(Qt::NoPen);
    const auto &sheets = m_bench.document().sheets;
    const auto place = std::size_t(m_bench.sheet());
    for (const TileEntry &tile : place < sheets.size() ? sheets[place].tiles : std::vector<TileEntry>()) {
        if (tile.kind != "eye" || tile.of.empty()) continue;
        const EyeResult *eye = findEntry(results.eyes, tile.of[0]);
        const MaskRun *mask = eye ? maskOn(results, eye->id) : nullptr;
        if (!mask || !mask->result) continue;
        painter.setBrush(look.fail);
        for (const double time : failureTimes(results, *mask, *eye)) {
            const double x = xOf(time);
            painter.drawPolygon(QPolygonF({QPointF(x - 4, 2), QPointF(x + 4, 2), QPointF(x, 10)}));
        }
    }
    painter.setBrush(look.accent);
    const bool listed = findEntry(results.eyes, m_bench.momentsOf()) != nullptr; // a mask's failures are there already
    for (std::size_t i = 0; listed && i < m_bench.moments().size(); ++i)
        painter.drawRect(QRectF(xOf(m_bench.moments()[i].time) - 0.5, plot().bottom() - 5, 1.5, 5));
    for (const double time : m_outliers) { // a diamond each, so that they are told from a mask's failures
        const double x = xOf(time);
        painter.drawPolygon(QPolygonF({QPointF(x, 1), QPointF(x + 3, 5.5), QPointF(x, 10), QPointF(x - 3, 5.5)}));
    }
    painter.setBrush(look.ink);
    const std::vector<std::string> shown = m_bench.shownChannels();
    const auto isShown = [&](const std::string &of) {
        return of.empty() || shown.empty() || std::find(shown.begin(), shown.end(), of) != shown.end();
    };
    for (const MarkerEntry &marker : m_bench.document().markers) {
        if (marker.time && isShown(marker.channel))
            painter.drawRect(QRectF(xOf(*marker.time) - 0.5, plot().top() - 6, 1, plot().height() + 8));
    }
    for (const NoteEntry &note : m_bench.document().notes)
        if (isShown(note.channel)) painter.drawEllipse(QPointF(xOf(note.time), plot().bottom() + 5), 2, 2);
}

void StripView::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    const Look &look = m_bench.look();
    painter.fillRect(rect(), look.panel);
    painter.setPen(look.hairline);
    painter.drawLine(0, height() - 1, width(), height() - 1);
    if (!m_bench.record()) {
        paintEmpty(painter, rect(),
                   m_bench.document().captures.empty() ? tr("The whole record will lie here") : tr("Reading…"), look);
        return;
    }
    const bool drawable = wantRecord();
    paintRegions(painter);
    if (const auto &drawn = m_drawn.newest(); drawn && drawable) painter.drawImage(plot(), drawn->shade);
    paintMarks(painter);
    painter.setFont(look.font(9));
    painter.setPen(look.quiet);
    painter.drawText(QRectF(plot().left(), plot().bottom() + 3, 100, 12), Qt::AlignLeft,
                     text(quantityText(m_whole.first, "s", {}, 4)));
    painter.drawText(QRectF(plot().right() - 100, plot().bottom() + 3, 100, 12), Qt::AlignRight,
                     text(quantityText(m_whole.second, "s", {}, 4)));
    paintFrames(painter);
}

void StripView::paintRegions(QPainter &painter)
{
    const Look &look = m_bench.look();
    painter.setFont(look.font(9));
    const Selection &selection = m_bench.selection();
    for (const RegionEntry &region : m_bench.document().regions) {
        const QRectF tab = tabOf(region);
        if (tab.isEmpty()) continue;
        const bool chosen = selection.kind == Selection::Kind::region && selection.id == region.id;
        QColor wash = chosen ? look.accent : look.ink;
        wash.setAlpha(chosen ? 36 : 28);
        painter.fillRect(QRectF(tab.left(), tab.bottom(), tab.width(), plot().bottom() - tab.bottom()), wash);
        wash.setAlpha(chosen ? 110 : 70);
        painter.fillRect(tab, wash);
        painter.setPen(look.ink);
        painter.drawText(QRectF(tab.left() + 3, tab.top(), 120, tab.height()), Qt::AlignLeft | Qt::AlignVCenter,
                         text(region.id));
    }
}

QRectF StripView::tabOf(const RegionEntry &region) const
{
    constexpr double narrowest = 9; // to be taken hold of
    const double left = std::max(plot().left(), xOf(region.start)), right = std::min(plot().right(), xOf(region.stop));
    if (right < left) return {};
    return {left, 0, std::max(narrowest, right - left), plot().top() - 1};
}

std::pair<StripView::Drag, std::string> StripView::grabbedAt(QPointF at) const
{
    const auto &regions = m_bench.document().regions;
    for (auto region = regions.rbegin(); region != regions.rend(); ++region) { // the last lies above
        const QRectF tab = tabOf(*region);
        constexpr double end = 4;
        if (tab.isEmpty() || !tab.adjusted(-end, 0, end, 0).contains(at)) continue;
        if (tab.width() > 5 * end && at.x() < tab.left() + end) return {Drag::regionStart, region->id};
        if (tab.width() > 5 * end && at.x() > tab.right() - end) return {Drag::regionStop, region->id};
        return {Drag::region, region->id};
    }
    return {Drag::none, {}};
}

/// As far as the record goes, and never shorter than a thousandth of it.
void StripView::dragRegion(double time)
{
    const double shortest = (m_whole.second - m_whole.first) / 1000;
    m_bench.change(
        tr("move region %1").arg(text(m_region)),
        [&](Document &document) {
            RegionEntry *region = findEntry(document.regions, m_region);
            if (!region) return;
            const double length = region->stop - region->start;
            if (m_drag == Drag::regionStart)
                region->start = std::clamp(time, m_whole.first, std::max(m_whole.first, region->stop - shortest));
            if (m_drag == Drag::regionStop)
                region->stop = std::clamp(time, std::min(m_whole.second, region->start + shortest), m_whole.second);
            if (m_drag != Drag::region) return;
            region->start = std::clamp(time - m_grip, m_whole.first, std::max(m_whole.first, m_whole.second - length));
            region->stop = region->start + length;
        },
        "drag region " + QString::number(m_undoStep));
}

std::vector<int> StripView::detailTiles() const
{
    std::vector<int> tiles;
    const auto &sheets = m_bench.document().sheets;
    if (std::size_t(m_bench.sheet()) >= sheets.size()) return tiles;
    const auto &all = sheets[std::size_t(m_bench.sheet())].tiles;
    for (int i = 0; i < int(all.size()); ++i) {
        if (all[std::size_t(i)].ownView) tiles.push_back(i);
    }
    return tiles;
}

void StripView::paintFrames(QPainter &painter)
{
    const Look &look = m_bench.look();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setBrush(Qt::NoBrush);
    for (const int tile : detailTiles()) {
        const Workbench::View view = m_bench.view(tile);
        const double left = xOf(view.from), right = xOf(view.to);
        painter.setPen(QPen(look.ink, 1.2, Qt::DashLine));
        painter.drawRoundedRect(
            QRectF(left - 1, plot().top() - 1, std::max(4.0, right - left + 2), plot().height() + 2), 2, 2);
        painter.setFont(look.font(9));
        painter.drawText(QRectF(std::max(left, right) + 3, plot().top() - 1, 60, 11), Qt::AlignLeft, tr("detail"));
    }
    const double left = m_drag == Drag::span ? std::min(m_start, m_end) : xOf(m_bench.viewFrom());
    const double right = m_drag == Drag::span ? std::max(m_start, m_end) : xOf(m_bench.viewTo());
    QColor wash = look.accent;
    wash.setAlpha(24);
    painter.setPen(QPen(look.accent, 1.4));
    painter.setBrush(wash);
    painter.drawRoundedRect(QRectF(left - 1, plot().top() - 4, std::max(4.0, right - left + 2), plot().height() + 8), 2,
                            2);
}

int StripView::frameAt(double x) const
{
    for (const int tile : detailTiles()) { // they lie above the sheet's
        const Workbench::View view = m_bench.view(tile);
        if (x > xOf(view.from) - 5 && x < xOf(view.to) + 5) return tile;
    }
    const double left = xOf(m_bench.viewFrom()), right = xOf(m_bench.viewTo());
    const bool all = right - left > plot().width() * 0.98;
    return !all && x > left - 6 && x < right + 6 ? Workbench::wholeSheet : noFrame;
}

void StripView::mousePressEvent(QMouseEvent *event)
{
    if (const auto whole = m_bench.record()) m_whole = *whole; // it may not be painted since they came
    const double x = event->position().x();
    if (std::tie(m_drag, m_region) = grabbedAt(event->position()); m_drag != Drag::none) {
        m_grip = timeAt(x) - findEntry(m_bench.document().regions, m_region)->start;
        ++m_undoStep;
        m_bench.select({Selection::Kind::region, m_region});
        return;
    }
    m_dragged = frameAt(x);
    m_drag = m_dragged == noFrame ? Drag::span : Drag::frame;
    m_grip = timeAt(x) - m_bench.view(m_dragged).from;
    m_start = m_end = x;
}

void StripView::mouseMoveEvent(QMouseEvent *event)
{
    m_end = event->position().x();
    if (m_drag == Drag::none) {
        const Drag at = grabbedAt(event->position()).first;
        setCursor(at == Drag::none ? Qt::ArrowCursor : at == Drag::region ? Qt::OpenHandCursor : Qt::SizeHorCursor);
        return;
    }
    if (m_drag != Drag::frame && m_drag != Drag::span) return dragRegion(timeAt(m_end));
    if (m_drag == Drag::frame) {
        const Workbench::View view = m_bench.view(m_dragged);
        const double from = timeAt(m_end) - m_grip;
        m_bench.setView(from, from + view.to - view.from, m_dragged);
    }
    update();
}

void StripView::mouseReleaseEvent(QMouseEvent *)
{
    const Drag drag = std::exchange(m_drag, Drag::none);
    if (drag == Drag::span) {
        const double width = m_bench.viewTo() - m_bench.viewFrom(), middle = timeAt(m_end);
        if (std::abs(m_end - m_start) > 3)
            m_bench.setView(timeAt(std::min(m_start, m_end)), timeAt(std::max(m_start, m_end)), Workbench::wholeSheet,
                            true);
        else
            m_bench.setView(middle - width / 2, middle + width / 2, Workbench::wholeSheet, true);
    }
    update();
}

void StripView::mouseDoubleClickEvent(QMouseEvent *)
{
    m_bench.fitView();
}

void StripView::wheelEvent(QWheelEvent *event)
{
    const double middle = (m_bench.viewFrom() + m_bench.viewTo()) / 2;
    m_bench.zoom(std::pow(0.8, event->angleDelta().y() / 120.0), middle);
    event->accept();
}

} // namespace fulvex
