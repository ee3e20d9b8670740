#pragma once

#include "plan_run.h"

namespace fulvex {

/// Tests of a step that a project does not want run.
std::set<std::string> withoutOf(const PlanEntry &plan, const std::string &step);
/// The files of an attempt's slots, as they lie on disk.
SlotFiles filesOf(const AttemptEntry &attempt, const std::filesystem::path &base);
/// The newest attempt at a step of a project's plan, or null.
const AttemptEntry *newestAttempt(const Document &document, const std::string &plan, const std::string &step);

/// What became of a step in a project, as far as is known: skipped, or open, or what `found` (of its newest attempt)
/// says; null: nothing is known of that yet.
StepOutcome courseOf(const Document &document, const std::string &plan, const PlanStep &step,
                     const std::filesystem::path &base, const StepOutcome *found);

/// Reads a plan of a project and does the newest attempt at each of its steps now. Throws Error where the plan cannot
/// be read, or a setup not be used; Cancelled.
struct PlanCourse {
    std::shared_ptr<const Plan> plan;
    std::vector<StepOutcome> steps; ///< in the plan's order
};
PlanCourse workedDown(const Document &document, const PlanEntry &entry, const std::filesystem::path &base,
                      Engine &engine, Progress &progress);

} // namespace fulvex
