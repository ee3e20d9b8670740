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

StepOutcome courseOf(const Document &document, const std::string &plan, const PlanStep &step,
                     const std::filesystem::path &base, const StepOutcome *found)
{
    const PlanEntry *entry = findEntry(document.plans, plan);
    const AttemptEntry *newest = newestAttempt(document, plan, step.id);
    StepOutcome outcome = openStep(step, newest ? filesOf(*newest, base) : SlotFiles(),
                                   entry ? withoutOf(*entry, step.id) : std::set<std::string>());
    if (!entry) return outcome;
    if (const auto why = entry->skipped.find(step.id); why != entry->skipped.end()) {
        outcome.state = StepOutcome::State::skipped;
        outcome.reason = why->second;
        return outcome;
    }
    return newest && found ? *found : outcome;
}

PlanCourse workedDown(const Document &document, const PlanEntry &entry, const std::filesystem::path &base,
                      Engine &engine, Progress &progress)
{
    const std::filesystem::path file = (base / entry.file).lexically_normal();
    PlanCourse course{std::make_shared<const Plan>(loadPlan(file)), {}};
    for (const PlanStep &step : course.plan->steps) {
        const AttemptEntry *newest = newestAttempt(document, entry.id, step.id);
        if (!newest || entry.skipped.contains(step.id)) {
            course.steps.push_back(courseOf(document, entry.id, step, base, nullptr));
            continue;
        }
        try {
            course.steps.push_back(doStep(*course.plan, step, filesOf(*newest, base), file.parent_path(),
                                          withoutOf(entry, step.id), engine, progress));
        } catch (const Error &error) {
            throw error.within(entry.file + ": step " + step.id);
        }
    }
    return course;
}

} // namespace fulvex
