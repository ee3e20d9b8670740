#include "spectrum_figure.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

SpectrumDrawing SpectrumDrawing::of(const From &from)
{
    constexpr std::size_t listed = 6;
    Progress progress;
    return {from, trendSpectrum(from.values->population, windowNamed(from.window), listed, progress)};
}

SpectrumFigure spectrumFigure(const Results &results, const TileEntry &tile)
{
    SpectrumFigure figure;
    static_cast<RowFigure &>(figure) = rowFigure(results, tile.of.empty() ? std::string() : tile.of.front(),
                                                 "Spectrum of a trend", "One number has no spectrum");
    figure.tile = tile;
    if (!figure.empty.isEmpty()) return figure;
    figure.values = findEntry(results.rows, tile.of.front())->measured;
    figure.statistics.clear(); // they are of the values, not of what they are made of
    return figure;
}

std::optional<SpectrumDrawing::From> SpectrumFigure::drawingFrom() const
{
    if (!values) return {};
    return SpectrumDrawing::From{values, tile.window};
}

void SpectrumFigure::take(std::shared_ptr<const SpectrumDrawing> made)
{
    if (made && made->from.values == values) drawing = std::move(made);
}

FrequencyView SpectrumFigure::view() const
{
    if (!drawing || drawing->spectrum.amplitudes.size() < 2) return {};
    const TrendSpectrum &spectrum = drawing->spectrum;
    return FrequencyView::of(tile, spectrum.step * double(spectrum.amplitudes.size() - 1), spectrum.step);
}

std::optional<double> SpectrumFigure::lineAt(const QRectF &plot, double x) const
{
    if (!drawing || drawing->spectrum.amplitudes.empty() || x < plot.left() || x > plot.right()) return {};
    constexpr double reach = 6; // pixels
    const auto [low, high] = view().shown();
    const auto at = [&](double place) { return low + (place - plot.left()) / plot.width() * (high - low); };
    const TrendSpectrum &spectrum = drawing->spectrum;
    for (const TrendSpectrum::Peak &peak : spectrum.peaks) { // highest first
        if (peak.frequency >= at(x - reach) && peak.frequency <= at(x + reach)) return peak.frequency;
    }
    const auto lineOf = [&](double frequency) {
        return std::clamp<std::ptrdiff_t>(std::llround(frequency / spectrum.step), 1,
                                          std::ptrdiff_t(spectrum.amplitudes.size()) - 1);
    };
    std::ptrdiff_t best = lineOf(at(x));
    for (std::ptrdiff_t line = lineOf(at(x - reach)); line <= lineOf(at(x + reach)); ++line) {
        if (spectrum.amplitudes[std::size_t(line)] > spectrum.amplitudes[std::size_t(best)]) best = line;
    }
    return double(best) * spectrum.step;
}

FunctionPlot SpectrumFigure::plot(double columns) const
{
    FunctionPlot plot;
    const TrendSpectrum &spectrum = drawing->spectrum;
    const auto [low, high] = view().shown();
    double strongest = 0;
    for (std::size_t line = 1; line < spectrum.amplitudes.size(); ++line)
        strongest = std::max(strongest, spectrum.amplitudes[line]);
    if (!(strongest > 0)) strongest = 1;
    constexpr double deepest = -120; // dB
    const auto shown = [&](double amplitude) {
        return tile.linear ? amplitude : std::max(deepest, 20 * std::log10(std::max(amplitude / strongest, 1e-12)));
    };
    FunctionPlot::Curve curve;
    curve.ink = ink;
    double lowest = 0;
    forColumns(
        view().scale(), spectrum.step, spectrum.amplitudes.size(), columns, [&](std::size_t first, std::size_t last) {
            const auto begin = spectrum.amplitudes.begin();
            const auto highest =
                std::max_element(begin + std::ptrdiff_t(std::max<std::size_t>(1, first)), begin + std::ptrdiff_t(last));
            if (last < 2) return; // the mean is taken out
            curve.x.push_back(double(highest - begin) * spectrum.step);
            curve.y.push_back(shown(*highest));
            lowest = std::min(lowest, curve.y.back());
        });
    plot.x = {low, high, "Hz"};
    if (tile.linear)
        plot.y = {0, 1.06 * strongest, unit};
    else
        plot.y = {std::max(deepest, 10 * std::floor(lowest / 10) - 5), 4, "dB"};
    plot.curves.push_back(std::move(curve));
    FunctionPlot::Curve tops{{}, {}, ink, FunctionPlot::Curve::As::points};
    std::vector<TrendSpectrum::Peak> peaks;
    for (const TrendSpectrum::Peak &peak : spectrum.peaks) {
        if (peak.frequency >= low && peak.frequency <= high) peaks.push_back(peak);
    }
    if (!tile.linear) plot.words << "0 dB: " + text(quantityText(2 * strongest, unit, {}, 3)) + " pp";
    for (const TrendSpectrum::Peak &peak : peaks)
        plot.words << text(quantityText(peak.frequency, "Hz", spectrum.step / 10) + ": " +
                           quantityText(2 * peak.amplitude, unit, {}, 3) + " pp");
    std::sort(peaks.begin(), peaks.end(), [](const auto &a, const auto &b) { return a.frequency < b.frequency; });
    for (const TrendSpectrum::Peak &peak : peaks) {
        tops.x.push_back(peak.frequency);
        tops.y.push_back(shown(peak.amplitude));
    }
    plot.curves.push_back(std::move(tops));
    if (asked) plot.asked = {*asked - spectrum.step, *asked + spectrum.step};
    return plot;
}

void paintSpectrum(QPainter &painter, const QRectF &area, const SpectrumFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else if (!figure.drawing)
        paintEmpty(painter, area, "Transforming…", look);
    else if (figure.drawing->spectrum.amplitudes.empty())
        paintEmpty(painter, area, "A spectrum needs 8 values at different times: widen the region.", look);
    else
        paintPlot(painter, area, figure.plot(area.width()), look);
}

} // namespace fulvex
