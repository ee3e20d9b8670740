#include "histogram_figure.h"

#include "number_text.h"
#include "trace_figure.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

HistogramDrawing HistogramDrawing::of(const From &from)
{
    HistogramDrawing drawing{from, {}};
    std::vector<Population> populations;
    double low = INFINITY, high = -INFINITY;
    std::size_t most = 0;
    for (const auto &row : from.rows) {
        Population &shown = populations.emplace_back(row->population);
        if (from.times) shown = within(shown, from.times->first, from.times->second);
        One &one = drawing.rows.emplace_back();
        one.statistics = statisticsOf(shown);
        if (shown.size() == 0) continue;
        low = std::min(low, *one.statistics.min);
        high = std::max(high, *one.statistics.max);
        most = std::max(most, shown.size());
        one.median = medianOf(shown);
    }
    const std::size_t bins = from.bins ? std::size_t(*from.bins) : usualBins(most);
    const double pad = high > low ? 0 : std::max(std::abs(low) * 1e-6, 1e-18);
    for (std::size_t i = 0; i < populations.size(); ++i) {
        if (populations[i].size() == 0) continue;
        One &one = drawing.rows[i];
        one.histogram = histogramOf(populations[i], bins, low - pad, high + pad);
        one.peaks = valuePeaks(one.histogram);
    }
    return drawing;
}

HistogramFigure histogramFigure(const Results &results, const TileEntry &tile, std::pair<double, double> view)
{
    HistogramFigure figure;
    static_cast<RowFigure &>(figure) = rowsFigure(results, tile.of, "Histogram", "One number has no histogram");
    figure.tile = tile;
    if (tile.inView) figure.view = view;
    if (!figure.empty.isEmpty()) return figure;
    const Row &row = *findEntry(results.rows, tile.of.front());
    figure.values = row.measured;
    figure.mark(results.document->markers);
    // Until it is drawn as it was asked for.
    if (!tile.bins && !tile.inView) figure.histogram = row.histogram;
    return figure;
}

HistogramFigure histogramFigure(const Results &results, const std::string &measurementId)
{
    TileEntry tile;
    tile.kind = "histogram";
    tile.of = {measurementId};
    return histogramFigure(results, tile, {});
}

std::optional<HistogramDrawing::From> HistogramFigure::drawingFrom() const
{
    if (!values) return {};
    HistogramDrawing::From from{{values}, tile.bins, view};
    for (const Also &other : also) from.rows.push_back(other.values);
    return from;
}

void HistogramFigure::take(std::shared_ptr<const HistogramDrawing> made)
{
    if (!values || !made || made->from.rows.size() != 1 + also.size() || made->from.rows.front() != values) return;
    drawing = std::move(made);
    const HistogramDrawing::One &first = drawing->rows.front();
    histogram = first.histogram;
    if (!view) return;
    const Statistics &s = first.statistics;
    statistics = {QString("in view: %1 of %2").arg(s.count).arg(values->population.size())};
    if (s.mean) statistics << "mean " + text(quantityWithUncertainty(*s.mean, unit, s.uncertainty));
    if (s.std) statistics << "spread " + text(quantityText(*s.std, unit, *s.std / 100));
}

void HistogramFigure::mark(const std::vector<MarkerEntry> &all)
{
    markers.clear();
    for (const MarkerEntry &marker : all)
        if (marker.row == measurement && marker.level)
            markers.push_back({marker.id, markerLetter(all, marker), *marker.level});
}

double HistogramFigure::valueAt(const QRectF &plot, double x) const
{
    return histogram.low + (x - plot.left()) / plot.width() * (histogram.high - histogram.low);
}

constexpr double near = 6; // pixels

double HistogramFigure::rested(const QRectF &plot, double value) const
{
    if (!drawing) return value;
    double rest = value, least = near / plot.width() * (histogram.high - histogram.low);
    for (const ValuePeak &peak : drawing->rows.front().peaks) {
        const double off = std::abs(peak.at - value);
        if (off < least) least = off, rest = peak.at;
    }
    return rest;
}

const HistogramFigure::Marker *HistogramFigure::markerAt(const QRectF &plot, double x) const
{
    for (const Marker &marker : markers) {
        const double at = (marker.value - histogram.low) / (histogram.high - histogram.low) * plot.width();
        if (std::abs(plot.left() + at - x) < near) return &marker;
    }
    return nullptr;
}

std::optional<std::size_t> HistogramFigure::barAt(const QRectF &plot, double x) const
{
    if (histogram.counts.empty() || x < plot.left() || x > plot.right()) return std::nullopt;
    const auto bars = double(histogram.counts.size());
    return std::size_t(std::min(bars - 1, (x - plot.left()) / plot.width() * bars));
}

