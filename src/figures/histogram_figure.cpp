#include "histogram_figure.h"

#include <algorithm>

namespace fulvex {

HistogramFigure histogramFigure(const Results &results, const std::string &measurementId)
{
    HistogramFigure figure;
    static_cast<RowFigure &>(figure) = rowFigure(results, measurementId, "Histogram", "One number has no histogram");
    if (figure.empty.isEmpty()) figure.histogram = findEntry(results.rows, measurementId)->histogram;
    return figure;
}

std::optional<std::size_t> HistogramFigure::barAt(const QRectF &plot, double x) const
{
    if (histogram.counts.empty() || x < plot.left() || x > plot.right()) return std::nullopt;
    const auto bars = double(histogram.counts.size());
    return std::size_t(std::min(bars - 1, (x - plot.left()) / plot.width() * bars));
}

FunctionPlot HistogramFigure::plot() const
{
    FunctionPlot plot;
    plot.margins = margins;
    plot.yLabels = false;
    plot.x = {histogram.low, histogram.high, unit};
    const auto most =
        double(std::max<std::int64_t>(1, *std::max_element(histogram.counts.begin(), histogram.counts.end())));
    plot.y = {0, 1.04 * most, ""};
    plot.bars.emplace();
    plot.bars->ink = ink;
    for (const std::int64_t count : histogram.counts) // a single far value is seen
        plot.bars->heights.push_back(count > 0 ? std::max(double(count), 0.015 * most) : 0);
    if (asked)
        plot.asked = {histogram.low + double(asked->first) * histogram.binWidth(),
                      histogram.low + double(asked->second + 1) * histogram.binWidth()};
    plot.words = statistics;
    return plot;
}

void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else
        paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
