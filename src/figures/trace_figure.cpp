#include "trace_figure.h"

#include "references.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// One scale a lane, over all of the record, so that zooming does not bend it; lines that have a range of their own
/// keep it.
void shareScales(TraceFigure &figure, const TileEntry &tile)
{
    for (int lane = 0; lane < figure.lanes; ++lane) {
        double low = INFINITY, high = -INFINITY;
        for (const auto &line : figure.lines) {
            if (line.lane == lane && !tile.ranges.contains(line.id))
                low = std::min(low, line.low), high = std::max(high, line.high);
        }
        const double pad = high > low ? 0.08 * (high - low) : std::max(std::abs(high) * 0.1, 1e-3);
        for (auto &line : figure.lines) {
            if (line.lane != lane) continue;
            const auto own = tile.ranges.find(line.id);
            line.ownRange = own != tile.ranges.end();
            line.low = line.ownRange ? own->second.first : low - pad;
            line.high = line.ownRange ? own->second.second : high + pad;
        }
    }
}

void addPointers(TraceFigure &figure, const Results &results, const Document &document, bool straight)
{
    for (const RegionEntry &region : document.regions) figure.regions.push_back({region.id, region.start, region.stop});
    for (const NoteEntry &note : document.notes) {
        if (const int line = figure.lineOf(note.channel); line >= 0)
            figure.notes.push_back(
                {note.time, note.level, line, text(note.text), note.id, QPointF(note.right, note.down), note.width});
    }
    for (const MarkerEntry &entry : document.markers) {
        if (!entry.row.empty()) continue; // it stands in a histogram
        TraceFigure::Marker marker;
        marker.id = entry.id;
        marker.letter = markerLetter(document.markers, entry);
        marker.line = figure.lineOf(entry.channel);
        marker.time = entry.time;
        marker.value = entry.level;
        const ChannelResult *channel = findEntry(results.channels, entry.channel);
        if (entry.time && channel && channel->source) {
            marker.sitsOnTrace = true;
            marker.value = traceValue(*channel->source, *entry.time, straight);
        }
        if (!entry.time && marker.line < 0) continue; // a level of a channel that is not shown
        figure.markers.push_back(std::move(marker));
    }
}

/// Levels that rows measure of the channels shown.
void addStops(TraceFigure &figure, const Results &results)
{
    for (const Row &row : results.rows) {
        const bool level = row.quantity == "amplitude_level" || row.quantity == "high" || row.quantity == "low";
        const int line = level && row.measurable() ? figure.lineOf(row.source) : -1;
        if (line >= 0 && row.statistics.mean) figure.stops.push_back({line, *row.statistics.mean});
    }
}

} // namespace

int inkOf(const Document &document, const std::string &channel)
{
    const ChannelEntry *entry = findEntry(document.channels, channel);
    if (!entry) return 0;
    const auto inks = channelInks();
    const auto chosen =
        std::find_if(inks.begin(), inks.end(), [&](const Choice &ink) { return entry->ink == ink.word; });
    return chosen == inks.end() ? int(entry - document.channels.data()) : int(chosen - inks.begin());
}

QString markerLetter(const std::vector<MarkerEntry> &markers, const MarkerEntry &marker)
{
    std::size_t index = 0;
    for (const MarkerEntry &one : markers) {
        if (&one == &marker) break;
        index += one.row == marker.row;
    }
    return index < 26 ? QString(QChar(char16_t(u'a' + index))) : QString::number(index + 1);
}

static bool isSecondLeg(const Document &document, const std::string &id)
{
    return std::ranges::any_of(document.channels, [&](const ChannelEntry &entry) {
        const auto legs = legsOf(document, entry);
        return legs && legs->second == id;
    });
}

