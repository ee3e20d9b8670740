#pragma once

#include "results.h"

namespace fulvex {

/// Names the make-up of jitter that a row, or a budget, is told from: those of one name share it.
std::string jitterKey(const MeasurementEntry &entry);
/// What a row would ask for that wants a budget's make-up.
MeasurementEntry rowOf(const BudgetEntry &entry);

/// What an entry asks of jitter that was taken apart, `result.found`, and what makes it doubtful; `tails` as well.
/// Throws Unmeasurable where it cannot be told.
void setBudget(BudgetResult &result, const BudgetEntry &entry, const std::shared_ptr<const JitterTails> &tails);
/// Against the entry's limit.
void judge(BudgetResult &result, const BudgetEntry &entry);

} // namespace fulvex
