#include "plan_course.h"

#include "error.h"

#include <algorithm>

namespace fulvex {

std::set<std::string> withoutOf(const PlanEntry &plan, const std::string &step)
{
    std::set<std::string> tests;
    for (const std::string &name : plan.without)
        if (name.starts_with(step + ".")) tests.insert(name.substr(step.size() + 1));
    return tests;
}

SlotFiles filesOf(const AttemptEntry &attempt, const std::filesystem::path &base)
{
    SlotFiles files;
    for (const std::string &capture : attempt.captures) {
        const auto [slot, file] = AttemptEntry::parted(capture);
        files[slot].push_back((base / file).lexically_normal().string());
    }
    return files;
}

const AttemptEntry *newestAttempt(const Document &document, const std::string &plan, const std::string &step)
{
    const auto &all = document.attempts;
    const auto newest = std::find_if(all.rbegin(), all.rend(),
                                     [&](const AttemptEntry &one) { return one.plan == plan && one.step == step; });
    return newest == all.rend() ? nullptr : &*newest;
}

StepOutcome courseOf(const Document &document, const std::string &id, const Plan &plan, const PlanStep &step,
                     const std::filesystem::path &base, const StepOutcome *found)
{
    const PlanEntry *entry = findEntry(document.plans, id);
    const AttemptEntry *newest = newestAttempt(document, id, step.id);
    StepOutcome outcome = openStep(plan, step, newest ? filesOf(*newest, base) : SlotFiles(),
                                   entry ? withoutOf(*entry, step.id) : std::set<std::string>());
    if (!entry) return outcome;
    if (const auto why = entry->skipped.find(step.id); why != entry->skipped.end()) {
        outcome.state = StepOutcome::State::skipped;
        outcome.reason = why->second;
        return outcome;
    }
    return newest && found ? *found : outcome;
}

std::vector<StepOutcome> workedDown(const Plan &plan, const std::filesystem::path &folder, const Document &document,
                                    const PlanEntry &entry, const std::filesystem::path &base, Engine &engine,
                                    Progress &progress)
{
    std::vector<StepOutcome> steps;
    for (const PlanStep &step : plan.steps) {
        const AttemptEntry *newest = newestAttempt(document, entry.id, step.id);
        if (!newest || entry.skipped.contains(step.id)) {
            steps.push_back(courseOf(document, entry.id, plan, step, base, nullptr));
            continue;
        }
        try {
            steps.push_back(
                doStep(plan, step, filesOf(*newest, base), folder, withoutOf(entry, step.id), engine, progress));
        } catch (const Error &error) {
            throw error.within(entry.file + ": step " + step.id);
        }
    }
    return steps;
}

Document projectOf(const Plan &plan, const std::string &file)
{
    Document document;
    document.title = plan.title;
    SheetEntry sheet;
    sheet.id = plan.id == "plan_sheet" ? "sheet_of_plan" : "plan_sheet";
    sheet.title = "Plan";
    sheet.tiles.push_back({.kind = "plan", .of = {plan.id}});
    document.sheets.push_back(sheet);
    document.plans.push_back({plan.id, file, {}, {}});
    nameTiles(document);
    return document;
}

} // namespace fulvex