TraceFigure traceFigure(const Results &results, const Document &document, const TileEntry &tile, double from, double to)
{
    constexpr double dashed = 7;
    TraceFigure figure;
    figure.straight = tile.straight;
    figure.from = from;
    figure.to = to;
    for (const std::string &id : tile.of) {
        const ChannelResult *channel = findEntry(results.channels, id);
        const ChannelEntry *entry = findEntry(document.channels, id);
        if (!channel || !entry) continue;
        TraceFigure::Line line;
        line.id = id;
        line.name = text(entry->shownName());
        line.unit = text(channel->unit);
        line.error = text(channel->error);
        line.ink = inkOf(document, id);
        line.dash = entry->line == "dashed" ? dashed : entry->line == "dotted" ? 2 : 0;
        // Ink alone does not tell two legs apart where they lie over each other.
        if (entry->line.empty() && !tile.lanes && tile.of.size() > 1 && isSecondLeg(document, id)) line.dash = dashed;
        line.lane = tile.lanes ? int(figure.lines.size()) : 0;
        if (channel->source && channel->pyramid) {
            const Extent whole = channel->pyramid->whole();
            if (!whole.empty()) line.low = whole.low, line.high = whole.high;
            line.source = channel->source;
            line.pyramid = channel->pyramid;
        }
        figure.lines.push_back(std::move(line));
    }
    figure.lanes = tile.lanes ? std::max<int>(1, int(figure.lines.size())) : 1;
    figure.heights = tile.heights;
    shareScales(figure, tile);
    addPointers(figure, results, document, tile.straight);
    addStops(figure, results);
    return figure;
}

std::optional<TraceDrawing::From> TraceFigure::drawingFrom(const QRectF &area, int line, const Look &look) const
{
    const Line &of = lines[std::size_t(line)];
    if (!of.source || !of.pyramid || !(to > from)) return {};
    const QRectF rect = laneRect(area, of.lane);
    return TraceDrawing::From{of.source,
                              of.pyramid,
                              from,
                              to,
                              std::max(1, int(rect.width())),
                              straight,
                              of.low,
                              of.high,
                              std::max(1, int(std::lround(rect.height()))),
                              look.trace(of.ink).rgb()};
}

std::optional<TraceStack::From> TraceFigure::othersFrom(const QRectF &area, int line, const Look &look) const
{
    const Line &of = lines[std::size_t(line)];
    const auto own = drawingFrom(area, line, look);
    if (of.behind.empty() || !own) return {};
    TraceStack::From others;
    for (const Line::Other &other : of.behind) {
        others.traces.push_back({*own, other.strength});
        others.traces.back().trace.source = other.source;
        others.traces.back().trace.pyramid = other.pyramid;
    }
    return others;
}

void TraceFigure::draw(const QRectF &area, const Look &look)
{
    for (int i = 0; i < int(lines.size()); ++i) {
        if (const auto drawn = drawingFrom(area, i, look))
            lines[std::size_t(i)].drawing = std::make_shared<const TraceDrawing>(TraceDrawing::of(*drawn));
        if (const auto others = othersFrom(area, i, look))
            lines[std::size_t(i)].others = std::make_shared<const TraceStack>(TraceStack::of(*others));
    }
}

QRectF TraceFigure::plotRect(const QRectF &area) const
{
    return area.adjusted(72, 6, -14, -20);
}

double TraceFigure::heightOf(int lane) const
{
    return std::size_t(lane) < heights.size() ? heights[std::size_t(lane)] : 1;
}

QRectF TraceFigure::laneRect(const QRectF &area, int lane) const
{
    const QRectF plot = plotRect(area);
    const double gap = lanes > 1 ? 6 : 0;
    double all = 0, above = 0;
    for (int i = 0; i < lanes; ++i) {
        if (i < lane) above += heightOf(i);
        all += heightOf(i);
    }
    const double room = plot.height() - gap * (lanes - 1);
    return QRectF(plot.left(), plot.top() + above / all * room + lane * gap, plot.width(), heightOf(lane) / all * room);
}

double TraceFigure::xOf(const QRectF &area, double time) const
{
    const QRectF plot = plotRect(area);
    return plot.left() + (time - from) / (to - from) * plot.width();
}

