#include "transfer_figure.h"

#include "number_text.h"
#include "turn.h"
#include "unit.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

double decibelsOf(double magnitude)
{
    return 20 * std::log10(std::max(magnitude, 1e-15));
}

double degreesOf(std::complex<double> response)
{
    return std::arg(response) * 360 / turn;
}

} // namespace

TransferDrawing TransferDrawing::of(const From &from)
{
    TransferDrawing drawing;
    drawing.from = from;
    const TransferFunction &transfer = *from.transfer;
    drawing.delay = transfer.delay();
    const double least = transfer.coherenceByChance();
    const double late = drawing.delay.seconds;
    forColumns(from.x, transfer.step, transfer.size(), from.columns, [&](std::size_t first, std::size_t last) {
        double input = 0, coherence = 0, lines = 0, place = 0;
        std::complex<double> straight = 0;    // without what a delay turns within a column
        const auto add = [&](bool coherent) { // of what coheres, or where nothing does, of all
            for (std::size_t line = first; line < last; ++line) {
                const double share = transfer.coherence(line);
                if (coherent && share <= least) continue;
                input += transfer.inputPower[line];
                straight += transfer.crossPower[line] * std::polar(1.0, turn * late * transfer.step * double(line));
                coherence += share;
                place += double(line);
                ++lines;
            }
        };
        add(true);
        const bool coheres = lines > 0;
        if (!coheres) add(false);
        if (!(input > 0)) return;
        const double frequency = transfer.step * place / lines;
        std::complex<double> response = straight / input;
        if (!from.withoutDelay) response *= std::polar(1.0, -turn * late * frequency);
        drawing.frequencies.push_back(frequency);
        drawing.decibels.push_back(decibelsOf(std::abs(response)));
        drawing.degrees.push_back(degreesOf(response));
        drawing.coherences.push_back(coherence / lines);
        drawing.coheres.push_back(coheres);
    });
    return drawing;
}

TransferFigure transferFigure(const Results &results, const TileEntry &tile)
{
    TransferFigure figure;
    const SpectrumResult *result = nullptr;
    static_cast<SpectralFigure &>(figure) = spectralFigure(results, tile, result);
    if (!result || !result->transfer) return figure;
    figure.transfer = result->transfer;
    const Unit gain = Unit(result->toUnit).over(Unit(result->unit));
    if (!gain.isNumber()) figure.decibels = "dB re 1 " + gain.text();
    addFact(figure.facts,
            QString("%1 resolution · %2 segments")
                .arg(text(quantityText(figure.transfer->noiseBandwidth * figure.transfer->step, "Hz", {}, 3)))
                .arg(figure.transfer->segments));
    return figure;
}

FrequencyView TransferFigure::view() const
{
    if (!transfer) return {};
    return FrequencyView::of(tile, transfer->step * double(transfer->size() - 1), transfer->step);
}

std::optional<TransferDrawing::From> TransferFigure::drawingFrom(double columns) const
{
    if (!transfer) return {};
    return TransferDrawing::From{transfer, view().scale(), std::max(1.0, columns), tile.withoutDelay};
}

void TransferFigure::take(std::shared_ptr<const TransferDrawing> made)
{
    if (made && transfer) drawing = std::move(made);
}

