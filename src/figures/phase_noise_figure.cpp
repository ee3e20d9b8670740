#include "phase_noise_figure.h"

#include "number_text.h"
#include "phase_noise_limit.h"
#include "suspects.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using Curve = FunctionPlot::Curve;
constexpr int mostPoints = 300; ///< of a curve
constexpr const char *levelUnit = "dBc/Hz";

QString hertz(double value)
{
    return text(quantityText(value, "Hz", {}, 4));
}

Curve curveOf(const std::vector<PhaseNoise::Point> &of, int ink)
{
    Curve curve;
    curve.ink = ink;
    for (const PhaseNoise::Point &point : of) {
        curve.x.push_back(point.offset);
        curve.y.push_back(point.value);
    }
    return curve;
}

/// The strongest lines in words, with the other results that know them.
QStringList strongestLines(const Results &results, const PhaseNoiseResult &result)
{
    std::vector<PhaseNoise::Line> lines = result.found->lines;
    std::sort(lines.begin(), lines.end(), [](const auto &a, const auto &b) { return a.level > b.level; });
    const std::vector<Suspect> shared = suspects(results);
    constexpr std::size_t most = 3;
    QStringList words;
    for (std::size_t i = 0; i < std::min(most, lines.size()); ++i) {
        QString line = QString("%1: %2 dBc").arg(hertz(lines[i].offset), text(fixedText(lines[i].level, 1)));
        for (const SeenLine &other : linesElsewhere(shared, result.id, lines[i].offset))
            line += QString(", %1 in %2").arg(text(other.level), text(other.source));
        words << line;
    }
    return words;
}

} // namespace

const PhaseNoiseResult *drawablePhaseNoise(const Results &results, const std::string &id, QString &title,
                                           QString &empty)
{
    title = text(id);
    const PhaseNoiseEntry *entry = findEntry(results.document->phaseNoise, id);
    const PhaseNoiseResult *result = findEntry(results.phaseNoise, id);
    if (!entry || !result) {
        empty = entry ? QString("Averaging phases…") : QString("This phase noise is no more.");
        return nullptr;
    }
    title =
        entry->clock.empty() ? text(result->source) : QString("%1 · %2").arg(text(result->source), text(entry->clock));
    if (result->reason.empty() && result->found) return result;
    empty = result->reason.empty() ? QString("Averaging phases…") : text(result->reason);
    return nullptr;
}

PhaseNoiseFigure phaseNoiseFigure(const Results &results, const TileEntry &tile)
{
    PhaseNoiseFigure figure;
    figure.tile = tile;
    figure.tile.logFrequency = true;
    if (tile.of.empty()) figure.empty = "Nothing is shown here: add phase noise to it.";
    for (const std::string &id : tile.of) {
        QString title, empty;
        const PhaseNoiseResult *result = drawablePhaseNoise(results, id, title, empty);
        if (!result) {
            if (figure.shown.empty() && figure.empty.isEmpty()) figure.title = title, figure.empty = empty;
            continue;
        }
        const PhaseNoise &found = *result->found;
        if (figure.shown.empty()) {
            figure.empty.clear();
            figure.title = title;
            figure.span = result->span;
            figure.floor = result->floor;
            figure.lowest = found.lowest;
            figure.highest = found.highest;
            const PhaseNoiseEntry &entry = *findEntry(results.document->phaseNoise, id);
            figure.limitOffsets = entry.limitOffsets;
            figure.limitLevels = entry.limitLevels;
            figure.facts = QString("%1 carrier%2").arg(hertz(found.carrier), found.ofData ? " of data" : "");
            if (found.records > 1) figure.facts += QString(" · %1 captures averaged").arg(found.records);
            figure.failed = result->verdict == Verdict::fail;
            figure.lines = strongestLines(results, *result);
            if (result->worst)
                figure.aside =
                    QString("%1 %2 dB at %3")
                        .arg(result->worst->value < 0 ? "over its limit by" : "below its limit by",
                             text(fixedText(std::abs(result->worst->value), 1)), hertz(result->worst->offset));
        }
        figure.lowest = std::min(figure.lowest, found.lowest);
        figure.highest = std::max(figure.highest, found.highest);
        figure.shown.push_back({id, result->found});
    }
    if (figure.aside.isEmpty() && !figure.shown.empty()) figure.aside = figure.jitterText();
    return figure;
}

