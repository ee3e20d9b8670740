#include "trace_figure.h"

#include "sinc_kernel.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fulvex {

namespace {

constexpr int curveSteps = 64; ///< finest division of a sample interval that is drawn

/// The kernel at multiples of 1 / curveSteps.
const SincKernel::Row &kernelAt(int step)
{
    static const auto rows = [] {
        std::array<SincKernel::Row, curveSteps + 1> all;
        for (int i = 0; i <= curveSteps; ++i) all[std::size_t(i)] = SincKernel::row(double(i) / curveSteps);
        return all;
    }();
    return rows[std::size_t(step)];
}

/// Weighted sum of the taps around sample `at` of `values`; beyond the ends the last sample is repeated. NaN where a
/// gap is near.
double filtered(std::span<const double> values, std::int64_t at, const SincKernel::Row &weights)
{
    double sum = 0;
    for (int tap = 0; tap < SincKernel::taps; ++tap) {
        const auto i = std::clamp<std::int64_t>(at - SincKernel::before + tap, 0, std::int64_t(values.size()) - 1);
        sum += weights[std::size_t(tap)] * values[std::size_t(i)];
    }
    return sum;
}

/// Points of the curve from sample `first` to sample `last` of `values`; a straight line where a gap is near.
void fillCurve(TraceFigure::Line &line, const TimeAxis &axis, std::int64_t start, std::span<const double> values,
               std::int64_t first, std::int64_t last, int perSample)
{
    for (std::int64_t i = first; i < last; ++i) {
        for (int step = 0; step < perSample; ++step) {
            const double fraction = double(step) / perSample;
            double value = filtered(values, i, kernelAt(step * curveSteps / perSample));
            if (std::isnan(value)) {
                const double here = values[std::size_t(i)], next = values[std::size_t(i + 1)];
                value = here + (next - here) * fraction;
            }
            line.curve.emplace_back(axis.timeOf(double(start + i) + fraction), value);
        }
    }
    line.curve.emplace_back(axis.timeOf(double(start + last)), values[std::size_t(last)]);
}

void fillLine(TraceFigure::Line &line, const ChannelResult &channel, const TraceFigure &figure, int pixels,
              bool straight)
{
    const TimeAxis &axis = channel.source->axis();
    const double first = axis.positionOf(figure.from), last = axis.positionOf(figure.to);
    if (last - first > 1.0 * pixels) {
        line.columns = traceColumns(*channel.source, *channel.pyramid, first, last, pixels);
        return;
    }
    const auto within = [&](double position) { return std::int64_t(std::clamp(position, 0.0, double(axis.count))); };
    const std::int64_t start = within(std::floor(first) - 1), stop = within(std::ceil(last) + 2);
    if (start >= stop) return;
    const std::int64_t readFrom = within(double(start - SincKernel::taps)),
                       readTo = within(double(stop + SincKernel::taps));
    std::vector<double> values(std::size_t(readTo - readFrom));
    channel.source->read(readFrom, values);
    for (std::int64_t i = start; i < stop; ++i)
        line.samples.emplace_back(axis.timeOf(double(i)), values[std::size_t(i - readFrom)]);
    const double spacing = pixels / (last - first); // pixels
    if (straight || spacing < 7 || stop - start < 2) return;
    int perSample = 4;
    while (perSample < curveSteps && spacing / perSample > 3) perSample *= 2;
    fillCurve(line, axis, readFrom, values, start - readFrom, stop - 1 - readFrom, perSample);
}

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
    for (std::size_t i = 0; i < document.markers.size(); ++i) {
        const MarkerEntry &entry = document.markers[i];
        TraceFigure::Marker marker;
        marker.id = entry.id;
        marker.letter = markerLetter(i);
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

QString markerLetter(std::size_t index)
{
    return index < 26 ? QString(QChar(char16_t(u'a' + index))) : QString::number(index + 1);
}

std::optional<double> traceValue(const SampleSource &source, double time, bool straight)
{
    const TimeAxis &axis = source.axis();
    const double position = axis.positionOf(time);
    const auto left = std::int64_t(std::floor(position));
    if (left < 0 || left >= axis.count || (left + 1 == axis.count && position > double(left))) return {};
    const double fraction = position - double(left);
    const std::int64_t first = std::max<std::int64_t>(0, left - SincKernel::before),
                       last = std::min(axis.count, left - SincKernel::before + SincKernel::taps);
    std::vector<double> around(std::size_t(last - first));
    source.read(first, around);
    const double here = around[std::size_t(left - first)];
    if (fraction == 0) return std::isnan(here) ? std::nullopt : std::optional(here);
    double value = straight ? NAN : filtered(around, left - first, SincKernel::row(fraction));
    if (std::isnan(value)) value = here + (around[std::size_t(left - first) + 1] - here) * fraction;
    return std::isnan(value) ? std::nullopt : std::optional(value);
}

TraceFigure traceFigure(const Results &results, const Document &document, const TileEntry &tile, double from, double to,
                        int pixels)
{
    TraceFigure figure;
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
        line.dash = entry->line == "dashed" ? 7 : entry->line == "dotted" ? 2 : 0;
        line.lane = tile.lanes ? int(figure.lines.size()) : 0;
        if (channel->source && channel->pyramid) {
            const Extent whole = channel->pyramid->whole();
            line.sketch = channel->pyramid->isSketch();
            if (!whole.empty()) line.low = whole.low, line.high = whole.high;
            fillLine(line, *channel, figure, std::max(1, pixels), tile.straight);
        }
        figure.lines.push_back(std::move(line));
    }
    figure.lanes = tile.lanes ? std::max<int>(1, int(figure.lines.size())) : 1;
    figure.heights = tile.heights;
    shareScales(figure, tile);
    addPointers(figure, results, document, tile.straight);
    return figure;
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
