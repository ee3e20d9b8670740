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
/// says; null: nothing is known of that yet. `id`: of the plan in the project.
StepOutcome courseOf(const Document &document, const std::string &id, const Plan &plan, const PlanStep &step,
                     const std::filesystem::path &base, const StepOutcome *found);

/// Does the newest attempt at each step of a project's plan now; the steps in the plan's order. `folder`: the plan's.
/// Throws Error where a setup cannot be used; Cancelled.
std::vector<StepOutcome> workedDown(const Plan &plan, const std::filesystem::path &folder, const Document &document,
                                    const PlanEntry &entry, const std::filesystem::path &base, Engine &engine,
                                    Progress &progress);

/// A project that works a plan down, with a sheet of its steps. `file`: the plan's, as the document is to name it.
Document projectOf(const Plan &plan, const std::string &file);

} // namespace fulvex
