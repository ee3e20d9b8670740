#include "channel_spectrum_figure.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

ChannelSpectrumDrawing ChannelSpectrumDrawing::of(const From &from)
{
    ChannelSpectrumDrawing drawing;
    drawing.from = from;
    const PowerSpectrum &power = from.spectrum->power;
    forColumns(from.x, power.step, power.density.size(), from.columns, [&](std::size_t first, std::size_t last) {
        const auto begin = power.density.begin();
        const auto highest =
            std::size_t(std::max_element(begin + std::ptrdiff_t(first), begin + std::ptrdiff_t(last)) - begin);
        drawing.frequencies.push_back(double(highest) * power.step);
        drawing.densities.push_back(power.density[highest]);
        drawing.floor.push_back(from.spectrum->floor.at(highest));
    });
    if (from.marked) drawing.marked = spectralLineAt(power, from.spectrum->floor, *from.marked);
    constexpr int highestHarmonic = 10;
    if (drawing.marked) drawing.harmonics = harmonicsOf(power, from.spectrum->floor, *drawing.marked, highestHarmonic);
    drawing.floorInView = NoiseFloor::between(power, from.x.low, from.x.high);
    return drawing;
}

ChannelSpectrumFigure channelSpectrumFigure(const Results &results, const TileEntry &tile)
{
    ChannelSpectrumFigure figure;
    const SpectrumResult *result = nullptr;
    static_cast<SpectralFigure &>(figure) = spectralFigure(results, tile, result);
    if (!result || !result->spectrum) return figure;
    figure.spectrum = result->spectrum;
    const PowerSpectrum &power = figure.spectrum->power;
    addFact(figure.facts, QString("%1 resolution · %2 segments%3")
                              .arg(text(quantityText(power.resolution(), "Hz", {}, 3)))
                              .arg(power.segments)
                              .arg(power.highest ? ", the highest of each" : ""));
    if (power.leftOut > 0) addFact(figure.facts, QString("%1 left out for gaps").arg(power.leftOut));
    return figure;
}

FrequencyView ChannelSpectrumFigure::view() const
{
    if (!spectrum) return {};
    const PowerSpectrum &power = spectrum->power;
    return FrequencyView::of(tile, power.step * double(power.density.size() - 1), power.step);
}

std::optional<ChannelSpectrumDrawing::From> ChannelSpectrumFigure::drawingFrom(double columns) const
{
    if (!spectrum) return {};
    return ChannelSpectrumDrawing::From{spectrum, view().scale(), std::max(1.0, columns), tile.marked};
}

void ChannelSpectrumFigure::take(std::shared_ptr<const ChannelSpectrumDrawing> made)
{
    if (made && spectrum) drawing = std::move(made);
}

std::optional<double> ChannelSpectrumFigure::lineAt(const QRectF &plot, double x) const
{
    if (!spectrum || x < plot.left() || x > plot.right()) return {};
    constexpr double reach = 6; // pixels
    const AxisScale scale = view().scale();
    const auto at = [&](double place) { return scale.valueAt((place - plot.left()) / plot.width()); };
    const double low = at(x - reach), high = at(x + reach);
    for (const SpectralLine &line : spectrum->lines) { // strongest first
        if (line.frequency >= low && line.frequency <= high) return line.frequency;
    }
    const auto &density = spectrum->power.density;
    const auto lineOf = [&](double frequency) {
        return std::ptrdiff_t(
            std::clamp(std::round(frequency / spectrum->power.step), 0.0, double(density.size() - 1)));
    };
    const auto highest = std::max_element(density.begin() + lineOf(low), density.begin() + lineOf(high) + 1);
    return double(highest - density.begin()) * spectrum->power.step;
}

namespace {

/// How a tile shows amplitudes.
struct LevelScale {
    enum { rms, decibels, density } as;
    double resolution; ///< Hz
    double ofDensity(double unitSquaredPerHz) const
    {
        if (as == density) return std::sqrt(unitSquaredPerHz);
        const double power = unitSquaredPerHz * resolution;
        return as == rms ? std::sqrt(power) : 10 * std::log10(std::max(power, 1e-300));
    }
    std::string unit(const std::string &of) const
    {
        if (as == density) return (of.empty() ? "1" : of) + "/√Hz";
        if (as == rms) return of;
        return decibelUnit(of);
    }
};

LevelScale scaleOf(const TileEntry &tile, const PowerSpectrum &power)
{
    return {tile.scale == "rms"       ? LevelScale::rms
            : tile.scale == "density" ? LevelScale::density
                                      : LevelScale::decibels,
            power.resolution()};
}

} // namespace

