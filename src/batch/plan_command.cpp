#include "plan_command.h"

#include "atomic_file.h"
#include "capture_runs.h"
#include "error.h"
#include "fingerprint.h"
#include "moved_captures.h"
#include "plain_text.h"
#include "plan_course.h"
#include "plan_json.h"
#include "program_folders.h"
#include "progress_bar.h"
#include "report_files.h"
#include "results_json.h"
#include "word_list.h"

#include <cstdio>
#include <unistd.h>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

/// What is asked for, checked against the plan before any time is spent.
struct Wanted {
    SlotFiles files;
    std::map<std::string, std::string> skipped;           ///< reasons by step
    std::map<std::string, std::set<std::string>> without; ///< tests by step
};

Wanted wantedOf(const PlanCommand &command, const Plan &plan)
{
    Wanted wanted;
    for (const std::string &setting : command.captures) {
        const auto [slot, file] = splitAt(setting, "--capture");
        if (!plan.stepOf(slot)) {
            std::string known;
            for (const PlanStep &step : plan.steps)
                for (const PlanSlot &one : step.captures) enlist(known, one.id);
            throw Error("--capture " + setting, "the plan has no capture \"" + slot + "\"", "it has " + known);
        }
        std::error_code failure;
        if (!fs::exists(file, failure)) throw Error(file, "is not there", "see --capture " + slot);
        wanted.files[slot].push_back(fs::path(absoluteFile(file)).lexically_normal());
    }
    for (const std::string &setting : command.skipped) {
        const auto [step, reason] = splitAt(setting, "--skip");
        if (!plan.step(step))
            throw Error("--skip " + setting, "the plan has no step \"" + step + "\"", "see its steps");
        wanted.skipped[step] = reason;
    }
    for (const std::string &name : command.without) {
        const std::size_t dot = name.find('.');
        const PlanStep *step = plan.step(name.substr(0, dot));
        if (dot == std::string::npos || !step || !findEntry(step->tests, name.substr(dot + 1)))
            throw Error("--without " + name, "the plan has no such test", "write STEP.TEST, as in the plan");
        wanted.without[step->id].insert(name.substr(dot + 1));
    }
    return wanted;
}

/// The project that this is in the window: an attempt at each step that has captures.
Document projectOf(const PlanCommand &command, const Plan &plan, const Wanted &wanted,
                   const std::vector<StepOutcome> &steps)
{
    const fs::path out = fs::absolute(command.out).lexically_normal();
    const auto kept = [&](const fs::path &file) { return keptPath(fs::absolute(file).lexically_normal(), out); };
    Document document = projectOf(plan, kept(command.plan));
    PlanEntry &entry = document.plans.front();
    entry.skipped = wanted.skipped;
    for (const auto &[step, tests] : wanted.without)
        for (const std::string &test : tests) entry.without.push_back(step + "." + test);
    for (const PlanStep &step : plan.steps) {
        AttemptEntry attempt{freeId(document, "attempt_" + step.id), plan.id, step.id, utcNow(), {}, {}, {}};
        for (const PlanSlot &slot : step.captures)
            if (const auto files = wanted.files.find(slot.id); files != wanted.files.end())
                for (const std::string &file : files->second) attempt.captures.push_back(slot.id + "=" + kept(file));
        if (attempt.captures.empty()) continue;
        rememberFound(attempt, *findEntry(steps, step.id));
        document.attempts.push_back(std::move(attempt));
    }
    return document;
}

} // namespace

int plan(const PlanCommand &command)
{
    const std::string text = readTextFile(command.plan);
    const Plan plan = parsePlan(text, command.plan);
    const Wanted wanted = wantedOf(command, plan);
    makeFolder(command.out, "--out");
    Engine engine(shareFolder() / "masks", 0);
    std::vector<StepOutcome> steps;
    for (const PlanStep &step : plan.steps) {
        const auto without = wanted.without.find(step.id);
        const std::set<std::string> left = without == wanted.without.end() ? std::set<std::string>() : without->second;
        if (const auto skipped = wanted.skipped.find(step.id); skipped != wanted.skipped.end()) {
            steps.push_back(openStep(plan, step, wanted.files, left));
            steps.back().state = StepOutcome::State::skipped;
            steps.back().reason = skipped->second;
            continue;
        }
        Progress progress;
        const ProgressBar bar(progress, !command.quiet && isatty(STDERR_FILENO));
        try {
            steps.push_back(
                doStep(plan, step, wanted.files, fs::path(command.plan).parent_path(), left, engine, progress));
        } catch (const Error &error) {
            throw error.within(command.plan + ": step " + step.id);
        }
    }
    if (!command.out.empty()) {
        Progress progress;
        writePlanReport({plan.id,
                         std::make_shared<const Plan>(plan),
                         steps,
                         sha256(text),
                         fs::path(command.plan).parent_path(),
                         {}},
                        projectOf(command, plan, wanted, steps), command.out, progress);
    }
    if (!command.junit.empty()) writeFileAtomically(command.junit, planJunit(plan, steps));
    if (command.out.empty() && !command.quiet) std::fputs(shownText(planTable(plan, steps), true).c_str(), stdout);
    return verdictOf(steps) == TestVerdict::pass ? 0 : 1;
}

} // namespace fulvex
