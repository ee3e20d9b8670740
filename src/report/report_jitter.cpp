#include "budget_figure.h"
#include "budget_plot.h"
#include "phase_noise_figure.h"
#include "report_figures.h"
#include "report_plots.h"
#include "stability_figure.h"

namespace fulvex {

namespace {

QString sentences(const std::vector<std::string> &remarks)
{
    QString all;
    for (const std::string &remark : remarks) all += (all.isEmpty() ? "" : " ") + text(remark);
    return all;
}

ReportContent::Making makingOfBudget(const Results &results, const std::string &id)
{
    const BudgetEntry *entry = findEntry(results.document->budgets, id);
    return entry ? makingOf(results, entry->clock) : ReportContent::Making();
}

QString titleOf(BudgetPlot what)
{
    switch (what) {
    case BudgetPlot::bathtub:
        return "Bathtub (dashed: the model)";
    case BudgetPlot::histogram:
        return "Histogram of the errors";
    case BudgetPlot::tails:
        return "Tails of what is neither data nor line";
    case BudgetPlot::pattern:
        return "What data do";
    case BudgetPlot::strength:
        return "The strongest line along the record";
    }
    return {};
}

ReportFigures figuresOfPlot(const Results &results, const std::string &budget, BudgetPlot what, Progress &progress)
{
    BudgetPlotFigure plot = budgetPlotFigure(results, budget, what);
    if (const auto from = plot.drawingFrom())
        plot.take(std::make_shared<const BudgetDrawing>(BudgetDrawing::of(*from)));
    if (!plot.drawing) return {};
    ReportContent::Figure made = plotted(titleOf(what) + ", budget " + text(budget), flatFigure, plot.plot(), progress);
    made.see = plot.aside;
    made.making = makingOfBudget(results, budget);
    return {made};
}

ReportFigures budgetAlone(const Results &results, const std::string &id)
{
    const Look &look = Look::onPaper();
    const BudgetResult *result = findEntry(results.budgets, id);
    const BudgetFigure figure = budgetFigure(results, id, look);
    if (!result || !figure.empty.isEmpty()) return {};
    return {{"Jitter budget " + text(id) + ": " + figure.title + ", " + figure.facts,
             figure.verdict + (result->remarks.empty() ? QString() : ". " + sentences(result->remarks)),
             QSizeF(flatFigure.width(), 130),
             [figure, &look](QPainter &painter, const QRectF &area) { paintBudget(painter, area, figure, look); },
             makingOfBudget(results, id)}};
}

ReportFigures phaseNoiseAs(const Results &results, const TileEntry &tile, Progress &progress)
{
    const PhaseNoiseResult *result = findEntry(results.phaseNoise, tile.of.front());
    const PhaseNoiseFigure figure = phaseNoiseFigure(results, tile);
    if (!result || !figure.empty.isEmpty()) return {};
    ReportContent::Figure made = plottedTogether(
        "Phase noise " + text(result->id) + ": " + figure.title + ", " + figure.facts, QSizeF(flatFigure.width(), 260),
        figure.plots(), [figure](const QRectF &area) { return figure.areas(area); }, progress);
    made.see = figure.jitterText() + (result->worst ? ", " + figure.aside : QString()) +
               (result->remarks.empty() ? QString() : ". " + sentences(result->remarks));
    made.making = makingOf(results, result->source);
    return {made};
}

ReportFigures stabilityOf(const Results &results, const std::string &id, StabilityPlot what, Progress &progress)
{
    const StabilityFigure stability = stabilityFigure(results, id, what);
    if (!stability.empty.isEmpty() || !stability.stability) return {};
    const QString words = what == StabilityPlot::accumulated ? "Accumulated jitter" : "Time and Allan deviation";
    ReportContent::Figure made = plottedTogether(
        words + ", phase noise " + text(id), QSizeF(flatFigure.width(), 180), stability.plots(),
        [stability](const QRectF &area) { return stability.areas(area); }, progress);
    made.see = stability.wordsAt();
    return {made};
}

void append(ReportFigures &to, ReportFigures more)
{
    for (ReportContent::Figure &one : more) to.push_back(std::move(one));
}

} // namespace

ReportFigures figuresOfBudget(const Results &results, const std::string &budget, Progress &progress)
{
    ReportFigures all = budgetAlone(results, budget);
    if (all.empty()) return {};
    for (const auto what :
         {BudgetPlot::bathtub, BudgetPlot::histogram, BudgetPlot::tails, BudgetPlot::pattern, BudgetPlot::strength})
        append(all, figuresOfPlot(results, budget, what, progress));
    return all;
}

ReportFigures figuresOfPhaseNoise(const Results &results, const std::string &noise, Progress &progress)
{
    TileEntry tile;
    tile.kind = "phase_noise";
    tile.of = {noise};
    ReportFigures all = phaseNoiseAs(results, tile, progress);
    for (const auto what : {StabilityPlot::accumulated, StabilityPlot::deviations})
        append(all, stabilityOf(results, noise, what, progress));
    return all;
}

ReportFigures figuresOfJitterTile(const Results &results, const TileEntry &tile, Progress &progress)
{
    const std::string &of = tile.of.front();
    if (tile.kind == "budget") return budgetAlone(results, of);
    if (tile.kind == "phase_noise") return phaseNoiseAs(results, tile, progress);
    if (const auto what = budgetPlotOf(tile.kind)) return figuresOfPlot(results, of, *what, progress);
    if (const auto what = stabilityPlotOf(tile.kind)) return stabilityOf(results, of, *what, progress);
    return {};
}

} // namespace fulvex