QString ChannelSpectrumFigure::levelText(double power) const
{
    const LevelScale scale = scaleOf(tile, spectrum->power);
    const std::string as = scale.unit(unit);
    if (scale.as == LevelScale::decibels)
        return text(fixedText(10 * std::log10(std::max(power, 1e-300)), 1) + " " + as);
    const double rms = std::sqrt(power); // a line's own level is no density
    return text(quantityText(rms, unit, {}, 4) + " rms");
}

FunctionPlot ChannelSpectrumFigure::plot() const
{
    FunctionPlot plot;
    const LevelScale scale = scaleOf(tile, drawing->from.spectrum->power);
    plot.x = drawing->from.x;
    const auto curve = [&](const std::vector<double> &densities, FunctionPlot::Curve::As as, int of) {
        FunctionPlot::Curve made;
        made.as = as;
        made.ink = of;
        made.x = drawing->frequencies;
        for (const double density : densities) made.y.push_back(scale.ofDensity(density));
        return made;
    };
    FunctionPlot::Curve levels = curve(drawing->densities, FunctionPlot::Curve::As::line, ink);
    FunctionPlot::Curve floor = curve(drawing->floor, FunctionPlot::Curve::As::dashes, -1);
    floor.faint = true;
    double low = INFINITY, high = -INFINITY;
    for (std::size_t i = 0; i < levels.y.size(); ++i) {
        if (drawing->frequencies[i] > 0 || levels.y.size() == 1) low = std::min({low, levels.y[i], floor.y[i]});
        high = std::max(high, levels.y[i]);
    }
    const std::string as = scale.unit(unit);
    if (scale.as == LevelScale::decibels) {
        const double deepest = high - 240; // what is nothing but rounding
        plot.y = {std::max(10 * std::floor(low / 10) - 5, deepest), 10 * std::ceil(high / 10) + 5, as};
    } else if (tile.linear || !(low > 0)) {
        plot.y = {0, high > 0 ? 1.1 * high : 1, as};
    } else {
        plot.y = {std::max(low / 2, high * 1e-12), 2 * high, as, true};
    }
    for (FunctionPlot::Curve *one : {&levels, &floor}) {
        for (double &y : one->y) y = std::clamp(y, plot.y.low, plot.y.high);
    }
    plot.curves = {std::move(levels), std::move(floor)};

    FunctionPlot::Curve tops{{}, {}, ink, FunctionPlot::Curve::As::points};
    std::vector<SpectralLine> inView;
    for (const SpectralLine &line : spectrum->lines) {
        if (line.frequency >= plot.x.low && line.frequency <= plot.x.high) inView.push_back(line);
    }
    const auto named = [&](const SpectralLine &line) {
        return text(quantityText(line.frequency, "Hz", spectrum->power.step / 20));
    };
    if (const auto &marked = drawing->marked) {
        plot.rules.push_back({marked->frequency, "1"});
        plot.words << "1 · " + named(*marked) + ": " + levelText(marked->power);
        for (const Harmonic &harmonic : drawing->harmonics) {
            if (!harmonic.stands || !(marked->power > 0)) continue;
            plot.rules.push_back(
                {harmonic.frequency, QString::number(harmonic.number) + (harmonic.folded ? "′" : ""), true});
            plot.words << QString("%1 · %2: %3 dBc%4")
                              .arg(harmonic.number)
                              .arg(named(harmonic), text(fixedText(10 * std::log10(harmonic.power / marked->power), 1)),
                                   harmonic.folded ? QString(", folded") : QString());
        }
        std::sort(plot.rules.begin(), plot.rules.end(), [](const auto &a, const auto &b) { return a.x < b.x; });
    } else {
        constexpr std::size_t listed = 6;
        for (std::size_t i = 0; i < std::min(listed, inView.size()); ++i)
            plot.words << named(inView[i]) + ": " + levelText(inView[i].power);
    }
    if (drawing->floorInView > 0)
        plot.words << "floor " + text(quantityText(std::sqrt(drawing->floorInView),
                                                   LevelScale{LevelScale::density, 1}.unit(unit), {}, 3));
    std::sort(inView.begin(), inView.end(), [](const auto &a, const auto &b) { return a.frequency < b.frequency; });
    for (const SpectralLine &line : inView) {
        tops.x.push_back(line.frequency);
        tops.y.push_back(
            std::clamp(scale.ofDensity(line.power / spectrum->power.resolution()), plot.y.low, plot.y.high));
    }
    plot.curves.push_back(std::move(tops));
    plot.asked = asked;
    return plot;
}

} // namespace fulvex
