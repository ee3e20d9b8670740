// The workbench's reports: what they are made from, and when all of that is known.

#include "atomic_file.h"
#include "report.h"
#include "run_members.h"
#include "workbench.h"

#include <QFileInfo>

namespace fulvex {

static std::vector<ReportedPlan> plansOf(const Workbench &bench)
{
    std::vector<ReportedPlan> plans;
    for (const PlanEntry &entry : bench.document().plans) {
        ReportedPlan plan{entry.id, nullptr, {}, {}, {}, {}};
        if (const PlanState *state = bench.planState(entry.id)) {
            plan.plan = state->plan;
            plan.sha256 = state->sha256;
            plan.folder = state->file.parent_path();
            plan.error = state->error;
        }
        if (plan.plan)
            for (const PlanStep &step : plan.plan->steps) plan.steps.push_back(bench.outcomeOf(entry.id, step));
        plans.push_back(std::move(plan));
    }
    return plans;
}

static std::vector<ReportedComparison> comparisonsOf(const Workbench &bench)
{
    std::vector<ReportedComparison> all;
    for (const ComparisonEntry &entry : bench.document().comparisons) {
        ReportedComparison one{entry.id, nullptr, nullptr, nullptr, {}};
        if (const Compared *known = bench.comparedWith(entry.id)) {
            one.found = known->found;
            one.other = known->other ? known->other->results : nullptr;
            one.own = known->own;
            one.error = known->error;
        }
        all.push_back(std::move(one));
    }
    return all;
}

std::optional<ReportSources> Workbench::reportSources(bool all) const
{
    const std::shared_ptr<const Results> from = all ? (m_run ? m_run->all : nullptr) : sharedResults();
    if (!from || (!all && !upToDate())) return std::nullopt;
    Results shown = *from;
    if (!all) shown.document = std::make_shared<const Document>(documentToSave());
    return ReportSources{session(), std::make_shared<const Results>(std::move(shown)), plansOf(*this),
                         comparisonsOf(*this)};
}

bool Workbench::besideKnown() const
{
    const auto own = hasRun(document()) ? (m_run ? m_run->all : nullptr) : sharedResults();
    for (const ComparisonEntry &entry : document().comparisons) {
        const Compared *known = comparedWith(entry.id);
        if (!known || (known->error.empty() && (!known->other || (own && known->own != own)))) return false;
    }
    for (const PlanEntry &entry : document().plans) {
        const PlanState *state = planState(entry.id);
        if (!state || (!state->plan && state->error.empty())) return false;
        if (!state->plan) continue;
        for (const PlanStep &step : state->plan->steps) {
            const AttemptEntry *newest = newestAttempt(document(), entry.id, step.id);
            if (!newest) continue;
            const auto known = state->attempts.find(newest->id);
            const bool told = known != state->attempts.end() && !known->second.working &&
                              (known->second.outcome || !known->second.error.empty());
            if (!told) return false;
        }
    }
    return true;
}

void Workbench::exportReports(const QStringList &paths, bool all)
{
    const QString name = QFileInfo(paths.front()).fileName();
    const auto write = [this, paths, all] {
        auto sources = reportSources(all);
        if (!sources) return;
        // Of a project that is as it lies on disk the fingerprint is the file's own, as the batch program states it.
        const bool asOnDisk = !all && undoStack().isClean() && !m_project.file()->path.isEmpty();
        m_errands.run([paths, asOnDisk, file = m_project.file(), sources = std::move(*sources)](Progress &progress) {
            const ReportContent content = sources.content(asOnDisk ? file->sha256 : std::string(), progress);
            FileSet files;
            for (const QString &path : paths)
                files.add(path.toStdString())
                    .write(path.endsWith(".html") ? reportHtml(content, progress) : reportPdf(content, progress));
            files.commit();
        });
    };
    const auto onceBesideKnown = [this, name, write] { whenBesideKnown(name, write); };
    all ? onceBesideKnown() : whenUpToDate(name, onceBesideKnown);
}

void Workbench::whenBesideKnown(const QString &what, std::function<void()> act)
{
    if (refusesWhileHeld(what)) return;
    m_forBeside.emplace_back(what, std::move(act));
    wantBeside();
    serveBeside();
}

void Workbench::serveBeside()
{
    if (m_forBeside.empty() || !besideKnown()) return;
    for (const auto &[what, act] : std::exchange(m_forBeside, {})) act();
}

void Workbench::dropBeside()
{
    QStringList names;
    for (const auto &[what, act] : std::exchange(m_forBeside, {})) names << what;
    if (!names.isEmpty())
        emit failed(tr("%1 is not done: another project was opened before all of it was known.").arg(names.join(", ")));
}

} // namespace fulvex