FrequencyView PhaseNoiseFigure::view() const
{
    return FrequencyView::of(tile, highest, lowest);
}

QString PhaseNoiseFigure::jitterText() const
{
    if (shown.empty()) return {};
    const PhaseNoise::Value jitter = shown.front().found->jitter(span);
    return QString("%1 rms, %2 to %3")
        .arg(text(quantityText(jitter.value, "s", jitter.uncertainty)), hertz(span.from), hertz(span.to));
}

FunctionPlot PhaseNoiseFigure::levels() const
{
    FunctionPlot plot;
    plot.x = view().scale();
    double low = floor.value_or(INFINITY), high = -INFINITY;
    std::vector<Curve> curves;
    for (std::size_t i = 0; i < shown.size(); ++i) {
        curves.push_back(curveOf(shown[i].found->curve(plot.x.low, plot.x.high, mostPoints), int(i)));
        for (const double level : curves.back().y) low = std::min(low, level), high = std::max(high, level);
    }
    const PhaseNoise &first = *shown.front().found;
    for (const PhaseNoise::Line &line : first.lines) high = std::max(high, line.level);
    for (const double level : limitLevels) low = std::min(low, level), high = std::max(high, level);
    if (!(low <= high)) low = -160, high = -60;
    plot.y = {10 * std::floor(low / 10 - 0.3), 10 * std::ceil(high / 10 + 0.3), levelUnit};
    if (floor) {
        Curve own{{plot.x.low, plot.x.high}, {*floor, *floor}, -1, Curve::As::dashes};
        own.faint = true;
        plot.curves.push_back(std::move(own));
    }
    for (const bool counted : {false, true}) { // lines stand up from the curve
        Curve needles, tops;
        needles.ink = tops.ink = counted ? 0 : -1;
        needles.faint = tops.faint = !counted;
        tops.as = Curve::As::points;
        for (const PhaseNoise::Line &line : first.lines) {
            if (span.counts(line.offset) != counted || line.offset < plot.x.low || line.offset > plot.x.high) continue;
            const auto base = first.at(line.offset);
            needles.x.insert(needles.x.end(), {line.offset, line.offset, line.offset});
            needles.y.insert(needles.y.end(), {base ? base->value : plot.y.low, line.level, NAN});
            tops.x.push_back(line.offset);
            tops.y.push_back(line.level);
        }
        if (tops.x.empty()) continue;
        plot.curves.push_back(std::move(needles));
        plot.curves.push_back(std::move(tops));
    }
    if (!limitOffsets.empty()) plot.curves.push_back({limitOffsets, limitLevels, -1});
    for (auto curve = curves.rbegin(); curve != curves.rend(); ++curve) plot.curves.push_back(std::move(*curve));
    plot.rules = {{span.from, "from " + hertz(span.from), true}, {span.to, "to " + hertz(span.to), true}};
    if (chosen && *chosen < first.lines.size()) plot.rules.push_back({first.lines[*chosen].offset, "line"});
    if (pointed) {
        plot.rules.push_back({*pointed, {}});
        plot.words << wordsAt(*pointed);
    }
    std::sort(plot.rules.begin(), plot.rules.end(), [](const auto &a, const auto &b) { return a.x < b.x; });
    plot.words << lines;
    if (shown.size() > 1)
        for (std::size_t i = 0; i < shown.size(); ++i)
            plot.words << QString("%1 · %2").arg(i + 1).arg(text(shown[i].id));
    plot.xLabels = false;
    plot.margins.setBottom(3);
    return plot;
}

FunctionPlot PhaseNoiseFigure::gathered() const
{
    FunctionPlot plot;
    plot.x = view().scale();
    Curve curve = curveOf(shown.front().found->cumulated(span, mostPoints), 0);
    const double most = curve.y.empty() ? 0 : curve.y.back();
    plot.y = {0, most > 0 ? 1.15 * most : 1, "s"};
    plot.curves.push_back(std::move(curve));
    plot.rules = {{span.from, {}, true}, {span.to, {}, true}};
    plot.words << "gathered: " + jitterText();
    plot.margins.setTop(3);
    if (shown.size() > 1) {
        plot.xLabels = false;
        plot.margins.setBottom(3);
    }
    return plot;
}

