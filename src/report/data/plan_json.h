#pragma once

#include "plan_run.h"

#include <string>

namespace fulvex {

/// What tells a plan's results besides what was found.
struct PlanFacts {
    std::string sha256; ///< of the plan's text
    std::string made;   ///< when, UTC; see utcNow()
};

/// plan.json, see docs/formats.md: for each step its captures and checks, for each test measured value, limit, margin,
/// uncertainty and verdict. Window and batch write the same but for when it was made.
std::string planJson(const Plan &plan, const std::vector<StepOutcome> &steps, const PlanFacts &facts);

/// A project's plan with what came of it, as a results.json holds it: `id` (of the document's entry), `plan` (whole),
/// and `results` as planJson() has them.
std::string planRecord(const std::string &id, const Plan &plan, const std::vector<StepOutcome> &steps,
                       const PlanFacts &facts);

/// Such a record laid beside the same plan done again.
struct PlanRecord {
    std::string id;
    Plan plan;
    struct Test {
        std::string step, test, verdict; ///< ids
        std::optional<double> value, uncertainty;
    };
    std::vector<Test> tests; ///< of all its steps
};
/// All that a results.json holds. Throws Error: `name`, what is wrong, what would mend it.
std::vector<PlanRecord> planRecords(const std::string &resultsJson, const std::string &name);

/// Into an attempt: what was found, in words, and by which files, so that it is known whatever becomes of them. Nothing
/// of a step that is not done.
void rememberFound(AttemptEntry &attempt, const StepOutcome &outcome);

/// The tests as JUnit XML, a suite a step: what does not pass is a failure, what is open is skipped.
std::string planJunit(const Plan &plan, const std::vector<StepOutcome> &steps);

/// For a terminal: each step with its checks that do not hold, its tests and what would decide them.
std::string planTable(const Plan &plan, const std::vector<StepOutcome> &steps);

/// "353.3 ± 0.1 ps", "2 failed": what was measured; a dash where nothing was.
std::string measuredText(const TestOutcome &test);
/// "< 450 ps", "0 failed".
std::string limitText(const TestOutcome &test);
/// "21 %"; a dash where there is none.
std::string marginText(const TestOutcome &test);

} // namespace fulvex
