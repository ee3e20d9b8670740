#include "histogram_figure.h"

#include "number_text.h"
#include "trace_figure.h"

#include <algorithm>

namespace fulvex {

HistogramFigure histogramFigure(const Results &results, const std::string &measurementId)
{
    HistogramFigure figure;
    figure.measurement = measurementId;
    const Row *row = findEntry(results.rows, measurementId);
    const MeasurementEntry *entry = findEntry(results.document->measurements, measurementId);
    if (!row && entry) {
        figure.empty = "Measuring…";
        return figure;
    }
    if (!row) {
        figure.title = "Histogram";
        figure.empty = "No quantity here yet: add one with Ctrl+Space.";
        return figure;
    }
    figure.title = text(row->title);
    figure.unit = row->unit;
    figure.facts = text(row->source + (entry && !entry->clock.empty() ? " · " + entry->clock : ""));
    figure.ink = inkOf(*results.document, row->source);
    if (row->pending)
        figure.facts +=
            row->share < 1
                ? QString(" · %1 of it so far, in parts").arg(text(quantityText(100 * row->share, "%", {}, 2)))
                : QString(" · being measured anew");
    if (!row->measurable()) {
        figure.empty = text(row->reason);
        return figure;
    }
    if (row->measured->single) {
        figure.empty = "One number has no histogram: " +
                       text(quantityWithUncertainty(row->measured->value, row->unit, row->measured->uncertainty));
        return figure;
    }
    const Statistics &s = row->statistics;
    figure.histogram = row->histogram;
    figure.facts += QString(" · %1 values").arg(s.count);
    const std::optional<double> step = s.std && *s.std > 0 ? std::optional(*s.std / 20) : std::nullopt;
    figure.statistics << "mean " + text(quantityWithUncertainty(*s.mean, row->unit, s.uncertainty))
                      << "pp " + text(quantityText(*s.max - *s.min, row->unit, step));
    if (s.std) figure.statistics << "spread " + text(quantityText(*s.std, row->unit, *s.std / 100));
    return figure;
}

std::optional<std::size_t> HistogramFigure::barAt(const QRectF &plot, double x) const
{
    if (histogram.counts.empty() || x < plot.left() || x > plot.right()) return std::nullopt;
    const auto bars = double(histogram.counts.size());
    return std::size_t(std::min(bars - 1, (x - plot.left()) / plot.width() * bars));
}

void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) {
        paintEmpty(painter, area, figure.empty, look);
        return;
    }
    painter.save();
    const QRectF plot = figure.plotRect(area);
    const ValueHistogram &histogram = figure.histogram;
    const auto most =
        double(std::max<std::int64_t>(1, *std::max_element(histogram.counts.begin(), histogram.counts.end())));
    const AxisScale x{histogram.low, histogram.high, figure.unit};
    const double width = plot.width() / double(histogram.counts.size()), height = plot.height() - 4;
    painter.setFont(look.font(10));
    for (const Tick &tick : ticksOf(x, std::max(3, int(plot.width() / 66)))) {
        const double at = plot.left() + x.shareOf(tick.value) * plot.width();
        painter.setPen(QPen(look.hairline, 0.6));
        painter.drawLine(QPointF(at, plot.top()), QPointF(at, plot.bottom()));
        painter.setPen(look.quiet);
        painter.drawText(QRectF(std::clamp(at - 45, plot.left() - 20, plot.right() - 74), plot.bottom() + 3, 90, 14),
                         Qt::AlignCenter, tick.label);
    }
    painter.setPen(Qt::NoPen);
    if (figure.asked) { // also where nothing stands
        QColor wash = look.accent;
        wash.setAlpha(30);
        painter.fillRect(QRectF(plot.left() + double(figure.asked->first) * width, plot.top(),
                                double(figure.asked->second - figure.asked->first + 1) * width, plot.height()),
                         wash);
    }
    for (std::size_t i = 0; i < histogram.counts.size(); ++i) {
        const double tall = double(histogram.counts[i]) / most * height;
        const bool inQuestion = figure.asked && i >= figure.asked->first && i <= figure.asked->second;
        painter.setBrush(inQuestion ? look.accent : look.trace(figure.ink));
        const double shown = histogram.counts[i] > 0 ? std::max(1.0, tall) : 0; // a single far value is seen
        painter.drawRect(
            QRectF(plot.left() + double(i) * width, plot.bottom() - shown, std::max(1.0, width - 1), shown));
    }
    painter.setPen(QPen(look.quiet, 0.8));
    painter.drawLine(plot.bottomLeft(), plot.bottomRight());
    painter.setFont(look.font(11));
    double y = plot.top();
    for (const QString &line : figure.statistics) {
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(line) + 8;
        QColor back = look.tile;
        back.setAlpha(200);
        painter.fillRect(QRectF(plot.right() - wide, y, wide, 16), back);
        painter.setPen(look.ink);
        painter.drawText(QRectF(plot.right() - wide, y, wide - 2, 16), Qt::AlignRight | Qt::AlignVCenter, line);
        y += 16;
    }
    painter.restore();
}

} // namespace fulvex
