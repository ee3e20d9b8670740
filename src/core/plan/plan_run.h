#pragma once

#include "capture_fit.h"
#include "plan_verdict.h"

#include <functional>
#include <map>

namespace fulvex {

/// What is in a step's slots: files by slot, several of one added up in their order.
using SlotFiles = std::map<std::string, std::vector<std::string>>;

/// What became of a step.
struct StepOutcome {
    enum class State {
        open,    ///< not all slots are filled
        refused, ///< a capture is not what it has to be
        done,    ///< its tests are judged
        skipped
    } state = State::open;
    std::string id;
    std::string reason; ///< skipped: why; open: what is missing
    struct Capture {
        std::string slot, file, sha256;
        std::vector<CaptureFit> checks;
    };
    std::vector<Capture> captures;
    std::vector<TestOutcome> tests;         ///< in the plan's order; those that are not wanted say so
    std::shared_ptr<const Results> results; ///< where it is done
    TestVerdict verdict() const;            ///< the worst of its tests; open where it is not done
};
const char *stateName(StepOutcome::State state);

/// Of a whole plan: fail where a test fails, else undecidable where one is or cannot be measured, open where steps are,
/// else pass.
TestVerdict verdictOf(const std::vector<StepOutcome> &steps);

/// The document that a step is measured by, with these files in its captures; the first of each slot is shown.
Document documentOf(const Plan &plan, const PlanStep &step, const SlotFiles &files);

/// Does a step: checks what its slots hold, and where all of it is as wanted, measures and judges. `without`: tests
/// that are not to be run. `told` hears of every stage on the way: the captures as they are checked. A file that cannot
/// be read refuses the step. Throws Cancelled; Error for a setup that cannot be used.
StepOutcome doStep(const Plan &plan, const PlanStep &step, const SlotFiles &files, const std::filesystem::path &base,
                   const std::set<std::string> &without, Engine &engine, Progress &progress,
                   const std::function<void(const StepOutcome &)> &told = {});

/// A step of a plan without its captures: what it waits for.
StepOutcome openStep(const Plan &plan, const PlanStep &step, const SlotFiles &files,
                     const std::set<std::string> &without);

} // namespace fulvex
