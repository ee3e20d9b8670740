#include "budget_plot.h"

#include "budget_figure.h"
#include "line_strength.h"
#include "normal_distribution.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fulvex {

namespace {

using Curve = FunctionPlot::Curve;
constexpr int pointsOfCurve = 160;
constexpr int inkOfData = 0, inkOfRandom = -1, inkOfOpening = 1, inkOfLine = 1;

double lowestRatio(double ratio)
{
    return std::min(ratio / 100, 1e-9);
}

void mirror(Curve &curve)
{
    for (double &x : curve.x) x = 1 - x;
    std::reverse(curve.x.begin(), curve.x.end());
    std::reverse(curve.y.begin(), curve.y.end());
}

/// What of the edges lies beyond instants, s, later or earlier: counted down to one of them, bin by bin. Along the left
/// half of the unit interval.
Curve counted(const AmplitudeHistogram &errors, bool late, double unitInterval)
{
    Curve curve;
    curve.ink = inkOfRandom;
    const double all = errors.count();
    double beyond = 0, told = 0;
    for (std::size_t i = 0; i < errors.bins.size(); ++i) {
        const std::size_t at = late ? errors.bins.size() - 1 - i : i;
        beyond += errors.bins[at].count;
        const double border = errors.grid.low() + double(late ? at : at + 1) * errors.grid.width();
        const double place = (late ? border : -border) / unitInterval;
        constexpr double apart = 1.03; // points that are nearer are one
        if (place < 0 || place > 0.5 || beyond < apart * told || beyond == 0) continue;
        told = beyond;
        curve.x.push_back(place);
        curve.y.push_back(beyond / all);
    }
    std::reverse(curve.x.begin(), curve.x.end());
    std::reverse(curve.y.begin(), curve.y.end());
    return curve;
}

Curve modelled(const BudgetDrawing::From &from, double random, bool late, Curve::As as, bool faint)
{
    Curve curve;
    curve.ink = faint ? inkOfData : inkOfRandom;
    curve.as = as;
    curve.faint = faint;
    const double unitInterval = from.found->edges.unitInterval;
    const auto [latest, earliest] = from.bounded->limits(lowestRatio(from.ratio), random);
    const double reach = std::min(0.5 * unitInterval, late ? latest : -earliest);
    for (int i = 0; i < pointsOfCurve && reach > 0; ++i) {
        const double at = reach * double(i) / (pointsOfCurve - 1);
        const double ratio = late ? from.bounded->laterThan(at, random) : from.bounded->earlierThan(-at, random);
        if (!(ratio > 0)) break;
        curve.x.push_back(at / unitInterval);
        curve.y.push_back(ratio);
    }
    return curve;
}

void addBoth(FunctionPlot &plot, Curve left, Curve right)
{
    mirror(right);
    if (!left.x.empty()) plot.curves.push_back(std::move(left));
    if (!right.x.empty()) plot.curves.push_back(std::move(right));
}

FunctionPlot bathtub(const BudgetDrawing::From &from)
{
    FunctionPlot plot;
    plot.x = {0, 1, "UI"};
    plot.y = {lowestRatio(from.ratio), 1, "", true};
    for (const double side : {-2.0, 2.0}) { // as far as the random part is certain
        const double random = from.random + side * from.randomUncertainty;
        if (random > 0)
            addBoth(plot, modelled(from, random, true, Curve::As::line, true),
                    modelled(from, random, false, Curve::As::line, true));
    }
    addBoth(plot, modelled(from, from.random, true, Curve::As::dashes, false),
            modelled(from, from.random, false, Curve::As::dashes, false));
    if (from.counted) {
        const AmplitudeHistogram errors = spreadOf(*from.found).errors;
        const double unitInterval = from.found->edges.unitInterval;
        addBoth(plot, counted(errors, true, unitInterval), counted(errors, false, unitInterval));
    }
    return plot;
}

FunctionPlot histogram(const BudgetDrawing::From &from)
{
    const AmplitudeHistogram errors = spreadOf(*from.found).errors;
    const double edges = errors.count();
    // Each of as many bins: of ten or eleven in turn they would be a comb.
    const double wanted = std::clamp(2 * std::cbrt(edges), 16.0, 96.0), most = std::max(errors.most, -errors.least);
    const double width = std::ceil(2 * most / wanted / errors.grid.width()) * errors.grid.width();
    const double half = std::max(1.0, std::ceil(most / width)), reach = half * width;
    FunctionPlot plot;
    plot.x = {-reach, reach, "s"};
    plot.bars.emplace();
    plot.bars->heights.resize(2 * std::size_t(half));
    plot.bars->ink = 3;
    for (std::size_t i = 0; i < errors.bins.size(); ++i) {
        const double middle = errors.grid.low() + (double(i) + 0.5) * errors.grid.width();
        const double at = std::clamp((middle + reach) / width, 0.0, 2 * half - 1);
        plot.bars->heights[std::size_t(at)] += errors.bins[i].count;
    }
    const double highest = *std::max_element(plot.bars->heights.begin(), plot.bars->heights.end());
    plot.y = {0, 1.12 * highest, ""};
    plot.yLabels = false;
    const double all = edges * width;
    Curve joined, random;
    joined.ink = inkOfData;
    random.ink = inkOfRandom;
    joined.as = Curve::As::dashes;
    for (int i = 0; i < pointsOfCurve && from.random > 0; ++i) {
        const double at = reach * (2.0 * i / (pointsOfCurve - 1) - 1), q = at / from.random;
        joined.x.push_back(at);
        joined.y.push_back(all * from.bounded->density(at, from.random));
        random.x.push_back(at);
        random.y.push_back(std::min(1.12 * highest, highest * std::exp(-q * q / 2)));
    }
    if (!joined.x.empty()) plot.curves = {std::move(random), std::move(joined)};
    return plot;
}

FunctionPlot tails(const BudgetDrawing::From &from)
{
    const AmplitudeHistogram rest = spreadOf(*from.found).rest;
    const double all = rest.count();
    FunctionPlot plot;
    constexpr double deepest = 5.5;
    const double reach = std::max(rest.most, -rest.least);
    plot.x = {-1.15 * reach, 1.15 * reach, "s"};
    plot.y = {-deepest, 0, ""};
    Curve early, late, fitEarly, fitLate;
    for (Curve *dots : {&early, &late}) dots->as = Curve::As::points, dots->ink = 3;
    for (Curve *fit : {&fitEarly, &fitLate}) fit->as = Curve::As::dashes, fit->ink = inkOfRandom;
    /// From one of them up to half, at places that are as far apart as dots are.
    const auto count = [&](bool ofLate, Curve &dots) {
        double beyond = 0, told = -2 * deepest;
        for (std::size_t i = 0; i < rest.bins.size() && 2 * beyond < all; ++i) {
            const std::size_t at = ofLate ? rest.bins.size() - 1 - i : i;
            const AmplitudeHistogram::Bin &bin = rest.bins[at];
            if (bin.count == 0) continue;
            beyond += bin.count;
            const double q = -normalQuantile((beyond - bin.count / 2) / all);
            constexpr double apart = 0.06;
            if (q < told + apart || q > 0) continue;
            told = q;
            dots.x.push_back(bin.sum / bin.count);
            dots.y.push_back(q);
        }
    };
    count(false, early);
    count(true, late);
    std::reverse(late.x.begin(), late.x.end());
    std::reverse(late.y.begin(), late.y.end());
    for (int i = 0; i < pointsOfCurve && from.random > 0; ++i) {
        const double at = 1.15 * reach * double(i) / (pointsOfCurve - 1);
        const double beyond =
            (normalTail((at - from.apart / 2) / from.random) + normalTail((at + from.apart / 2) / from.random)) / 2;
        const double q = -normalQuantile(beyond);
        if (q < -deepest || beyond > 0.5) continue;
        fitLate.x.push_back(at);
        fitLate.y.push_back(q);
        fitEarly.x.insert(fitEarly.x.begin(), -at);
        fitEarly.y.insert(fitEarly.y.begin(), q);
    }
    plot.curves = {std::move(fitEarly), std::move(fitLate), std::move(early), std::move(late)};
    return plot;
}

FunctionPlot pattern(const BudgetDrawing::From &from)
{
    const DataDependence &data = from.found->data;
    FunctionPlot plot;
    double reach = 1e-18;
    for (const DataDependence::Group &group : data.groups) reach = std::max(reach, std::abs(group.mean));
    const bool repeats = data.pattern > 0;
    const std::size_t all = repeats ? std::size_t(data.pattern) : data.groups.size();
    plot.x = {0, double(all), ""};
    plot.y = {-1.1 * reach, 1.1 * reach, "s"};
    // Needles, as many as can be told apart; of more edges the farthest off.
    constexpr std::size_t most = 600;
    std::vector<double> needles(std::min(all, most));
    for (std::size_t i = 0; i < data.groups.size(); ++i) {
        const std::size_t place = repeats ? std::size_t(data.groups[i].place) : i;
        double &needle = needles[std::min(needles.size() - 1, place * needles.size() / all)];
        if (std::abs(data.groups[i].mean) > std::abs(needle)) needle = data.groups[i].mean;
    }
    Curve curve;
    curve.ink = inkOfData;
    for (std::size_t i = 0; i < needles.size(); ++i) {
        const double at = (double(i) + 0.5) / double(needles.size()) * double(all);
        curve.x.insert(curve.x.end(), {at, at, at});
        curve.y.insert(curve.y.end(), {0, needles[i], 0});
    }
    plot.curves.push_back(std::move(curve));
    return plot;
}

FunctionPlot strength(const BudgetDrawing::From &from)
{
    const JitterEdges &edges = from.found->edges;
    const PeriodicLine &line = from.found->lines[from.line];
    Progress none;
    std::vector<double> errors(from.found->rest.begin(), from.found->rest.end());
    const RawVector<float> its = linesAt({line}, edges, none);
    for (std::size_t i = 0; i < errors.size(); ++i) errors[i] += double(its[i]);
    constexpr std::size_t parts = 120;
    Curve along, dots;
    along.ink = dots.ink = inkOfLine;
    dots.as = Curve::As::points;
    double most = line.peakToPeak();
    for (const LineStrength &part : lineStrength(edges, errors, line.frequency, parts, none)) {
        along.x.push_back(from.begin + (part.from + part.to) / 2 * edges.unitInterval);
        along.y.push_back(2 * part.amplitude);
        most = std::max(most, along.y.back());
    }
    FunctionPlot plot;
    plot.x = timeAxis(from.begin, from.begin + double(edges.unitIntervals()) * edges.unitInterval);
    plot.y = {0, 1.2 * most, "s"};
    Curve mean{{plot.x.low, plot.x.high}, {line.peakToPeak(), line.peakToPeak()}, inkOfRandom, Curve::As::dashes};
    mean.faint = true;
    dots.x = along.x;
    dots.y = along.y;
    plot.curves = {std::move(mean), std::move(along), std::move(dots)};
    return plot;
}

QString asideOf(const BudgetPlotFigure &figure)
{
    const BudgetResult &result = *figure.result;
    const auto seconds = [](double value) { return text(quantityText(value, "s", {}, 3)); };
    switch (figure.what) {
    case BudgetPlot::bathtub:
        return figure.openingAt(result.budget.ratio);
    case BudgetPlot::histogram:
        return QString("%1 edges · solid: random · dashed: all").arg(result.found->count);
    case BudgetPlot::tails:
        return result.tails ? QString("%1 rms, by spectrum %2")
                                  .arg(seconds(result.tails->fit.random), seconds(result.found->random))
                            : QString("too few edges for tails");
    case BudgetPlot::strength: {
        const PeriodicLine &line = result.found->lines[figure.line];
        return QString("%1 · dashed: %2 pp over all")
            .arg(text(quantityText(line.frequency, "Hz", {}, 4)), seconds(line.peakToPeak()));
    }
    case BudgetPlot::pattern:
        break;
    }
    return QString("mean at each %1 · %2 pp")
        .arg(result.found->data.pattern > 0 ? "edge" : "history", seconds(result.found->data.peakToPeak));
}

} // namespace

