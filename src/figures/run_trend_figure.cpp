#include "run_trend_figure.h"

#include "number_text.h"
#include "run_entries.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace fulvex {

using Curve = FunctionPlot::Curve;

static QString said(double value, const std::string &unit)
{
    return text(quantityText(value, unit, {}, 4));
}

RunTrendFigure runTrendFigure(const Results &all, const std::string &row, const std::vector<std::string> &names,
                              const std::string &shown)
{
    RunTrendFigure figure;
    const Row *found = findEntry(all.rows, row);
    const MeasurementEntry *entry = findEntry(all.document->measurements, row);
    if (!found || !entry) {
        figure.empty = "This row is there no more.";
        return figure;
    }
    figure.title = text(found->title);
    if (sameEachTime(*all.document, all.varied).contains(row)) {
        figure.empty = "It stands on no capture of the run, and is the same beside each.";
        return figure;
    }
    figure.unit = found->unit;
    figure.captures = int(names.size());
    figure.least = entry->limit.min;
    figure.most = entry->limit.max;
    figure.mean = found->statistics.mean;
    std::unordered_map<std::string, int> places;
    for (std::size_t i = 0; i < names.size(); ++i) places.emplace(names[i], int(i) + 1);
    if (const auto at = places.find(shown); at != places.end()) figure.shown = at->second;
    if (found->total) {
        for (const PopulationTotal::Record &record : found->total->records) {
            const auto at = places.find(record.capture);
            if (!record.reason.empty() || at == places.end()) continue;
            const bool fails =
                (figure.least && record.mean < *figure.least) || (figure.most && record.mean > *figure.most);
            figure.points.push_back({at->second, record.mean, fails});
        }
    }
    std::sort(figure.points.begin(), figure.points.end(),
              [](const auto &a, const auto &b) { return a.place < b.place; });
    if (figure.points.empty())
        figure.empty = found->reason.empty() ? "No capture has a value yet." : text(found->reason);
    return figure;
}

FunctionPlot RunTrendFigure::plot() const
{
    FunctionPlot plot;
    plot.x = {0.5, std::max(captures, 2) + 0.5, "", false};
    double low = points.front().value, high = low;
    for (const Point &point : points) {
        low = std::min(low, point.value);
        high = std::max(high, point.value);
    }
    const double span = high > low ? high - low : std::max(std::abs(high), 1e-30) * 1e-3;
    // A limit is drawn where it does not press the values together.
    const auto near = [&](const std::optional<double> &limit) {
        constexpr double farthest = 4; // spans
        return limit && *limit > low - farthest * span && *limit < high + farthest * span;
    };
    double bottom = low, top = high;
    for (const auto &limit : {least, most}) {
        if (!near(limit)) continue;
        bottom = std::min(bottom, *limit);
        top = std::max(top, *limit);
    }
    const double margin = 0.12 * std::max(top - bottom, span);
    plot.y = {bottom - margin, top + margin, unit, false};
    const auto across = [&](double value, Curve::As as, bool faint) {
        Curve line;
        line.x = {plot.x.low, plot.x.high};
        line.y = {value, value};
        line.ink = -1;
        line.as = as;
        line.faint = faint;
        plot.curves.push_back(std::move(line));
    };
    if (most && !near(most))
        plot.words << (*most > high ? "limit far above: " : "limit far below: ") + said(*most, unit);
    if (least && !near(least))
        plot.words << (*least > high ? "limit far above: " : "limit far below: ") + said(*least, unit);
    if (mean) across(*mean, Curve::As::line, true);
    for (const auto &limit : {least, most})
        if (near(limit)) across(*limit, Curve::As::dashes, false);
    Curve joined, kept, failed;
    constexpr int slate = 0, brick = 1;
    joined.ink = kept.ink = slate;
    joined.faint = true;
    failed.ink = brick;
    kept.as = failed.as = Curve::As::points;
    for (const Point &point : points) {
        joined.x.push_back(point.place);
        joined.y.push_back(point.value);
        (point.fails ? failed : kept).x.push_back(point.place);
        (point.fails ? failed : kept).y.push_back(point.value);
    }
    plot.curves.push_back(std::move(joined));
    if (!kept.x.empty()) plot.curves.push_back(std::move(kept));
    if (!failed.x.empty()) plot.curves.push_back(std::move(failed));
    if (shown) plot.rules.push_back({double(*shown), {}});
    return plot;
}

std::optional<int> RunTrendFigure::placeAt(const QRectF &area, double x) const
{
    if (!empty.isEmpty() || points.empty()) return {};
    const FunctionPlot drawn = plot();
    const QRectF rect = drawn.plotRect(area);
    if (x < rect.left() || x > rect.right()) return {};
    const double at = drawn.x.valueAt((x - rect.left()) / rect.width());
    return std::min_element(
               points.begin(), points.end(),
               [&](const Point &a, const Point &b) { return std::abs(a.place - at) < std::abs(b.place - at); })
        ->place;
}

void paintRunTrend(QPainter &painter, const QRectF &area, const RunTrendFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty() || figure.points.empty())
        return paintEmpty(painter, area, figure.empty.isEmpty() ? "Counting…" : figure.empty, look);
    paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
