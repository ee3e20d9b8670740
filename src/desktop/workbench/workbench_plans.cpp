// The workbench's test plans: what attempts at their steps came to.

#include "plan_json.h"
#include "workbench.h"

namespace fulvex {

void Workbench::followPlans()
{
    if (m_held)
        m_plans.follow({}, {}, base(), session());
    else
        m_plans.follow(document().plans, document().attempts, base(), session());
}

const PlanState *Workbench::planState(const std::string &plan) const
{
    if (!m_planStates) return nullptr;
    const auto known = m_planStates->by.find(plan);
    return known == m_planStates->by.end() ? nullptr : &known->second;
}

StepOutcome Workbench::outcomeOf(const std::string &plan, const PlanStep &step) const
{
    const PlanState *state = planState(plan);
    const AttemptEntry *newest = newestAttempt(document(), plan, step.id);
    const StepOutcome *found = nullptr;
    if (state && newest) {
        const auto known = state->attempts.find(newest->id);
        if (known != state->attempts.end()) found = known->second.outcome.get();
    }
    static const Plan unread;
    return courseOf(document(), plan, state && state->plan ? *state->plan : unread, step, base(), found);
}

/// Into what is saved: so that it is known what was found when, whatever becomes of the captures.
void Workbench::rememberFound(AttemptEntry &attempt) const
{
    const PlanState *state = planState(attempt.plan);
    if (!state) return;
    const auto known = state->attempts.find(attempt.id);
    if (known == state->attempts.end() || !known->second.outcome) return;
    fulvex::rememberFound(attempt, *known->second.outcome);
}

} // namespace fulvex