std::vector<FunctionPlot> TransferFigure::plots() const
{
    std::vector<FunctionPlot> plots(3);
    const std::vector<double> *const values[] = {&drawing->decibels, &drawing->degrees, &drawing->coherences};
    double low = INFINITY, high = -INFINITY;
    for (std::size_t i = 0; i < drawing->decibels.size(); ++i) {
        if (!drawing->coheres[i]) continue;
        low = std::min(low, drawing->decibels[i]);
        high = std::max(high, drawing->decibels[i]);
    }
    if (!(low <= high)) low = -20, high = 20;
    const AxisScale scales[] = {
        {std::max(5 * std::floor(low / 5) - 5, high - 160), 5 * std::ceil(high / 5) + 5, decibels},
        {-180, 180, "°"},
        {0, 1.05, ""}};
    for (std::size_t k = 0; k < 3; ++k) {
        FunctionPlot &plot = plots[k];
        plot.x = drawing->from.x;
        plot.y = scales[k];
        plot.margins.setTop(k == 0 ? plot.margins.top() : 3);
        plot.xLabels = k == 2;
        if (k < 2) plot.margins.setBottom(3);
        // What does not cohere is faint: nothing follows from it. Where the phase turns over there is a gap.
        for (const bool coherent : {false, true}) {
            FunctionPlot::Curve curve;
            curve.ink = ink;
            curve.faint = !coherent;
            for (std::size_t i = 0; i < drawing->frequencies.size(); ++i) {
                const double value = (*values[k])[i];
                const bool over = k == 1 && i > 0 && std::abs(value - (*values[k])[i - 1]) > 180;
                const bool here = k == 2 || drawing->coheres[i] == coherent;
                curve.x.push_back(drawing->frequencies[i]);
                curve.y.push_back(over || !here ? NAN : std::clamp(value, plot.y.low, plot.y.high));
            }
            if (k < 2 || coherent) plot.curves.push_back(std::move(curve));
        }
        FunctionPlot::Curve alone{{}, {}, ink, FunctionPlot::Curve::As::points}; // with no line to either side
        for (std::size_t i = 0; i < drawing->frequencies.size(); ++i) {
            const bool before = i > 0 && drawing->coheres[i - 1],
                       after = i + 1 < drawing->coheres.size() && drawing->coheres[i + 1];
            if (k == 2 || !drawing->coheres[i] || before || after) continue;
            alone.x.push_back(drawing->frequencies[i]);
            alone.y.push_back(std::clamp((*values[k])[i], plot.y.low, plot.y.high));
        }
        plot.curves.push_back(std::move(alone));
        if (pointed)
            plot.rules.push_back(
                {*pointed, k == 0 ? text(quantityText(*pointed, "Hz", transfer->step / 2)) : QString()});
    }
    if (pointed) plots[0].words << wordsAt(*pointed);
    if (std::isfinite(drawing->delay.uncertainty))
        plots[1].words << (tile.withoutDelay ? "without its delay of " : "delay ") +
                              text(quantityWithUncertainty(drawing->delay.seconds, "s", drawing->delay.uncertainty));
    plots[2].words << "coherence";
    return plots;
}

QString TransferFigure::wordsAt(double frequency) const
{
    if (!drawing || drawing->frequencies.empty()) return {};
    const auto &xs = drawing->frequencies;
    const auto after = std::lower_bound(xs.begin(), xs.end(), frequency);
    auto i = std::size_t(std::min<std::ptrdiff_t>(after - xs.begin(), std::ptrdiff_t(xs.size()) - 1));
    if (i > 0 && frequency - xs[i - 1] < xs[i] - frequency) --i;
    return text(fixedText(drawing->decibels[i], 2) + " " + decibels + ", " + fixedText(drawing->degrees[i], 1) +
                "°, coherence " + fixedText(drawing->coherences[i], 3));
}

std::vector<QRectF> transferAreas(const QRectF &area)
{
    const double magnitude = 0.46 * area.height(), phase = 0.3 * area.height();
    return {QRectF(area.left(), area.top(), area.width(), magnitude),
            QRectF(area.left(), area.top() + magnitude, area.width(), phase),
            QRectF(area.left(), area.top() + magnitude + phase, area.width(), area.height() - magnitude - phase)};
}

void paintTransfer(QPainter &painter, const QRectF &area, const TransferFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) return paintEmpty(painter, area, figure.empty, look);
    if (!figure.drawing) return paintEmpty(painter, area, "Transforming…", look);
    const auto plots = figure.plots();
    const auto areas = transferAreas(area);
    for (std::size_t k = 0; k < plots.size(); ++k) paintPlot(painter, areas[k], plots[k], look);
}

} // namespace fulvex