FunctionPlot PhaseNoiseFigure::differences() const
{
    FunctionPlot plot;
    plot.x = view().scale();
    double most = 3;
    for (std::size_t i = 1; i < shown.size(); ++i) {
        Curve curve;
        curve.ink = int(i);
        for (const PhaseNoise::Point &point : shown[i].found->curve(plot.x.low, plot.x.high, mostPoints / 2)) {
            const auto reference = shown.front().found->at(point.offset);
            const auto its = shown[i].found->at(point.offset);
            curve.x.push_back(point.offset);
            curve.y.push_back(reference && its ? its->value - reference->value : NAN);
            if (reference && its) most = std::max(most, std::abs(curve.y.back()));
        }
        plot.curves.push_back(std::move(curve));
    }
    plot.y = {-1.1 * most, 1.1 * most, "dB"};
    plot.words << QString("less %1").arg(text(shown.front().id));
    plot.margins.setTop(3);
    return plot;
}

std::vector<FunctionPlot> PhaseNoiseFigure::plots() const
{
    std::vector<FunctionPlot> all{levels(), gathered()};
    if (shown.size() > 1) all.push_back(differences());
    return all;
}

std::vector<QRectF> PhaseNoiseFigure::areas(const QRectF &area) const
{
    const double level = (shown.size() > 1 ? 0.54 : 0.68) * area.height(),
                 jitter = shown.size() > 1 ? 0.22 * area.height() : area.height() - level;
    std::vector<QRectF> all{{area.left(), area.top(), area.width(), level},
                            {area.left(), area.top() + level, area.width(), jitter}};
    if (shown.size() > 1)
        all.emplace_back(area.left(), area.top() + level + jitter, area.width(), area.height() - level - jitter);
    return all;
}

double PhaseNoiseFigure::xOf(const QRectF &area, double offset) const
{
    const QRectF plot = FunctionPlot().plotRect(area);
    return plot.left() + view().scale().shareOf(offset) * plot.width();
}

std::optional<double> PhaseNoiseFigure::offsetAt(const QRectF &area, QPointF at) const
{
    const QRectF plot = FunctionPlot().plotRect(area);
    if (shown.empty() || at.x() < plot.left() || at.x() > plot.right() || !area.contains(at)) return {};
    return view().scale().valueAt((at.x() - plot.left()) / plot.width());
}

std::optional<std::size_t> PhaseNoiseFigure::lineAt(const QRectF &area, double x) const
{
    if (shown.empty()) return {};
    constexpr double reach = 6; // pixels
    const auto &its = shown.front().found->lines;
    std::optional<std::size_t> found;
    for (std::size_t i = 0; i < its.size(); ++i) {
        if (std::abs(xOf(area, its[i].offset) - x) > reach) continue;
        if (!found || its[i].level > its[*found].level) found = i;
    }
    return found;
}

std::optional<PhaseNoiseFigure::Grip> PhaseNoiseFigure::gripAt(const QRectF &area, QPointF at) const
{
    if (shown.empty() || !area.contains(at)) return {};
    constexpr double reach = 5; // pixels
    const double from = std::abs(xOf(area, span.from) - at.x()), to = std::abs(xOf(area, span.to) - at.x());
    if (std::min(from, to) > reach) return {};
    return from <= to ? Grip::from : Grip::to;
}

QString PhaseNoiseFigure::wordsAt(double offset) const
{
    QStringList words;
    for (const Shown &one : shown) {
        const auto level = one.found->at(offset);
        words << (level ? text(fixedText(level->value, 1)) : QString("–"));
    }
    const auto level = shown.front().found->at(offset);
    return QString("%1: %2 %3%4")
        .arg(hertz(offset), words.join(" · "), levelUnit,
             level ? QString(" ± %1 dB").arg(text(fixedText(level->uncertainty, 1))) : "");
}

void paintPhaseNoise(QPainter &painter, const QRectF &area, const PhaseNoiseFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) return paintEmpty(painter, area, figure.empty, look);
    const auto plots = figure.plots();
    const auto areas = figure.areas(area);
    for (std::size_t i = 0; i < plots.size(); ++i) paintPlot(painter, areas[i], plots[i], look);
}

} // namespace fulvex