std::optional<BudgetPlot> budgetPlotOf(const std::string &kind)
{
    if (kind == "bathtub") return BudgetPlot::bathtub;
    if (kind == "jitter_histogram") return BudgetPlot::histogram;
    if (kind == "jitter_tails") return BudgetPlot::tails;
    if (kind == "jitter_pattern") return BudgetPlot::pattern;
    if (kind == "line_strength") return BudgetPlot::strength;
    return {};
}

BudgetDrawing BudgetDrawing::of(const From &from)
{
    const auto plot = [&] {
        switch (from.what) {
        case BudgetPlot::bathtub:
            return bathtub(from);
        case BudgetPlot::histogram:
            return histogram(from);
        case BudgetPlot::tails:
            return tails(from);
        case BudgetPlot::strength:
            return strength(from);
        case BudgetPlot::pattern:
            break;
        }
        return pattern(from);
    };
    return {from, plot()};
}

BudgetPlotFigure budgetPlotFigure(const Results &results, const std::string &id, BudgetPlot what)
{
    BudgetPlotFigure figure;
    figure.id = id;
    figure.what = what;
    const BudgetResult *result = drawableBudget(results, id, figure.title, figure.empty);
    if (!result) return figure;
    if (what == BudgetPlot::strength && result->found->lines.empty()) {
        figure.empty = "No line stands out of what is left of the errors.";
        return figure;
    }
    if (what == BudgetPlot::strength && !result->by) {
        figure.empty = "A line's strength along the record is of one capture.";
        return figure;
    }
    figure.result = std::make_shared<const BudgetResult>(*result);
    figure.aside = asideOf(figure);
    return figure;
}

