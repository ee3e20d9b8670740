#include "compared_curves_figure.h"

#include "compared_eyes_figure.h"
#include "number_text.h"
#include "spectral_figure.h"
#include "trend_spectrum.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::size_t listed = 4; ///< lines in words
constexpr int nameRoom = 20;      ///< pixels above the curves, where it stands whose they are

/// One side, so that its level at any frequency can be told.
class Levels {
public:
    explicit Levels(const ComparedCurvesDrawing::Side &side, const std::string &window) : m_side(side)
    {
        if (side.spectrum) {
            const PowerSpectrum &power = side.spectrum->power;
            step = power.step;
            resolution = power.resolution();
            for (const double density : power.density) m_levels.push_back(decibels(density * resolution));
            for (const SpectralLine &line : side.spectrum->lines) lines.push_back(line.frequency);
        } else if (side.values) {
            Progress progress;
            const TrendSpectrum trend = trendSpectrum(side.values->population, windowNamed(window), listed, progress);
            step = trend.step;
            for (const double amplitude : trend.amplitudes) m_levels.push_back(decibels(amplitude * amplitude / 2));
            for (const TrendSpectrum::Peak &peak : trend.peaks) lines.push_back(peak.frequency);
        } else if (side.noise) {
            lowest = side.noise->lowest;
            highest = side.noise->highest;
            for (const PhaseNoise::Line &line : side.noise->lines) lines.push_back(line.offset);
            return;
        }
        highest = m_levels.empty() ? 0 : step * double(m_levels.size() - 1);
        lowest = step;
    }
    /// The highest level from one frequency to another; NaN beyond its ends.
    double within(double from, double to) const
    {
        if (m_side.noise) {
            const auto at = m_side.noise->at(std::sqrt(from * to));
            return at ? at->value : NAN;
        }
        if (m_levels.empty() || from > highest * (1 + 1e-9)) return NAN;
        auto first = std::size_t(std::clamp(std::ceil(from / step - 1e-9), 0.0, double(m_levels.size() - 1)));
        auto last = std::size_t(std::clamp(std::ceil(to / step - 1e-9), 0.0, double(m_levels.size())));
        if (last <= first) { // between two of its lines
            first = std::size_t(std::clamp(std::round((from + to) / 2 / step), 0.0, double(m_levels.size() - 1)));
            last = first + 1;
        }
        return *std::max_element(m_levels.begin() + std::ptrdiff_t(first), m_levels.begin() + std::ptrdiff_t(last));
    }
    /// At a line: the highest about it.
    double at(double frequency) const
    {
        if (!m_side.noise) return within(std::max(0.0, frequency - 1.5 * step), frequency + 1.5 * step);
        const auto &own = m_side.noise->lines;
        const auto near = std::ranges::find_if(
            own, [&](const PhaseNoise::Line &line) { return std::abs(line.offset / frequency - 1) < 1e-3; });
        return near != own.end() ? near->level : within(frequency, frequency);
    }
    double step = 0, resolution = 0, lowest = 0, highest = 0;
    std::vector<double> lines; ///< Hz, of those that stand out

private:
    static double decibels(double power) { return 10 * std::log10(std::max(power, 1e-300)); }
    const ComparedCurvesDrawing::Side &m_side;
    std::vector<double> m_levels;
};

/// What a result has of an entry; nothing: why.
ComparedCurvesDrawing::Side sideOf(const Results &results, const std::string &id, QString &why)
{
    ComparedCurvesDrawing::Side side;
    if (const SpectrumResult *spectrum = findEntry(results.spectra, id)) {
        side.spectrum = spectrum->spectrum;
        why = text(spectrum->reason);
    } else if (const PhaseNoiseResult *noise = findEntry(results.phaseNoise, id)) {
        side.noise = noise->found;
        why = text(noise->reason);
    } else if (const Row *row = findEntry(results.rows, id)) {
        if (row->measurable() && row->measured && !row->measured->single) side.values = row->measured;
        why = text(row->reason);
    }
    if (!side.there() && why.isEmpty())
        why = QString("has no spectrum of %1, as of a spectrum, phase noise, or a row of values over time.")
                  .arg(text(id));
    return side;
}

} // namespace

ComparedCurvesDrawing ComparedCurvesDrawing::of(const From &from)
{
    ComparedCurvesDrawing drawing;
    drawing.from = from;
    const Levels sides[2] = {Levels(from.first, from.tile.window), Levels(from.second, from.tile.window)};
    const double highest = std::max(sides[0].highest, sides[1].highest),
                 lowest = std::min(sides[0].lowest, sides[1].lowest);
    if (!(highest > lowest) || !(lowest > 0)) return drawing;
    drawing.x = FrequencyView::of(from.tile, highest, lowest).scale();
    const int columns = std::max(2, int(from.columns));
    for (int column = 0; column < columns; ++column) {
        const double low = drawing.x.valueAt(double(column) / columns),
                     high = drawing.x.valueAt((column + 1.0) / columns);
        drawing.frequencies.push_back(drawing.x.valueAt((column + 0.5) / columns));
        for (const int side : {0, 1}) drawing.levels[side].push_back(sides[side].within(low, high));
        drawing.difference.push_back(drawing.levels[1].back() - drawing.levels[0].back());
    }
    for (const int side : {0, 1}) {
        drawing.resolution[side] = sides[side].resolution;
        for (const double frequency : sides[side].lines) {
            if (frequency < drawing.x.low || frequency > drawing.x.high) continue;
            const double reach = std::max({1.5 * sides[0].step, 1.5 * sides[1].step, 1e-3 * frequency});
            const bool known = std::ranges::any_of(
                drawing.lines, [&](const Line &line) { return std::abs(line.frequency - frequency) <= reach; });
            if (!known) drawing.lines.push_back({frequency, {sides[0].at(frequency), sides[1].at(frequency)}});
        }
    }
    std::ranges::sort(drawing.lines, [](const Line &a, const Line &b) {
        return std::max(a.level[0], a.level[1]) > std::max(b.level[0], b.level[1]);
    });
    return drawing;
}

