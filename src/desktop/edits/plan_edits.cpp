#include "plan_edits.h"

#include "atomic_file.h"
#include "axis_painter.h"
#include "error.h"
#include "moved_captures.h"
#include "plan_json.h"
#include "results_json.h"

#include <QFileInfo>
#include <algorithm>

namespace fulvex {

namespace {

/// What a project is measured by becomes another document's; its plans, comparisons and sheets stay, those of the other
/// come behind the first.
void takeSetup(Document &document, Document setup)
{
    setup.title = document.title.empty() ? setup.title : document.title;
    setup.plans = std::move(document.plans);
    setup.attempts = std::move(document.attempts);
    std::erase_if(document.sheets, [&](const SheetEntry &sheet) {
        return std::ranges::none_of(sheet.tiles, [](const TileEntry &tile) { return tile.kind == "plan"; });
    });
    std::vector<SheetEntry> others = std::move(setup.sheets);
    setup.sheets = std::move(document.sheets);
    for (SheetEntry &sheet : others) {
        for (TileEntry &tile : sheet.tiles) tile.id.clear(); // named anew, beside those that are there
        sheet.id = freeId(setup, sheet.id);
        setup.sheets.push_back(std::move(sheet));
    }
    document = std::move(setup);
    nameTiles(document);
}

const PlanState *stateOf(const Workbench &bench, const std::string &plan)
{
    const PlanState *state = bench.planState(plan);
    return state && state->plan ? state : nullptr;
}

AttemptEntry *attemptOf(Document &document, const std::string &id)
{
    return findEntry(document.attempts, id);
}

/// Whether files may still come into an attempt: it is not done.
bool isOpen(const Workbench &bench, const AttemptEntry &attempt)
{
    const PlanState *state = stateOf(bench, attempt.plan);
    if (!state) return true;
    const auto known = state->attempts.find(attempt.id);
    return known == state->attempts.end() || !known->second.outcome ||
           known->second.outcome->state != StepOutcome::State::done;
}

} // namespace

void openPlan(Workbench &bench, const QString &file)
{
    const Plan plan = loadPlan(file.toStdString());
    bench.newProject();
    bench.change(QObject::tr("work down %1").arg(text(plan.title)),
                 [&](Document &document) { document = projectOf(plan, keptPath(file.toStdString(), bench.base())); });
}

void fillSlot(Workbench &bench, const std::string &plan, const std::string &step, const std::string &slot,
              const QStringList &files)
{
    const PlanState *state = stateOf(bench, plan);
    const PlanStep *wanted = state ? state->plan->step(step) : nullptr;
    const PlanSlot *its = wanted ? findEntry(wanted->captures, slot) : nullptr;
    if (!its || files.isEmpty()) return;
    const AttemptEntry *newest = newestAttempt(bench.document(), plan, step);
    const std::string open = newest && isOpen(bench, *newest) ? newest->id : std::string();
    const StepOutcome before = bench.outcomeOf(plan, *wanted);
    const bool refused = before.state == StepOutcome::State::refused;
    bench.change(QObject::tr("captures of %1").arg(text(wanted->title)), [&](Document &document) {
        AttemptEntry *attempt = attemptOf(document, open);
        if (!attempt) {
            document.attempts.push_back({freeId(document, "attempt_" + step), plan, step, {}, {}, {}, {}});
            attempt = &document.attempts.back();
        }
        attempt->when = utcNow();
        attempt->found.clear();
        attempt->sha256.clear();
        const auto isOfSlot = [&](const std::string &capture) { return AttemptEntry::parted(capture).first == slot; };
        // One that wants several takes them one by one, but not beside what was refused.
        const bool adds = its->count > 1 && !refused &&
                          std::ranges::count_if(attempt->captures, isOfSlot) + files.size() <= its->count;
        if (!adds) std::erase_if(attempt->captures, isOfSlot);
        for (const QString &file : files)
            attempt->captures.push_back(slot + "=" + keptPath(file.toStdString(), bench.base()));
        for (PlanEntry &entry : document.plans)
            if (entry.id == plan) entry.skipped.erase(step);
    });
}

void acquireForSlot(Workbench &bench, const std::string &plan, const std::string &step, const PlanSlot &slot,
                    const QString &address)
{
    const PlanState *state = stateOf(bench, plan);
    const PlanStep *its = state ? state->plan->step(step) : nullptr;
    if (!its) return;
    const StepOutcome now = bench.outcomeOf(plan, *its);
    const bool adds = now.state == StepOutcome::State::open;
    const auto there = adds ? std::ranges::count(now.captures, slot.id, &StepOutcome::Capture::slot) : 0;
    bench.acquireInto(
        address, "brackwater", std::size_t(std::max<std::ptrdiff_t>(1, slot.count - there)),
        [&bench, plan, step, id = slot.id](const QString &file) { fillSlot(bench, plan, step, id, {file}); });
}

void repeatStep(Workbench &bench, const std::string &plan, const std::string &step)
{
    bench.change(QObject::tr("repeat %1").arg(text(step)), [&](Document &document) {
        document.attempts.push_back({freeId(document, "attempt_" + step), plan, step, utcNow(), {}, {}, {}});
    });
}

void skipStep(Workbench &bench, const std::string &plan, const std::string &step, const QString &reason)
{
    bench.change(QObject::tr("leave %1 out").arg(text(step)), [&](Document &document) {
        PlanEntry *entry = findEntry(document.plans, plan);
        if (!entry) return;
        if (reason.isEmpty())
            entry->skipped.erase(step);
        else
            entry->skipped[step] = reason.toStdString();
    });
}

void wantTest(Workbench &bench, const std::string &plan, const std::string &step, const std::string &test, bool wanted)
{
    bench.change(QObject::tr("tests of %1").arg(text(step)), [&](Document &document) {
        PlanEntry *entry = findEntry(document.plans, plan);
        if (!entry) return;
        std::erase(entry->without, step + "." + test);
        if (!wanted) entry->without.push_back(step + "." + test);
    });
}

void lookAtStep(Workbench &bench, const std::string &plan, const std::string &step)
{
    const PlanState *state = stateOf(bench, plan);
    const PlanStep *its = state ? state->plan->step(step) : nullptr;
    const AttemptEntry *newest = newestAttempt(bench.document(), plan, step);
    if (!its || !newest) return;
    Document setup = documentOf(*state->plan, *its, filesOf(*newest, bench.base()));
    for (CaptureEntry &capture : setup.captures) {
        capture.file = keptPath(capture.file, bench.base());
        for (std::string &file : capture.run.files) file = keptPath(file, bench.base());
    }
    for (const PlanTest &test : its->tests) // the Ledger shows what is asked of it
        if (MeasurementEntry *row = findEntry(setup.measurements, test.of); row && test.statistic == "mean")
            row->limit = test.limit;
    bench.change(QObject::tr("look at %1").arg(text(its->title)),
                 [&](Document &document) { takeSetup(document, setup); });
}

void exportPlan(Workbench &bench, const std::string &plan, const QString &path)
{
    bench.whenBesideKnown(QFileInfo(path).fileName(), [&bench, plan, path] {
        const PlanState *state = bench.planState(plan);
        if (!state) return; // it was taken out meanwhile
        if (!state->plan) return emit bench.failed(text(state->error));
        std::vector<StepOutcome> steps;
        for (const PlanStep &step : state->plan->steps) steps.push_back(bench.outcomeOf(plan, step));
        bench.errands().run([its = state->plan, sha256 = state->sha256, steps = std::move(steps), path](Progress &) {
            writeFileAtomically(path.toStdString(), planJson(*its, steps, {sha256, utcNow()}));
        });
    });
}

} // namespace fulvex
