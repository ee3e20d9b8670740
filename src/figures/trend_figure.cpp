#include "trend_figure.h"

#include "running_means.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

TrendDrawing::Line lineOf(const Population &population, const TrendDrawing::From &from)
{
    TrendDrawing::Line line;
    const auto indexOf = [&](double time) {
        return population.position.firstNotBelow(population.axis.positionOf(time));
    };
    std::size_t first = indexOf(from.start), last = indexOf(from.stop);
    if (first > 0) --first; // the line goes on beyond the borders
    if (last < population.size()) ++last;
    line.all = last - first <= 2 * std::size_t(from.columns);
    std::optional<RunningMeans> means;
    if (from.smooth) means.emplace(population.value);
    const auto smooth = [&](std::size_t i) {
        if (!means) return;
        line.smoothX.push_back(population.time(i));
        line.smoothY.push_back(means->around(i, std::size_t(*from.smooth)));
    };
    if (line.all) {
        for (std::size_t i = first; i < last; ++i) {
            line.x.push_back(population.time(i));
            line.y.push_back(population.value[i]);
            smooth(i);
        }
        return line;
    }
    const double width = (from.stop - from.start) / from.columns;
    for (int column = 0; column < from.columns; ++column) {
        const std::size_t begin = indexOf(from.start + width * column),
                          end = indexOf(from.start + width * (column + 1));
        if (begin == end) continue;
        double least = population.value[begin], greatest = least;
        population.value.each(begin, end,
                              [&](double v) { least = std::min(least, v), greatest = std::max(greatest, v); });
        line.x.insert(line.x.end(), 2, from.start + width * (column + 0.5));
        line.y.insert(line.y.end(), {least, greatest});
        smooth(begin + (end - begin) / 2);
    }
    return line;
}

} // namespace

TrendDrawing TrendDrawing::of(const From &from)
{
    TrendDrawing drawing;
    for (const auto &row : from.rows) drawing.lines.push_back(lineOf(row->population, from));
    return drawing;
}

TrendFigure trendFigure(const Results &results, const TileEntry &tile, double from, double to)
{
    TrendFigure figure;
    static_cast<RowFigure &>(figure) = rowsFigure(results, tile.of, "Trend", "One number has no trend");
    figure.tile = tile;
    figure.from = from;
    figure.to = to;
    if (!figure.empty.isEmpty()) return figure;
    const Row &row = *findEntry(results.rows, tile.of.front());
    figure.values = row.measured;
    figure.mean = row.statistics.mean;
    double least = row.statistics.min.value_or(0), greatest = row.statistics.max.value_or(1);
    for (const std::string &id : tile.of) { // those that are shown beside it
        const Row *other = findEntry(results.rows, id);
        if (!other || !other->statistics.min || other->unit != row.unit || other->measured->single) continue;
        least = std::min(least, *other->statistics.min);
        greatest = std::max(greatest, *other->statistics.max);
    }
    const double pad = greatest > least ? 0.08 * (greatest - least) : std::max(std::abs(greatest) * 0.1, 1e-15);
    figure.low = least - pad;
    figure.high = greatest + pad;
    return figure;
}

std::optional<TrendDrawing::From> TrendFigure::drawingFrom(const QRectF &area) const
{
    if (!values || !(to > from)) return {};
    TrendDrawing::From what{{values}, from, to, std::max(1, int(FunctionPlot().plotRect(area).width())), tile.smooth};
    for (const Also &other : also) what.rows.push_back(other.values);
    return what;
}

FunctionPlot TrendFigure::plot() const
{
    using As = FunctionPlot::Curve::As;
    FunctionPlot plot;
    plot.x = timeAxis(from, to);
    plot.y = {low, high, unit};
    if (mean) plot.curves.push_back({{from, to}, {*mean, *mean}, ink, As::dashes});
    for (std::size_t i = 0; drawing && i < drawing->lines.size(); ++i) {
        const TrendDrawing::Line &line = drawing->lines[i];
        const int own = i == 0 ? ink : i <= also.size() ? also[i - 1].ink : ink;
        const bool smooth = !line.smoothX.empty();
        if (!smooth || !tile.smoothedAlone) {
            plot.curves.push_back({line.x, line.y, own, As::line, smooth});
            if (line.all && line.x.size() < 300) plot.curves.push_back({line.x, line.y, own, As::points, smooth});
        }
        if (smooth) plot.curves.push_back({line.smoothX, line.smoothY, own});
    }
    for (const Also &other : also) plot.words << other.name;
    plot.words << leftOut;
    plot.asked = asked;
    plot.shown = shown;
    return plot;
}

void paintTrend(QPainter &painter, const QRectF &area, const TrendFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else
        paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
