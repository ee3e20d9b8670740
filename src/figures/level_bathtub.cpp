#include "level_bathtub.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr double deepest = 1e-15;
const AxisScale ratios{deepest, 1, "", true};

/// Between which levels an opening is wrong no more often than that; nothing: nowhere.
std::optional<std::pair<double, double>> openBetween(const LevelBathtubFigure::Opening &opening, double ratio)
{
    std::optional<std::pair<double, double>> open;
    const auto crossing = [&](std::size_t outside, std::size_t inside) {
        const double a = std::log(opening.ratios[outside] / ratio), b = std::log(opening.ratios[inside] / ratio);
        return opening.levels[outside] + (opening.levels[inside] - opening.levels[outside]) * a / (a - b);
    };
    for (std::size_t i = 0; i < opening.levels.size(); ++i) {
        if (opening.ratios[i] > ratio) continue;
        if (!open) open.emplace(i > 0 ? crossing(i - 1, i) : opening.levels[i], 0);
        open->second =
            i + 1 < opening.levels.size() && opening.ratios[i + 1] > ratio ? crossing(i + 1, i) : opening.levels[i];
    }
    return open;
}

} // namespace

LevelBathtubFigure levelBathtubFigure(const Results &results, const std::string &id)
{
    LevelBathtubFigure figure;
    const EyeResult *eye = findEntry(results.eyes, id);
    const EyeEntry *entry = findEntry(results.document->eyes, id);
    if (!eye || !entry) {
        figure.empty = entry ? "Folding…" : "This eye is no more.";
        return figure;
    }
    figure.title = QString("%1 · %2").arg(text(eye->source), text(id));
    const ChannelResult *channel = findEntry(results.channels, eye->source);
    figure.unit = channel ? channel->unit : std::string();
    if (!eye->reason.empty())
        figure.empty = text(eye->reason);
    else if (entry->shown != "error_ratio")
        figure.empty = "It is made of the eye's error ratios: let the eye show them, in its Inspector.";
    else if (!eye->errors)
        figure.empty =
            eye->pending || !eye->fold ? "Counting…" : "Error ratios are of one capture: ask each by itself.";
    if (!figure.empty.isEmpty()) return figure;
    constexpr int steps = 200;
    for (std::size_t opening = 0; opening + 1 < eye->errors->symbols.size(); ++opening) {
        LevelBathtubFigure::Opening one;
        for (const auto &[level, ratio] : eye->errors->along(EyeErrorRatio::columns / 2, opening, steps)) {
            one.levels.push_back(level);
            one.ratios.push_back(std::max(ratio.value, deepest / 1e3));
            one.measured.push_back(ratio.measured);
        }
        figure.openings.push_back(std::move(one));
    }
    const bool any = std::any_of(figure.openings.begin(), figure.openings.end(),
                                 [](const auto &opening) { return !opening.levels.empty(); });
    if (!any) figure.empty = "Too few unit intervals to tell how often a decision is wrong: take a longer region.";
    return figure;
}

FunctionPlot LevelBathtubFigure::plot() const
{
    using Curve = FunctionPlot::Curve;
    FunctionPlot plot;
    double low = INFINITY, high = -INFINITY;
    for (const Opening &opening : openings) {
        if (opening.levels.empty()) continue;
        low = std::min(low, opening.levels.front());
        high = std::max(high, opening.levels.back());
    }
    plot.x = {low, high, unit};
    plot.y = ratios;
    for (std::size_t i = 0; i < openings.size(); ++i) {
        const Opening &opening = openings[i];
        Curve counted, model;
        counted.ink = model.ink = -1;
        model.as = Curve::As::dashes;
        for (std::size_t k = 0; k < opening.levels.size(); ++k) {
            const double seen = std::clamp(opening.ratios[k], deepest, 1.0);
            // Where one ends and the other begins they share a point.
            const bool edge = k > 0 && opening.measured[k] != opening.measured[k - 1];
            counted.x.push_back(opening.levels[k]);
            counted.y.push_back(opening.measured[k] || edge ? seen : NAN);
            model.x.push_back(opening.levels[k]);
            model.y.push_back(!opening.measured[k] || edge ? seen : NAN);
        }
        plot.curves.push_back(std::move(counted));
        plot.curves.push_back(std::move(model));
        const double at = ratio.value_or(1e-12);
        if (const auto open = openBetween(opening, at))
            plot.curves.push_back({{open->first, open->second}, {at, at}, 1});
    }
    if (ratio) plot.words << openAt(*ratio);
    return plot;
}

QString LevelBathtubFigure::openAt(double errorRatio) const
{
    QStringList open;
    for (const Opening &opening : openings) {
        const auto between = openBetween(opening, errorRatio);
        open << text(quantityText(between ? between->second - between->first : 0, unit, {}, 3));
    }
    return QString("open %1 at %2").arg(open.join(", "), ratioText(errorRatio));
}

std::optional<double> LevelBathtubFigure::ratioAt(const QRectF &area, double y) const
{
    const QRectF where = FunctionPlot().plotRect(area);
    if (!empty.isEmpty() || y < where.top() || y > where.bottom()) return {};
    return ratios.valueAt((where.bottom() - y) / where.height());
}

void paintLevelBathtub(QPainter &painter, const QRectF &area, const LevelBathtubFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else
        paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
