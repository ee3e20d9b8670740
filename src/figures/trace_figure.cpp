#include "trace_figure.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

int inkOf(const Document &document, const std::string &channel)
{
    const ChannelEntry *entry = findEntry(document.channels, channel);
    return entry ? int(entry - document.channels.data()) : 0;
}

std::optional<std::pair<double, double>> wholeSpan(const Results &results, const std::vector<std::string> &channels)
{
    std::optional<std::pair<double, double>> span;
    for (const ChannelResult &channel : results.channels) {
        const bool asked =
            channels.empty() || std::find(channels.begin(), channels.end(), channel.id) != channels.end();
        if (!asked || !channel.source || channel.source->axis().count == 0) continue;
        const TimeAxis &axis = channel.source->axis();
        if (!span) span = {axis.start, axis.stop()};
        span->first = std::min(span->first, axis.start);
        span->second = std::max(span->second, axis.stop());
    }
    return span;
}

static void fillLine(TraceFigure::Line &line, const ChannelResult &channel, double from, double to, int pixels)
{
    const TimeAxis &axis = channel.source->axis();
    const double first = axis.positionOf(from), last = axis.positionOf(to);
    if (last - first > 1.0 * pixels) {
        line.columns = traceColumns(*channel.source, *channel.pyramid, first, last, pixels);
        return;
    }
    const auto start = std::clamp<std::int64_t>(std::int64_t(std::floor(first)) - 1, 0, axis.count);
    const auto stop = std::clamp<std::int64_t>(std::int64_t(std::ceil(last)) + 2, start, axis.count);
    std::vector<double> values(std::size_t(stop - start));
    if (!values.empty()) channel.source->read(start, values);
    for (std::size_t i = 0; i < values.size(); ++i)
        line.samples.emplace_back(axis.timeOf(double(start) + double(i)), values[i]);
}

TraceFigure traceFigure(const Results &results, const TileEntry &tile, double from, double to, int pixels)
{
    TraceFigure figure;
    figure.from = from;
    figure.to = to;
    for (const std::string &id : tile.of) {
        const ChannelResult *channel = findEntry(results.channels, id);
        const ChannelEntry *entry = findEntry(results.document->channels, id);
        if (!channel || !entry) continue;
        TraceFigure::Line line;
        line.id = id;
        line.name = text(entry->shownName());
        line.unit = text(entry->unit);
        line.error = text(channel->error);
        line.ink = inkOf(*results.document, id);
        line.lane = tile.lanes ? int(figure.lines.size()) : 0;
        if (channel->source && channel->pyramid) {
            const Extent whole = channel->pyramid->whole();
            if (!whole.empty()) line.low = whole.low, line.high = whole.high;
            fillLine(line, *channel, from, to, std::max(1, pixels));
        }
        figure.lines.push_back(std::move(line));
    }
    figure.lanes = tile.lanes ? std::max<int>(1, int(figure.lines.size())) : 1;
    for (int lane = 0; lane < figure.lanes;
         ++lane) { // one scale a lane, over all of the record, so that zooming does not bend it
        double low = INFINITY, high = -INFINITY;
        for (const auto &line : figure.lines) {
            if (line.lane == lane) low = std::min(low, line.low), high = std::max(high, line.high);
        }
        const double pad = high > low ? 0.08 * (high - low) : std::max(std::abs(high) * 0.1, 1e-3);
        for (auto &line : figure.lines) {
            if (line.lane == lane) line.low = low - pad, line.high = high + pad;
        }
    }
    return figure;
}

QRectF TraceFigure::plotRect(const QRectF &area) const
{
    return area.adjusted(72, 6, -14, -20);
}

QRectF TraceFigure::laneRect(const QRectF &area, int lane) const
{
    const QRectF plot = plotRect(area);
    const double gap = lanes > 1 ? 6 : 0, height = (plot.height() - gap * (lanes - 1)) / lanes;
    return QRectF(plot.left(), plot.top() + lane * (height + gap), plot.width(), height);
}

double TraceFigure::xOf(const QRectF &area, double time) const
{
    const QRectF plot = plotRect(area);
    return plot.left() + (time - from) / (to - from) * plot.width();
}

int TraceFigure::laneAt(const QRectF &area, double y) const
{
    for (int lane = 0; lane < lanes; ++lane) {
        if (y <= laneRect(area, lane).bottom() + 3) return lane;
    }
    return lanes - 1;
}

double TraceFigure::valueAt(const QRectF &area, int lane, double y) const
{
    const QRectF rect = laneRect(area, lane);
    for (const Line &line : lines) {
        if (line.lane == lane) return line.low + (rect.bottom() - y) / rect.height() * (line.high - line.low);
    }
    return 0;
}

} // namespace fulvex