void BudgetPlotFigure::chooseLine(std::optional<std::size_t> part)
{
    if (!result || what != BudgetPlot::strength) return;
    const auto &parts = result->budget.parts;
    line = part && *part < parts.size() && parts[*part].kind == JitterBudget::Part::Kind::line ? parts[*part].line : 0;
    aside = asideOf(*this);
}

std::optional<BudgetDrawing::From> BudgetPlotFigure::drawingFrom() const
{
    if (!result) return {};
    const JitterBudget &budget = result->budget;
    BudgetDrawing::From from{what, result->found, budget.bounded, budget.random, result->found->randomUncertainty,
                             0,    budget.ratio};
    from.counted = std::none_of(budget.parts.begin(), budget.parts.end(),
                                [](const JitterBudget::Part &part) { return part.leftOut; });
    from.line = line;
    if (result->by)
        from.begin = result->by->map.axis().timeOf(result->by->map.positionOf(double(result->found->edges.first)));
    if (result->tails && (result->byTails || what == BudgetPlot::tails)) {
        from.random = result->tails->fit.random;
        from.randomUncertainty = result->tails->fit.uncertainty();
        from.apart = result->tails->fit.apart;
    }
    return from;
}

void BudgetPlotFigure::take(std::shared_ptr<const BudgetDrawing> made)
{
    if (made && result && made->from.what == what) drawing = std::move(made);
}

