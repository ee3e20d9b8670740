#include "report_content.h"

#include "fulvex_version.h"
#include "number_text.h"
#include "plan_json.h"
#include "references.h"
#include "report_figures.h"
#include "report_logo.h"
#include "report_parts.h"

#include <algorithm>

namespace fulvex {

namespace {

using Mark = ReportContent::Mark;
using Chapter = ReportContent::Chapter;

void add(Chapter &chapter, ReportFigures figures)
{
    for (ReportContent::Figure &figure : figures) chapter.blocks.emplace_back(std::move(figure));
}

/// "A, B, C and 4 more".
QString listed(const QStringList &all, qsizetype most)
{
    if (all.size() <= most) return all.join("; ");
    return QStringList(all.mid(0, most)).join("; ") + QString(" and %1 more").arg(all.size() - most);
}

/// The verdict over all that is judged, and why.
void judge(ReportContent &content, const std::vector<ReportVerdict> &verdicts)
{
    QStringList failing, undecided;
    int passed = 0, open = 0;
    const ReportVerdict *tightest = nullptr;
    for (const ReportVerdict &one : verdicts) {
        if (one.mark == Mark::pass) {
            ++passed;
            if (one.share && (!tightest || *one.share < *tightest->share)) tightest = &one;
        } else if (one.mark == Mark::fail) {
            const QString measured = one.measured.isEmpty() ? one.word : one.measured;
            const QString limit = one.none ? QString() : ", limit " + one.limit;
            failing << one.what + ", " + (one.why.isEmpty() ? measured + limit : one.why);
        } else if (one.mark == Mark::undecided) {
            QString why = one.why.endsWith('.') ? one.why.chopped(1) : one.why;
            if (!why.isEmpty()) why[0] = why[0].toLower();
            undecided << one.what + (why.isEmpty() ? QString() : " (" + why + ")");
        } else {
            ++open;
        }
    }
    constexpr qsizetype most = 5;
    const qsizetype all = failing.size() + undecided.size() + passed + open;
    if (all == 0) {
        content.word = "No limits";
        content.summary = "Nothing in this project is judged: no limit, mask or plan says what has to hold.";
        return;
    }
    content.verdict = !failing.isEmpty() ? Mark::fail : !undecided.isEmpty() || open > 0 ? Mark::undecided : Mark::pass;
    content.word = !failing.isEmpty() ? "Fails" : !undecided.isEmpty() ? "Not decidable" : open > 0 ? "Open" : "Passes";
    QStringList words;
    if (!failing.isEmpty())
        words << QString("%1 of %2 %3: %4.")
                     .arg(failing.size())
                     .arg(all)
                     .arg(failing.size() == 1 ? "fails" : "fail", listed(failing, most));
    if (!undecided.isEmpty())
        words << QString("%1 not decidable: %2").arg(undecided.size()).arg(listed(undecided, most) + ".");
    if (open > 0) words << QString("%1 open.").arg(open);
    if (passed > 0) {
        QString pass = passed == all ? QString("All %1 pass").arg(passed)
                                     : QString("%1 %2").arg(passed).arg(passed == 1 ? "passes" : "pass");
        if (tightest)
            pass += QString(", the tightest by %1: %2")
                        .arg(text(quantityText(100 * *tightest->share, "%", {}, 2)), tightest->what);
        words << pass + ".";
    }
    content.summary = words.join(" ");
}

void addGlance(ReportContent &content, const ReportMatter &matter)
{
    std::vector<ReportVerdict> all;
    const auto take = [&](std::vector<ReportVerdict> verdicts, ReportContent::Table &table) {
        addVerdicts(table, verdicts);
        for (ReportVerdict &one : verdicts) all.push_back(std::move(one));
    };
    const auto without = [&](const std::string &id) {
        return std::ranges::count(matter.results.document->report.without, id) > 0;
    };
    for (const ReportedPlan &plan : matter.plans) {
        if (!plan.plan || without(plan.id)) continue;
        ReportContent::Table table =
            verdictTable("Tests: " + text(plan.plan->title) +
                         (plan.plan->revision.empty() ? QString() : ", " + text(plan.plan->revision)));
        for (std::size_t i = 0; i < plan.steps.size(); ++i) {
            ReportContent::Row heading = plainRow(QStringList(table.columns.size(), ""));
            heading.cells[0] = QString("%1 %2").arg(i + 1).arg(text(plan.plan->steps[i].title));
            heading.heading = true;
            table.rows.push_back(std::move(heading));
            take(verdictsOf(plan.steps[i]), table);
        }
        content.glance.push_back(std::move(table));
        if (!plan.plan->source.empty()) content.facts << "By " + text(plan.plan->source);
    }
    ReportContent::Table own = verdictTable("Limits and masks");
    take(verdictsOf(matter.results), own);
    if (!own.rows.empty()) content.glance.push_back(std::move(own));
    judge(content, all);
}

/// Eyes, rows, budgets and phase noise that no sheet shows.
void addRest(Chapter &chapter, const Results &results, const std::set<std::string> &without, Progress &progress)
{
    std::set<std::string> shown = without;
    for (const SheetEntry &sheet : results.document->sheets)
        for (const TileEntry &tile : sheet.tiles) shown.insert(tile.of.begin(), tile.of.end());
    const auto isNew = [&](const std::string &id) {
        progress.advance(1);
        return !shown.contains(id);
    };
    for (const EyeResult &eye : results.eyes)
        if (isNew(eye.id)) add(chapter, figuresOfEye(results, eye.id));
    for (const Row &row : results.rows)
        if (isNew(row.id)) add(chapter, figuresOfRow(results, row.id, progress));
    for (const BudgetResult &budget : results.budgets)
        if (isNew(budget.id)) add(chapter, figuresOfBudget(results, budget.id, progress));
    for (const PhaseNoiseResult &noise : results.phaseNoise)
        if (isNew(noise.id)) add(chapter, figuresOfPhaseNoise(results, noise.id, progress));
}

/// How many things figures may be made of.
double figuresAt(const Results &results)
{
    std::size_t count = results.eyes.size() + results.rows.size() + results.budgets.size() + results.phaseNoise.size();
    for (const SheetEntry &sheet : results.document->sheets) count += sheet.tiles.size();
    return double(count);
}

class Chapters {
public:
    Chapters(const ReportMatter &matter, Progress &progress)
        : m_matter(matter), m_progress(progress), m_document(*matter.results.document),
          m_without(m_document.report.without.begin(), m_document.report.without.end())
    {
    }
    std::vector<Chapter> made(const std::string &part) const
    {
        const Results &results = m_matter.results;
        std::vector<Chapter> all;
        if (part == "plans") {
            for (const ReportedPlan &plan : m_matter.plans)
                if (!m_without.contains(plan.id))
                    for (Chapter &step : planChapters(plan, m_progress)) all.push_back(std::move(step));
        } else if (part == "measurements") {
            all.push_back({"Measurements", measurementBlocks(results, m_without)});
        } else if (part == "failures") {
            all.push_back({"The worst failures", failureBlocks(results)});
        } else if (part == "sheets") {
            for (const SheetEntry &sheet : m_document.sheets) {
                if (m_without.contains(sheet.id)) continue;
                Chapter chapter{sheet.title.empty() ? text(sheet.id) : text(sheet.title), {}};
                for (const TileEntry &tile : sheet.tiles) {
                    m_progress.advance(1);
                    add(chapter, figuresOfTile(results, sheet, tile, m_progress));
                }
                all.push_back(std::move(chapter));
            }
        } else if (part == "rest") {
            Chapter chapter{"What no sheet shows", {}};
            addRest(chapter, results, m_without, m_progress);
            all.push_back(std::move(chapter));
        } else if (part == "comparisons") {
            for (const ReportedComparison &comparison : m_matter.comparisons)
                if (!m_without.contains(comparison.id))
                    all.push_back({"Compared with " + (comparison.found ? shortName(comparison.found->firstName)
                                                                        : text(comparison.id)),
                                   comparisonBlocks(comparison, m_progress)});
        } else if (part == "notes") {
            all.push_back({"Notes", noteBlocks(m_document)});
        } else if (part == "making") {
            all.push_back({"How the numbers were made", makingBlocks(results)});
        } else if (part == "captures") {
            all.push_back({"Captures and their checks", captureBlocks(results)});
        }
        return all;
    }

private:
    const ReportMatter &m_matter;
    Progress &m_progress;
    const Document &m_document;
    std::set<std::string> m_without;
};

void addFacts(ReportContent &content, const ReportMatter &matter)
{
    const Document &document = *matter.results.document;
    const DeviceEntry &device = document.device;
    QStringList of;
    if (!device.name.empty()) of << "Device: " + text(device.name);
    if (!device.serial.empty()) of << "serial " + text(device.serial);
    constexpr std::size_t aFew = 60; // letters, that stand behind it
    if (!device.comment.empty() && device.comment.size() < aFew) of << text(device.comment);
    if (!of.isEmpty()) content.facts << of.join(", ");
    if (device.comment.size() >= aFew) content.facts << text(device.comment);
    QStringList by;
    if (!document.report.author.empty()) by << "Measured by " + text(document.report.author);
    if (!document.report.place.empty()) by << text(document.report.place);
    if (!by.isEmpty()) content.facts << by.join(", ");
    content.facts << "Made " + text(matter.facts.made) + " by Fulvex " + fulvexVersion +
                         "; each number can be made again from this file and its captures";
    if (!matter.facts.sha256.empty()) content.facts << "Project SHA-256 " + text(matter.facts.sha256);
}

} // namespace

std::vector<std::string> planRecordsOf(const ReportMatter &matter)
{
    std::vector<std::string> records;
    for (const ReportedPlan &plan : matter.plans)
        if (plan.plan) records.push_back(planRecord(plan.id, *plan.plan, plan.steps, {plan.sha256, matter.facts.made}));
    return records;
}

QString ReportContent::shapeOf(Mark mark)
{
    return mark == Mark::pass ? "✓ " : mark == Mark::fail ? "✕ " : mark == Mark::undecided ? "? " : "";
}

std::size_t ReportContent::figures() const
{
    std::size_t count = 0;
    for (const Chapter &chapter : chapters)
        for (const Block &block : chapter.blocks) count += std::holds_alternative<Figure>(block);
    return count;
}

std::set<std::string> tracesInReport(const Document &document)
{
    std::set<std::string> shown = channelsUnderMasks(document);
    for (const SheetEntry &sheet : document.sheets) {
        for (const TileEntry &tile : sheet.tiles) {
            if (tile.kind == "traces") shown.insert(tile.of.begin(), tile.of.end());
        }
    }
    return shown;
}

ReportContent reportContent(const ReportMatter &matter, Progress &progress)
{
    const Document &document = *matter.results.document;
    ReportContent content;
    content.title = document.title.empty() ? "Untitled project" : text(document.title);
    content.paper = document.report.paper.empty() ? "a4" : document.report.paper;
    content.logo = logoOf(document.report);
    addFacts(content, matter);
    ProjectFacts own = matter.facts;
    own.files.clear(); // it is one file
    own.plans = planRecordsOf(matter);
    content.resultsJson = resultsJson(matter.results, own);
    addGlance(content, matter);
    progress.expect(figuresAt(matter.results));
    const Chapters chapters(matter, progress);
    for (const std::string &part : partsOf(document.report)) {
        for (Chapter &chapter : chapters.made(part))
            if (!chapter.blocks.empty()) content.chapters.push_back(std::move(chapter));
    }
    return content;
}

} // namespace fulvex
