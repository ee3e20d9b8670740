#include "stability_figure.h"

#include "number_text.h"
#include "phase_noise_figure.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using Curve = FunctionPlot::Curve;

QString timeText(double value)
{
    return text(quantityText(value, "s", {}, 3));
}

/// Over the whole decades that the values lie in.
AxisScale decadesOf(const std::vector<Curve> &curves, const char *unit)
{
    double low = INFINITY, high = 0;
    for (const Curve &curve : curves) {
        for (const double value : curve.y) {
            if (value > 0) low = std::min(low, value);
            high = std::max(high, value);
        }
    }
    if (!(low <= high)) return {1, 10, unit, true};
    return {low / 1.6, high * 5, unit, true}; // words stand above
}

/// Above 0, as a logarithmic axis asks for.
void add(Curve &curve, double x, double y)
{
    if (!(y > 0)) return;
    curve.x.push_back(x);
    curve.y.push_back(y);
}

} // namespace

std::optional<StabilityPlot> stabilityPlotOf(const std::string &kind)
{
    if (kind == "accumulated_jitter") return StabilityPlot::accumulated;
    if (kind == "time_deviation") return StabilityPlot::deviations;
    return {};
}

StabilityFigure stabilityFigure(const Results &results, const std::string &id, StabilityPlot what)
{
    StabilityFigure figure;
    figure.what = what;
    const PhaseNoiseResult *result = drawablePhaseNoise(results, id, figure.title, figure.empty);
    if (!result) return figure;
    figure.stability = result->stability;
    const bool any = figure.stability && !(what == StabilityPlot::accumulated ? figure.stability->accumulated.empty()
                                                                              : figure.stability->deviations.empty());
    if (!any)
        figure.empty = figure.stability ? "The record is too short for this: take a longer one."
                                        : "This is of one capture: ask each by itself.";
    return figure;
}

AxisScale StabilityFigure::across() const
{
    if (what == StabilityPlot::accumulated)
        return {stability->accumulated.front().periods, std::max(2.0, stability->accumulated.back().periods), "", true};
    const auto &all = stability->deviations;
    return {all.front().time, std::max(all.back().time, 2 * all.front().time), "s", true};
}

std::vector<FunctionPlot> StabilityFigure::plots() const
{
    std::vector<FunctionPlot> all;
    const auto plotOf = [&](std::vector<Curve> curves, const char *unit, const QString &words) {
        FunctionPlot plot;
        plot.x = across();
        plot.y = decadesOf(curves, unit);
        for (std::size_t i = 0, count = curves.size(); i < count; ++i) { // points are told by, lines join them
            Curve dots = curves[i];
            dots.as = Curve::As::points;
            curves.push_back(std::move(dots));
        }
        plot.curves = std::move(curves);
        plot.words << words;
        if (pointed) plot.rules.push_back({*pointed, {}});
        all.push_back(std::move(plot));
    };
    Curve first, second;
    second.ink = -1;
    if (what == StabilityPlot::accumulated) {
        second.faint = true;
        for (const ClockStability::Accumulated &one : stability->accumulated) {
            add(first, one.periods, one.rms);
            add(second, one.periods, one.peakToPeak);
        }
        plotOf({second, first}, "s", "over N periods: rms, and faint peak to peak");
        return all;
    }
    for (const ClockStability::Deviation &one : stability->deviations) {
        add(first, one.time, one.timeDeviation);
        add(second, one.time, one.allan);
    }
    plotOf({first}, "s", "time deviation over averaging time");
    plotOf({second}, "", "Allan deviation");
    all[0].xLabels = false;
    all[0].margins.setBottom(3);
    all[1].margins.setTop(3);
    return all;
}

std::vector<QRectF> StabilityFigure::areas(const QRectF &area) const
{
    const int count = what == StabilityPlot::deviations ? 2 : 1;
    std::vector<QRectF> all;
    for (int i = 0; i < count; ++i)
        all.emplace_back(area.left(), area.top() + i * area.height() / count, area.width(), area.height() / count);
    return all;
}

std::optional<double> StabilityFigure::placeAt(const QRectF &area, double x) const
{
    const QRectF plot = FunctionPlot().plotRect(area);
    if (!empty.isEmpty() || !stability || x < plot.left() || x > plot.right()) return {};
    return across().valueAt((x - plot.left()) / plot.width());
}

QString StabilityFigure::wordsAt() const
{
    if (!empty.isEmpty() || !stability) return {};
    const auto nearest = [&](const auto &list, auto place) {
        const double at = pointed.value_or(place(list.front()));
        return *std::min_element(list.begin(), list.end(), [&](const auto &a, const auto &b) {
            return std::abs(std::log(place(a) / at)) < std::abs(std::log(place(b) / at));
        });
    };
    if (what == StabilityPlot::accumulated) {
        const auto one = nearest(stability->accumulated, [](const auto &of) { return of.periods; });
        return QString("over %1: %2 rms, %3 pp")
            .arg(one.periods < 1 ? QString("half a period") : QString::number(one.periods), timeText(one.rms),
                 timeText(one.peakToPeak));
    }
    const auto one = nearest(stability->deviations, [](const auto &of) { return of.time; });
    return QString("over %1: %2, Allan %3").arg(timeText(one.time), timeText(one.timeDeviation), ratioText(one.allan));
}

void paintStability(QPainter &painter, const QRectF &area, const StabilityFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty() || !figure.stability)
        return paintEmpty(painter, area, figure.empty.isEmpty() ? "Averaging phases…" : figure.empty, look);
    const auto plots = figure.plots();
    const auto areas = figure.areas(area);
    for (std::size_t i = 0; i < plots.size(); ++i) paintPlot(painter, areas[i], plots[i], look);
}

} // namespace fulvex
