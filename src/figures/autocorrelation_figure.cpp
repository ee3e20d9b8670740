#include "autocorrelation_figure.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

AutocorrelationDrawing AutocorrelationDrawing::of(const From &from)
{
    constexpr std::size_t listed = 5;
    AutocorrelationDrawing drawing;
    drawing.from = from;
    const Autocorrelation &correlation = *from.correlation;
    const auto &c = correlation.coefficients;
    forColumns(from.x, correlation.interval, c.size(), from.columns, [&](std::size_t first, std::size_t last) {
        const auto [low, high] =
            std::minmax_element(c.begin() + std::ptrdiff_t(first), c.begin() + std::ptrdiff_t(last));
        for (const auto one : {std::min(low, high), std::max(low, high)}) {
            if (one == std::max(low, high) && low == high && !drawing.lags.empty() &&
                drawing.lags.back() == double(one - c.begin()) * correlation.interval)
                continue;
            drawing.lags.push_back(double(one - c.begin()) * correlation.interval);
            drawing.coefficients.push_back(*one);
        }
    });
    drawing.peaks = correlation.peaks(listed);
    return drawing;
}

AutocorrelationFigure autocorrelationFigure(const Results &results, const TileEntry &tile)
{
    AutocorrelationFigure figure;
    const SpectrumResult *result = nullptr;
    static_cast<SpectralFigure &>(figure) = spectralFigure(results, tile, result);
    if (!result || !result->autocorrelation) return figure;
    figure.correlation = result->autocorrelation;
    addFact(figure.facts, QString("%1 pairs").arg(text(quantityText(double(figure.correlation->pairs), "", {}, 3))));
    return figure;
}

FrequencyView AutocorrelationFigure::view() const
{
    if (!correlation || correlation->coefficients.size() < 2) return {};
    return FrequencyView::of(tile, correlation->interval * double(correlation->coefficients.size() - 1),
                             correlation->interval);
}

std::optional<AutocorrelationDrawing::From> AutocorrelationFigure::drawingFrom(double columns) const
{
    if (!correlation) return {};
    return AutocorrelationDrawing::From{correlation, view().scale("s"), std::max(1.0, columns)};
}

void AutocorrelationFigure::take(std::shared_ptr<const AutocorrelationDrawing> made)
{
    if (made && correlation) drawing = std::move(made);
}

FunctionPlot AutocorrelationFigure::plot() const
{
    FunctionPlot plot;
    plot.x = drawing->from.x;
    double lowest = -0.05;
    for (const double one : drawing->coefficients) lowest = std::min(lowest, one);
    plot.y = {std::max(-1.05, 1.1 * lowest), 1.05, ""};
    FunctionPlot::Curve curve;
    curve.ink = ink;
    curve.x = drawing->lags;
    curve.y = drawing->coefficients;
    plot.curves.push_back(std::move(curve));
    FunctionPlot::Curve tops{{}, {}, ink, FunctionPlot::Curve::As::points};
    auto peaks = drawing->peaks;
    for (const Autocorrelation::Peak &peak : peaks)
        plot.words << text(quantityText(peak.lag, "s", correlation->interval / 20) + ": " +
                           fixedText(peak.coefficient, 3));
    std::sort(peaks.begin(), peaks.end(), [](const auto &a, const auto &b) { return a.lag < b.lag; });
    for (const Autocorrelation::Peak &peak : peaks) {
        tops.x.push_back(peak.lag);
        tops.y.push_back(peak.coefficient);
    }
    plot.curves.push_back(std::move(tops));
    return plot;
}

} // namespace fulvex
