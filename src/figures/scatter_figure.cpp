#include "scatter_figure.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

namespace {

constexpr std::size_t few = 2000;

AxisScale scaleOf(const std::vector<double> &values)
{
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    const double pad = *high > *low ? 0.06 * (*high - *low) : std::max(std::abs(*low) * 0.1, 1e-15);
    return {*low - pad, *high + pad, ""};
}

} // namespace

ScatterDrawing ScatterDrawing::of(const From &from)
{
    ScatterDrawing drawing;
    drawing.from = from;
    PairedValues pairs = pairedValues(from.x->population, from.y->population);
    drawing.count = pairs.x.size();
    drawing.correlation = pairs.correlation;
    if (pairs.x.empty()) return drawing;
    drawing.xScale = scaleOf(pairs.x);
    drawing.yScale = scaleOf(pairs.y);
    if (pairs.x.size() <= few) {
        std::vector<std::size_t> order(pairs.x.size());
        std::iota(order.begin(), order.end(), std::size_t(0));
        std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return pairs.x[a] < pairs.x[b]; });
        for (const std::size_t i : order) {
            drawing.x.push_back(pairs.x[i]);
            drawing.y.push_back(pairs.y[i]);
            drawing.indices.push_back(pairs.of[i]);
        }
        return drawing;
    }
    const int wide = std::max(1, from.size.width()), tall = std::max(1, from.size.height());
    std::vector<std::uint32_t> counts(std::size_t(wide) * std::size_t(tall));
    drawing.inCell.resize(counts.size());
    std::uint32_t most = 0;
    for (std::size_t i = 0; i < pairs.x.size(); ++i) {
        const int column = std::min(wide - 1, int(drawing.xScale.shareOf(pairs.x[i]) * wide)),
                  row = std::min(tall - 1, int((1 - drawing.yScale.shareOf(pairs.y[i])) * tall));
        const std::size_t cell = std::size_t(row) * std::size_t(wide) + std::size_t(column);
        most = std::max(most, ++counts[cell]);
        drawing.inCell[cell] = pairs.of[i] + 1;
    }
    auto image = std::make_shared<QImage>(wide, tall, QImage::Format_ARGB32_Premultiplied);
    const QColor ink(from.ink);
    const double whole = std::log1p(double(most));
    for (int row = 0; row < tall; ++row) {
        auto *line = reinterpret_cast<QRgb *>(image->scanLine(row));
        for (int column = 0; column < wide; ++column) {
            const std::uint32_t count = counts[std::size_t(row) * std::size_t(wide) + std::size_t(column)];
            const int alpha = count ? int(60 + 195 * std::log1p(double(count)) / whole) : 0; // a single one is seen
            line[column] = qPremultiply(qRgba(ink.red(), ink.green(), ink.blue(), std::min(255, alpha)));
        }
    }
    drawing.density = std::move(image);
    return drawing;
}

ScatterFigure scatterFigure(const Results &results, const std::vector<std::string> &of)
{
    ScatterFigure figure;
    static_cast<RowFigure &>(figure) =
        rowFigure(results, of.empty() ? std::string() : of.front(), "One against another", "One number has no points");
    figure.statistics.clear();
    if (!figure.empty.isEmpty()) return figure;
    if (of.size() < 2) {
        figure.empty = "Choose what goes up: another row, in the tile's menu or in the Inspector.";
        return figure;
    }
    const RowFigure other = rowFigure(results, of[1], "One against another", "One number has no points");
    figure.title = other.title + " over " + figure.title;
    figure.empty = other.empty;
    if (!figure.empty.isEmpty()) return figure;
    figure.values = findEntry(results.rows, of[0])->measured;
    figure.against = findEntry(results.rows, of[1])->measured;
    figure.otherName = other.title;
    figure.otherUnit = other.unit;
    return figure;
}

std::optional<ScatterDrawing::From> ScatterFigure::drawingFrom(const QRectF &area, const Look &look) const
{
    if (!values || !against) return {};
    return ScatterDrawing::From{values, against, FunctionPlot().plotRect(area).size().toSize(), look.trace(ink).rgb()};
}

void ScatterFigure::take(std::shared_ptr<const ScatterDrawing> made)
{
    if (made && made->from.x == values && made->from.y == against) drawing = std::move(made);
}

std::optional<ScatterFigure::Pair> ScatterFigure::pairAt(const QRectF &area, QPointF at) const
{
    if (!drawing || drawing->count == 0) return {};
    constexpr double reach = 9; // pixels
    const QRectF rect = FunctionPlot().plotRect(area);
    double nearest = reach * reach;
    std::optional<Pair> found;
    const auto offer = [&](double x, double y, const Pair &pair) {
        const double away = (x - at.x()) * (x - at.x()) + (y - at.y()) * (y - at.y());
        if (away < nearest) nearest = away, found = pair;
    };
    for (std::size_t i = 0; i < drawing->x.size(); ++i)
        offer(rect.left() + drawing->xScale.shareOf(drawing->x[i]) * rect.width(),
              rect.bottom() - drawing->yScale.shareOf(drawing->y[i]) * rect.height(),
              {drawing->indices[i], drawing->x[i], drawing->y[i]});
    if (!drawing->density) return found;
    const int wide = drawing->density->width(), tall = drawing->density->height();
    const double perColumn = rect.width() / wide, perRow = rect.height() / tall;
    const int column = int((at.x() - rect.left()) / perColumn), row = int((at.y() - rect.top()) / perRow);
    for (int y = std::max(0, row - 10); y < std::min(tall, row + 11); ++y) {
        for (int x = std::max(0, column - 10); x < std::min(wide, column + 11); ++x) {
            if (const std::uint32_t one = drawing->inCell[std::size_t(y) * std::size_t(wide) + std::size_t(x)])
                offer(rect.left() + (x + 0.5) * perColumn, rect.top() + (y + 0.5) * perRow,
                      {one - 1, drawing->xScale.valueAt((x + 0.5) / wide),
                       drawing->yScale.valueAt(1 - (y + 0.5) / tall)});
        }
    }
    return found;
}

FunctionPlot ScatterFigure::plot() const
{
    FunctionPlot plot;
    plot.x = drawing->xScale;
    plot.y = drawing->yScale;
    plot.x.unit = unit;
    plot.y.unit = otherUnit;
    plot.picture = drawing->density;
    if (!drawing->x.empty()) plot.curves.push_back({drawing->x, drawing->y, ink, FunctionPlot::Curve::As::points});
    if (shown) plot.curves.push_back({{shown->first}, {shown->second}, 1, FunctionPlot::Curve::As::points});
    plot.words << QString("%1 pairs").arg(drawing->count);
    plot.words << (drawing->correlation == drawing->correlation
                       ? "correlation " + text(fixedText(drawing->correlation, 3))
                       : QString("no correlation: one of them does not vary"));
    return plot;
}

void paintScatter(QPainter &painter, const QRectF &area, const ScatterFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else if (!figure.drawing)
        paintEmpty(painter, area, "Pairing…", look);
    else if (figure.drawing->count == 0)
        paintEmpty(painter, area, "No occurrence of one belongs to one of the other.", look);
    else
        paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
