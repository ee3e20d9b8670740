#include "trend_figure.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

TrendDrawing TrendDrawing::of(const From &from)
{
    TrendDrawing drawing;
    const Population &population = from.values->population;
    const auto indexOf = [&](double time) {
        return population.position.firstNotBelow(population.axis.positionOf(time));
    };
    std::size_t first = indexOf(from.start), last = indexOf(from.stop);
    if (first > 0) --first; // the line goes on beyond the borders
    if (last < population.size()) ++last;
    drawing.all = last - first <= 2 * std::size_t(from.columns);
    if (drawing.all) {
        for (std::size_t i = first; i < last; ++i) {
            drawing.x.push_back(population.time(i));
            drawing.y.push_back(population.value[i]);
        }
        return drawing;
    }
    const double width = (from.stop - from.start) / from.columns;
    for (int column = 0; column < from.columns; ++column) {
        const std::size_t begin = indexOf(from.start + width * column),
                          end = indexOf(from.start + width * (column + 1));
        if (begin == end) continue;
        double least = population.value[begin], greatest = least;
        population.value.each(begin, end,
                              [&](double v) { least = std::min(least, v), greatest = std::max(greatest, v); });
        drawing.x.insert(drawing.x.end(), 2, from.start + width * (column + 0.5));
        drawing.y.insert(drawing.y.end(), {least, greatest});
    }
    return drawing;
}

TrendFigure trendFigure(const Results &results, const std::string &measurementId, double from, double to)
{
    TrendFigure figure;
    static_cast<RowFigure &>(figure) = rowFigure(results, measurementId, "Trend", "One number has no trend");
    figure.from = from;
    figure.to = to;
    if (!figure.empty.isEmpty()) return figure;
    const Row &row = *findEntry(results.rows, measurementId);
    figure.values = row.measured;
    figure.mean = row.statistics.mean;
    const double least = row.statistics.min.value_or(0), greatest = row.statistics.max.value_or(1);
    const double pad = greatest > least ? 0.08 * (greatest - least) : std::max(std::abs(greatest) * 0.1, 1e-15);
    figure.low = least - pad;
    figure.high = greatest + pad;
    return figure;
}

std::optional<TrendDrawing::From> TrendFigure::drawingFrom(const QRectF &area) const
{
    if (!values || !(to > from)) return {};
    return TrendDrawing::From{values, from, to, std::max(1, int(FunctionPlot().plotRect(area).width()))};
}

FunctionPlot TrendFigure::plot() const
{
    FunctionPlot plot;
    plot.x = {from, to, "s"};
    plot.y = {low, high, unit};
    if (mean) plot.curves.push_back({{from, to}, {*mean, *mean}, ink, FunctionPlot::Curve::As::dashes});
    if (drawing) {
        plot.curves.push_back({drawing->x, drawing->y, ink});
        if (drawing->all && drawing->x.size() < 300)
            plot.curves.push_back({drawing->x, drawing->y, ink, FunctionPlot::Curve::As::points});
    }
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
