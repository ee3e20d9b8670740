#include "compared_curves_figure.h"
#include "compared_eyes_figure.h"
#include "difference_scale.h"
#include "plan_json.h"
#include "report_figures.h"
#include "report_parts.h"
#include "report_plots.h"
#include "step_picture.h"

#include <algorithm>

namespace fulvex {

namespace {

using Mark = ReportContent::Mark;
using Table = ReportContent::Table;
using Paragraph = ReportContent::Paragraph;

Mark markOf(TestVerdict verdict)
{
    switch (verdict) {
    case TestVerdict::pass:
        return Mark::pass;
    case TestVerdict::fail:
    case TestVerdict::unmeasurable:
        return Mark::fail;
    case TestVerdict::undecidable:
        return Mark::undecided;
    case TestVerdict::open:
        break;
    }
    return Mark::none;
}

Table checksOf(const StepOutcome &step)
{
    Table made;
    made.heading = "Its captures";
    made.columns = {"what", "wanted", "found", ""};
    for (const StepOutcome::Capture &capture : step.captures) {
        ReportContent::Row heading = plainRow({text(capture.slot + ": " + capture.file), "", "", ""});
        heading.heading = true;
        made.rows.push_back(std::move(heading));
        for (const CaptureFit &check : capture.checks) {
            ReportContent::Row row =
                plainRow({text(check.what), text(check.wanted), text(check.found), check.holds ? "holds" : "does not"});
            row.mark = check.holds ? Mark::pass : Mark::fail;
            made.rows.push_back(std::move(row));
        }
    }
    return made;
}

Table testsOf(const PlanStep &step, const StepOutcome &outcome)
{
    Table made = verdictTable({});
    addVerdicts(made, verdictsOf(outcome));
    made.columns.insert(1, "clause");
    made.scales += 1;
    made.numbersFrom += 1;
    for (std::size_t i = 0; i < made.rows.size(); ++i) {
        const PlanTest &test = step.tests[i];
        made.rows[i].cells.insert(1, text(test.condition.empty() ? test.clause : test.clause + ", " + test.condition));
    }
    return made;
}

/// What shows why a test came out as it did.
void addEvidence(ReportBlocks &blocks, const PlanTest &test, const TestOutcome &outcome, const Results &results,
                 std::set<std::string> &shown, Progress &progress)
{
    const auto add = [&](const std::string &id, ReportFigures figures) {
        if (!shown.insert(id).second) return;
        for (ReportContent::Figure &figure : figures) blocks.emplace_back(std::move(figure));
    };
    if (const MaskRun *mask = findEntry(results.masks, test.of)) {
        if (outcome.verdict == TestVerdict::fail && mask->result && !mask->result->worst.empty())
            add(mask->id, figuresOfMoment(results, mask->source, mask->result->worst[0].worstTime, mask->lasts,
                                          "Where the worst failure lies on the trace"));
        add(mask->eye, figuresOfEye(results, mask->eye));
    } else if (findEntry(results.budgets, test.of)) {
        add(test.of, figuresOfBudget(results, test.of, progress));
    } else if (findEntry(results.phaseNoise, test.of)) {
        add(test.of, figuresOfPhaseNoise(results, test.of, progress));
    } else if (outcome.verdict == TestVerdict::fail || outcome.verdict == TestVerdict::undecidable) {
        add(test.of, figuresOfRow(results, test.of, progress));
    }
}

Table settingsTable(const Comparison &comparison)
{
    Table made;
    made.heading = "What is set differently";
    made.columns = {"setting", "of", shortName(comparison.firstName), shortName(comparison.secondName), "behind"};
    if (comparison.firstVersion != comparison.secondVersion)
        made.rows.push_back(
            plainRow({"version", "the program", text(comparison.firstVersion), text(comparison.secondVersion), "all"}));
    for (const SettingDifference &one : comparison.settings) {
        QStringList rows;
        for (const std::string &row : one.rows) rows << text(row);
        made.rows.push_back(
            plainRow({text(one.setting), text(one.of), text(one.first), text(one.second), rows.join(", ")}));
    }
    return made;
}

Table pairsTable(const Comparison &comparison)
{
    Table made;
    made.heading = "The numbers, in units of their uncertainty";
    made.columns = {"quantity", shortName(comparison.firstName), shortName(comparison.secondName), "difference", "",
                    ""};
    made.scales = 4;
    made.numbersFrom = 1;
    std::vector<const Comparison::Pair *> pairs;
    for (const Comparison::Pair &pair : comparison.pairs)
        if (pair.matters || pair.isOther()) pairs.push_back(&pair);
    std::ranges::stable_partition(pairs, [](const Comparison::Pair *pair) { return pair->isOther(); });
    for (const Comparison::Pair *pair : pairs) {
        QString words = pair->verdictDiffers()
                            ? QString(verdictName(pair->first.verdict)) + " → " + verdictName(pair->second.verdict)
                        : pair->differs() ? QString("differs")
                                          : QString("agrees");
        if (pair->isOther() && pair->setDifferently) words += ", set differently";
        ReportContent::Row row = plainRow({text(titleOf(pair->second)), text(comparedText(pair->first)),
                                           text(comparedText(pair->second)), text(differenceText(*pair)), "", words});
        row.mark = pair->isOther() ? Mark::undecided : Mark::none;
        row.scale = [copy = *pair](QPainter &painter, const QRectF &area) {
            DifferenceScale::paint(painter, area, copy, Look::onPaper());
        };
        made.rows.push_back(std::move(row));
    }
    return made;
}

void addPictures(ReportBlocks &blocks, const ReportedComparison &comparison, Progress &progress)
{
    const Look &look = Look::onPaper();
    const QString first = shortName(comparison.found->firstName), second = shortName(comparison.found->secondName);
    for (const EyeResult &eye : comparison.own->eyes) {
        for (const bool difference : {false, true}) {
            ComparedEyesFigure figure =
                comparedEyesFigure(*comparison.other, *comparison.own, eye.id, first, second, difference);
            const auto from = figure.empty.isEmpty() ? figure.drawingFrom(look) : std::nullopt;
            if (!from) continue;
            figure.drawing = std::make_shared<const ComparedEyesDrawing>(ComparedEyesDrawing::of(*from));
            blocks.emplace_back(ReportContent::Figure{
                difference ? "Where one is passed more often than the other: eye " + text(eye.id)
                           : "Both over each other: eye " + text(eye.id),
                figure.facts, QSizeF(456, 240), [figure, &look](QPainter &painter, const QRectF &area) {
                    paintComparedEyes(painter, area, figure, look);
                }});
        }
    }
    std::vector<std::string> curves;
    for (const SpectrumResult &spectrum : comparison.own->spectra) curves.push_back(spectrum.id);
    for (const PhaseNoiseResult &noise : comparison.own->phaseNoise) curves.push_back(noise.id);
    for (const std::string &id : curves) {
        constexpr QSizeF size(456, 160);
        ComparedCurvesFigure figure =
            comparedCurvesFigure(*comparison.other, *comparison.own, TileEntry{}, id, first, second);
        const auto from = figure.empty.isEmpty() ? figure.drawingFrom(2 * size.width()) : std::nullopt;
        if (!from) continue;
        figure.drawing = std::make_shared<const ComparedCurvesDrawing>(ComparedCurvesDrawing::of(*from));
        blocks.emplace_back(plotted(figure.title + " of both", size, figure.levels(), progress));
        std::get<ReportContent::Figure>(blocks.back()).see = figure.aside();
        blocks.emplace_back(
            plotted(figure.title + ": " + second + " less " + first, size, figure.difference(), progress));
    }
}

} // namespace

QString shortName(const std::string &file)
{
    return text(std::filesystem::path(file).filename().string());
}

std::vector<ReportVerdict> verdictsOf(const StepOutcome &step)
{
    std::vector<ReportVerdict> all;
    for (const TestOutcome &test : step.tests) {
        ReportVerdict one;
        one.what = text(test.title);
        one.measured = text(measuredText(test));
        one.limit = text(limitText(test));
        one.margin = text(marginText(test));
        one.word = !test.wanted                               ? QString("not wanted")
                   : test.verdict == TestVerdict::undecidable ? QString("not decidable")
                                                              : QString(verdictName(test.verdict));
        one.none = test.ofMask;
        one.mark = markOf(test.verdict);
        one.why = text(test.reason.empty() ? test.advice : test.reason);
        one.share = test.margin;
        if (one.mark != Mark::none && test.verdict != TestVerdict::unmeasurable) one.ruler = rulerOf(test);
        all.push_back(std::move(one));
    }
    return all;
}

/// As wide as the column at most; none where it cannot be read.
static ReportFigures pictureOf(const std::filesystem::path &file)
{
    constexpr QSize largest(912, 500); // pixels, twice as many as are seen
    const QImage image = StepPicture::of({file.string(), largest}).image;
    if (image.isNull()) return {};
    const QSizeF shown = QSizeF(image.size()) / 2;
    return {{"How it is set up",
             {},
             QSizeF(largest.width() / 2, shown.height()),
             [image, shown](QPainter &painter, const QRectF &area) {
                 painter.setRenderHint(QPainter::SmoothPixmapTransform);
                 painter.drawImage(QRectF(area.topLeft(), shown), image);
             }}};
}

/// What was done in a step, what was found, and what shows why.
static ReportBlocks stepBlocks(const PlanStep &step, const StepOutcome &outcome, const std::filesystem::path &folder,
                               Progress &progress)
{
    ReportBlocks blocks;
    if (!step.text.empty()) blocks.emplace_back(Paragraph{text(step.text)});
    if (!step.picture.empty())
        for (ReportContent::Figure &one : pictureOf(folder / step.picture)) blocks.emplace_back(std::move(one));
    if (!step.state.empty())
        blocks.emplace_back(Paragraph{"State of the device: " + text(step.state), Paragraph::As::quiet});
    if (outcome.state != StepOutcome::State::done)
        blocks.emplace_back(Paragraph{QString(stateName(outcome.state)) +
                                      (outcome.reason.empty() ? QString() : ": " + text(outcome.reason))});
    blocks.emplace_back(testsOf(step, outcome));
    for (const TestOutcome &test : outcome.tests) {
        const std::string &why = test.reason.empty() ? test.advice : test.reason;
        if (!why.empty()) blocks.emplace_back(Paragraph{text(test.title + ": " + why)});
    }
    if (outcome.results) {
        std::set<std::string> shown;
        for (std::size_t k = 0; k < outcome.tests.size(); ++k)
            addEvidence(blocks, step.tests[k], outcome.tests[k], *outcome.results, shown, progress);
    }
    blocks.emplace_back(checksOf(outcome));
    return blocks;
}

std::vector<ReportContent::Chapter> planChapters(const ReportedPlan &plan, Progress &progress)
{
    if (!plan.plan)
        return {{"Plan " + text(plan.id),
                 {Paragraph{text(plan.error.empty() ? "The plan was not worked down." : plan.error)}}}};
    std::vector<ReportContent::Chapter> chapters;
    for (std::size_t i = 0; i < plan.plan->steps.size() && i < plan.steps.size(); ++i) {
        const PlanStep &step = plan.plan->steps[i];
        chapters.push_back({QString("%1 %2").arg(i + 1).arg(text(step.title)),
                            stepBlocks(step, plan.steps[i], plan.folder, progress)});
    }
    return chapters;
}

ReportBlocks comparisonBlocks(const ReportedComparison &comparison, Progress &progress)
{
    ReportBlocks blocks;
    if (!comparison.found) {
        blocks.emplace_back(Paragraph{text(comparison.error.empty() ? "It was not read." : comparison.error)});
        return blocks;
    }
    blocks.emplace_back(Paragraph{text(summaryOf(*comparison.found))});
    for (Table table : {settingsTable(*comparison.found), pairsTable(*comparison.found)})
        if (!table.rows.empty()) blocks.emplace_back(std::move(table));
    if (comparison.other && comparison.own) addPictures(blocks, comparison, progress);
    return blocks;
}

} // namespace fulvex