ComparedCurvesFigure comparedCurvesFigure(const Results &first, const Results &second, const TileEntry &tile,
                                          const std::string &id, const QString &firstName, const QString &secondName)
{
    ComparedCurvesFigure figure;
    figure.names[0] = firstName;
    figure.names[1] = secondName;
    figure.tile = tile;
    figure.title = text(id);
    QString why;
    figure.second = sideOf(second, id, why);
    if (!figure.second.there()) {
        figure.empty = secondName + ": " + why;
        return figure;
    }
    figure.first = sideOf(first, id, why);
    if (!figure.first.there() || std::tuple(!figure.first.spectrum, !figure.first.noise) !=
                                     std::tuple(!figure.second.spectrum, !figure.second.noise)) {
        figure.empty = firstName + ": " + (why.isEmpty() ? QString("has nothing of that kind called so.") : why);
        return figure;
    }
    if (figure.second.noise) {
        figure.unit = "dBc/Hz";
        figure.tile.logFrequency = true;
    } else if (const SpectrumResult *spectrum = findEntry(second.spectra, id)) {
        figure.unit = decibelUnit(spectrum->unit);
    } else {
        figure.unit = decibelUnit(findEntry(second.rows, id)->unit);
        figure.title = text(findEntry(second.rows, id)->title);
    }
    return figure;
}

std::optional<ComparedCurvesDrawing::From> ComparedCurvesFigure::drawingFrom(double columns) const
{
    if (!empty.isEmpty()) return {};
    return ComparedCurvesDrawing::From{first, second, tile, std::max(2.0, std::round(columns))};
}

QString ComparedCurvesFigure::aside() const
{
    if (!drawing || drawing->lines.empty()) return {};
    const auto &line = drawing->lines.front();
    const double by = line.level[1] - line.level[0];
    if (!std::isfinite(by)) return {};
    return QString("%1: %2%3 dB")
        .arg(text(quantityText(line.frequency, "Hz", {}, 4)), by < 0 ? "−" : "+", text(fixedText(std::abs(by), 1)));
}

FunctionPlot ComparedCurvesFigure::levels() const
{
    FunctionPlot plot;
    plot.x = drawing->x;
    plot.xLabels = false;
    plot.margins.setBottom(3);
    plot.margins.setTop(nameRoom);
    double low = INFINITY, high = -INFINITY;
    for (const auto &levels : drawing->levels)
        for (const double level : levels)
            if (std::isfinite(level)) low = std::min(low, level), high = std::max(high, level);
    if (!(low <= high)) low = -1, high = 1;
    constexpr double deepest = 160; // dB: what is less beside the highest is rounding
    low = std::max(low, high - deepest);
    plot.y = {10 * std::floor(low / 10), 10 * std::ceil(high / 10 + 0.3), unit};
    const int inks[2] = {ComparedInks::first, ComparedInks::second};
    for (const int side : {0, 1}) {
        FunctionPlot::Curve curve{drawing->frequencies, drawing->levels[side], inks[side]};
        for (double &y : curve.y) y = std::isfinite(y) ? std::max(y, plot.y.low) : y;
        plot.curves.push_back(std::move(curve));
    }
    for (std::size_t i = 0; i < std::min(listed, drawing->lines.size()); ++i) {
        const auto &line = drawing->lines[i];
        const auto level = [&](int side) {
            return std::isfinite(line.level[side]) ? text(fixedText(line.level[side], 1)) : QString("—");
        };
        plot.words
            << QString("%1: %2 → %3 dB").arg(text(quantityText(line.frequency, "Hz", {}, 4)), level(0), level(1));
    }
    const double *r = drawing->resolution;
    if (r[0] > 0 && r[1] > 0 && std::abs(r[0] / r[1] - 1) > 0.05)
        plot.words << QString("resolutions %1 and %2: noise between lines is not comparable")
                          .arg(text(quantityText(r[0], "Hz", {}, 3)), text(quantityText(r[1], "Hz", {}, 3)));
    return plot;
}

FunctionPlot ComparedCurvesFigure::difference() const
{
    FunctionPlot plot;
    plot.x = drawing->x;
    plot.margins.setTop(3);
    double most = 3;
    for (const double level : drawing->difference)
        if (std::isfinite(level)) most = std::max(most, std::abs(level));
    plot.y = {-1.1 * most, 1.1 * most, "dB"};
    plot.curves.push_back({drawing->frequencies, drawing->difference, -1});
    return plot;
}

void paintComparedCurves(QPainter &painter, const QRectF &area, const ComparedCurvesFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) return paintEmpty(painter, area, figure.empty, look);
    if (!figure.drawing || figure.drawing->frequencies.empty()) return paintEmpty(painter, area, "Transforming…", look);
    constexpr double upper = 0.64;
    const QRectF top(area.left(), area.top(), area.width(), upper * area.height());
    const FunctionPlot levels = figure.levels();
    paintPlot(painter, top, levels, look);
    paintPlot(painter, QRectF(area.left(), top.bottom(), area.width(), area.height() - top.height()),
              figure.difference(), look);
    paintComparedNames(painter, levels.plotRect(top).topLeft() - QPointF(0, nameRoom / 2.0 - 1), figure.names[0],
                       figure.names[1], look);
}

} // namespace fulvex