QString BudgetPlotFigure::openingAt(double errorRatio) const
{
    if (!result) return {};
    const JitterBudget &budget = result->budget;
    const double eaten = errorRatio == budget.ratio ? budget.total : budget.bounded->totalAt(errorRatio, budget.random);
    const double open = std::max(0.0, budget.unitInterval - eaten);
    return QString("open %1, %2 UI, at %3")
        .arg(text(quantityText(open, "s", {}, 4)), text(fixedText(open / budget.unitInterval, 3)),
             ratioText(errorRatio));
}

std::optional<double> BudgetPlotFigure::ratioAt(const QRectF &area, double y) const
{
    if (!result || what != BudgetPlot::bathtub) return {};
    const QRectF where = FunctionPlot().plotRect(area);
    if (y < where.top() || y > where.bottom()) return {};
    return AxisScale{lowestRatio(result->budget.ratio), 1, "", true}.valueAt((where.bottom() - y) / where.height());
}

FunctionPlot BudgetPlotFigure::plot() const
{
    FunctionPlot shown = drawing->plot;
    if (what != BudgetPlot::bathtub) return shown;
    const JitterBudget &budget = result->budget;
    const double at = ratio.value_or(budget.ratio);
    const auto [latest, earliest] = budget.bounded->limits(at, budget.random);
    Curve opening;
    opening.ink = inkOfOpening;
    opening.x = {latest / budget.unitInterval, 1 + earliest / budget.unitInterval};
    opening.y = {at, at};
    if (opening.x[0] < opening.x[1]) shown.curves.push_back(std::move(opening));
    if (ratio) shown.words << openingAt(*ratio);
    return shown;
}

void paintBudgetPlot(QPainter &painter, const QRectF &area, const BudgetPlotFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else if (!figure.drawing)
        paintEmpty(painter, area, "Counting edges…", look);
    else
        paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
