#include "budget_figure.h"
#include "budget_plot.h"
#include "phase_noise_figure.h"
#include "report_plots.h"
#include "stability_figure.h"

namespace fulvex {

namespace {

constexpr QSizeF plotSize(400, 150);

QString sentences(const std::vector<std::string> &remarks)
{
    QString all;
    for (const std::string &remark : remarks) all += " " + text(remark);
    return all;
}

void addBudget(ReportContent &content, const Results &results, const BudgetResult &result, Progress &progress)
{
    const Look &look = Look::light();
    const BudgetFigure figure = budgetFigure(results, result.id, look);
    if (!figure.empty.isEmpty()) return;
    content.figures.push_back({"Jitter budget " + text(result.id) + ": " + figure.title + ", " + figure.facts + ", " +
                                   figure.verdict + "." + sentences(result.remarks),
                               QSizeF(400, 130), [figure, &look](QPainter &painter, const QRectF &area) {
                                   paintBudget(painter, area, figure, look);
                               }});
    for (const auto &[what, words] : {std::pair(BudgetPlot::bathtub, "Bathtub (dashed: the model)"),
                                      {BudgetPlot::histogram, "Histogram of the errors"},
                                      {BudgetPlot::tails, "Tails of what is neither data nor line"},
                                      {BudgetPlot::pattern, "What data do"},
                                      {BudgetPlot::strength, "The strongest line along the record"}}) {
        BudgetPlotFigure plot = budgetPlotFigure(results, result.id, what);
        if (const auto from = plot.drawingFrom())
            plot.take(std::make_shared<const BudgetDrawing>(BudgetDrawing::of(*from)));
        if (!plot.drawing) continue;
        content.figures.push_back(plotted(QString(words) + ", budget " + text(result.id) + ": " + plot.aside, plotSize,
                                          plot.plot(), progress));
    }
}

/// As the first tile shows it that begins with it, with what that lays over it.
TileEntry shownTile(const Document &document, const std::string &id)
{
    for (const SheetEntry &sheet : document.sheets)
        for (const TileEntry &tile : sheet.tiles)
            if (tile.kind == "phase_noise" && !tile.of.empty() && tile.of.front() == id) return tile;
    TileEntry tile;
    tile.kind = "phase_noise";
    tile.of = {id};
    return tile;
}

void addPhaseNoise(ReportContent &content, const Results &results, const PhaseNoiseResult &result, Progress &progress)
{
    const PhaseNoiseFigure figure = phaseNoiseFigure(results, shownTile(*results.document, result.id));
    if (!figure.empty.isEmpty()) return;
    QString caption =
        "Phase noise " + text(result.id) + ": " + figure.title + ", " + figure.facts + ", " + figure.jitterText();
    if (result.worst) caption += ", " + figure.aside;
    content.figures.push_back(plottedTogether(
        caption + "." + sentences(result.remarks), QSizeF(400, 240), figure.plots(),
        [figure](const QRectF &area) { return figure.areas(area); }, progress));
    for (const auto what : {StabilityPlot::accumulated, StabilityPlot::deviations}) {
        const StabilityFigure stability = stabilityFigure(results, result.id, what);
        if (!stability.empty.isEmpty() || !stability.stability) continue;
        const QString words = what == StabilityPlot::accumulated ? "Accumulated jitter" : "Time and Allan deviation";
        content.figures.push_back(plottedTogether(
            words + ", phase noise " + text(result.id) + ": " + stability.wordsAt(), QSizeF(400, 170),
            stability.plots(), [stability](const QRectF &area) { return stability.areas(area); }, progress));
    }
}

} // namespace

void addJitter(ReportContent &content, const Results &results, Progress &progress)
{
    for (const BudgetResult &result : results.budgets) addBudget(content, results, result, progress);
    for (const PhaseNoiseResult &result : results.phaseNoise) addPhaseNoise(content, results, result, progress);
}

} // namespace fulvex