double TraceFigure::timeAt(const QRectF &area, double x) const
{
    const QRectF plot = plotRect(area);
    return from + (x - plot.left()) / plot.width() * (to - from);
}

int TraceFigure::laneAt(const QRectF &area, double y) const
{
    for (int lane = 0; lane < lanes; ++lane) {
        if (y <= laneRect(area, lane).bottom() + 3) return lane;
    }
    return lanes - 1;
}

double TraceFigure::yOf(const QRectF &area, int line, double value) const
{
    const Line &of = lines[std::size_t(line)];
    const QRectF rect = laneRect(area, of.lane);
    return rect.bottom() - (value - of.low) / (of.high - of.low) * rect.height();
}

double TraceFigure::valueAt(const QRectF &area, int line, double y) const
{
    const Line &of = lines[std::size_t(line)];
    const QRectF rect = laneRect(area, of.lane);
    return of.low + (rect.bottom() - y) / rect.height() * (of.high - of.low);
}

double TraceFigure::rested(const QRectF &area, int line, double value) const
{
    constexpr double near = 6; // pixels
    for (const Stop &stop : stops)
        if (stop.line == line && std::abs(yOf(area, line, stop.value) - yOf(area, line, value)) < near)
            return stop.value;
    return value;
}

int TraceFigure::lineOf(const std::string &channel) const
{
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (lines[i].id == channel) return int(i);
    }
    return -1;
}

int TraceFigure::axisLine(int lane) const
{
    if (const int line = lineOf(chosen); line >= 0 && lines[std::size_t(line)].lane == lane) return line;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (lines[i].lane == lane) return int(i);
    }
    return -1;
}

QRectF TraceFigure::noteBox(const QRectF &area, const Pin &note, const Look &look) const
{
    const QRectF lane = laneRect(area, lines[std::size_t(note.line)].lane);
    const QFontMetricsF metrics(look.font(11));
    const double x = xOf(area, note.time);
    const double y = std::clamp(yOf(area, note.line, note.value), lane.top() + 4, lane.bottom() - 4);
    const double width = note.width > 0 ? note.width : metrics.horizontalAdvance(note.text) + 14;
    const QRectF words =
        metrics.boundingRect(QRectF(0, 0, width - 12, 4000), Qt::AlignLeft | Qt::TextWordWrap, note.text);
    const double height = std::max(20.0, words.height() + 6);
    const bool leftwards = x + 26 + width > plotRect(area).right();
    QPointF corner(leftwards ? x - 26 - width : x + 26, y - 14 - height < lane.top() ? y + 14 : y - 14 - height);
    if (!note.box.isNull()) corner = QPointF(x, y) + note.box;
    // Where it was put may lie outside of a smaller tile.
    const QRectF room = plotRect(area).adjusted(2, 2, -2 - width, -2 - height);
    return QRectF(std::clamp(corner.x(), room.left(), std::max(room.left(), room.right())),
                  std::clamp(corner.y(), room.top(), std::max(room.top(), room.bottom())), width, height);
}

QRectF TraceFigure::handleBox(const QRectF &area, int line) const
{
    const Line &of = lines[std::size_t(line)];
    const QRectF lane = laneRect(area, of.lane);
    int before = 0; // those of one lane stand beside each other
    for (int i = 0; i < line; ++i) before += lines[std::size_t(i)].lane == of.lane;
    const double y = std::clamp(yOf(area, line, 0), lane.top() + 6, lane.bottom() - 6);
    return QRectF(lane.left() + 2 + 13 * before, y - 6, 12, 12);
}

QRectF TraceFigure::regionFlag(const QRectF &area, const Region &region, const Look &look) const
{
    const QRectF plot = plotRect(area);
    const double width = QFontMetricsF(look.font(10, true)).horizontalAdvance(text(region.id)) + 10;
    const double left = std::max(plot.left(), xOf(area, region.from));
    return QRectF(left, plot.top(), width, 15);
}

} // namespace fulvex