namespace {

/// The outline of bars, as a curve.
FunctionPlot::Curve outlineOf(const ValueHistogram &histogram, int ink, double least)
{
    FunctionPlot::Curve curve{{}, {}, ink};
    for (std::size_t bin = 0; bin < histogram.counts.size(); ++bin) {
        const double left = histogram.low + double(bin) * histogram.binWidth();
        curve.x.insert(curve.x.end(), {left, left + histogram.binWidth()});
        curve.y.insert(curve.y.end(), 2, std::max(least, double(histogram.counts[bin])));
    }
    return curve;
}

/// What a normal distribution of that mean and spread would count in each bin.
FunctionPlot::Curve normalOf(const ValueHistogram &histogram, const Statistics &statistics, double least)
{
    FunctionPlot::Curve curve{{}, {}, -1, FunctionPlot::Curve::As::dashes};
    const double mean = *statistics.mean, std = *statistics.std;
    constexpr int points = 240;
    for (int i = 0; i <= points; ++i) {
        const double x = histogram.low + (histogram.high - histogram.low) * i / points, off = (x - mean) / std;
        const double density = std::exp(-off * off / 2) / (std * std::sqrt(2 * M_PI));
        curve.x.push_back(x);
        curve.y.push_back(std::max(least, double(statistics.count) * histogram.binWidth() * density));
    }
    return curve;
}

} // namespace

FunctionPlot HistogramFigure::plot() const
{
    FunctionPlot plot;
    plot.margins = margins();
    plot.yLabels = tile.logCounts;
    plot.x = {histogram.low, histogram.high, unit};
    std::int64_t highest = 1;
    for (const std::int64_t count : histogram.counts) highest = std::max(highest, count);
    for (std::size_t i = 1; drawing && i < drawing->rows.size(); ++i) {
        for (const std::int64_t count : drawing->rows[i].histogram.counts) highest = std::max(highest, count);
    }
    const auto most = double(highest);
    const double least = tile.logCounts ? 0.5 : 0; // a single one stands above it
    plot.y = {least, tile.logCounts ? 1.6 * most : 1.04 * most, "", tile.logCounts};
    plot.bars.emplace();
    plot.bars->ink = ink;
    for (const std::int64_t count : histogram.counts) // a single far value is seen
        plot.bars->heights.push_back(count > 0 ? std::max(double(count), tile.logCounts ? 1.0 : 0.015 * most) : least);
    if (asked)
        plot.asked = {histogram.low + double(asked->first) * histogram.binWidth(),
                      histogram.low + double(asked->second + 1) * histogram.binWidth()};
    plot.words = statistics;
    plot.words << leftOut;
    for (const Marker &marker : markers) {
        const double step = (histogram.high - histogram.low) / 1000;
        plot.rules.push_back({marker.value, marker.letter});
        plot.words << marker.letter + " " + text(quantityText(marker.value, unit, step));
        if (&marker != &markers.front())
            plot.words.back() += " (" + marker.letter + " − " + markers.front().letter + " " +
                                 text(quantityText(marker.value - markers.front().value, unit, step)) + ")";
    }
    if (!drawing) return plot;
    for (std::size_t i = 0; i < also.size(); ++i) {
        plot.curves.push_back(outlineOf(drawing->rows[i + 1].histogram, also[i].ink, least));
        plot.words << also[i].name;
    }
    const HistogramDrawing::One &first = drawing->rows.front();
    const Statistics &s = first.statistics;
    if (tile.normalCurve && s.std && *s.std > 0) plot.curves.push_back(normalOf(histogram, s, least));
    if (tile.sigmas && s.mean) {
        plot.rules.push_back({*s.mean, "mean"});
        plot.rules.push_back({first.median, "median", true});
        const QString times = QString::number(*tile.sigmas);
        if (s.std && *tile.sigmas > 0) {
            plot.rules.push_back({*s.mean - *tile.sigmas * *s.std, "−" + times + " σ", true});
            plot.rules.push_back({*s.mean + *tile.sigmas * *s.std, "+" + times + " σ", true});
        }
        std::sort(plot.rules.begin(), plot.rules.end(), [](const auto &a, const auto &b) { return a.x < b.x; });
    }
    if (tile.peaks) {
        const double step = s.std ? *s.std / 100 : 0;
        for (const ValuePeak &peak : first.peaks)
            plot.words << text(fixedText(100 * peak.share, 1) + " % about " + quantityText(peak.at, unit, step));
    }
    return plot;
}

void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else if (figure.histogram.counts.empty())
        paintEmpty(painter, area, figure.drawing ? "No occurrence begins in what is in view." : "Counting…", look);
    else
        paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
