#pragma once

#include "evidence.h"

namespace fulvex {

/// The edges behind a piece of a jitter budget: where a line pushes most, the pattern's edge that is farthest off, the
/// farthest of what is left. Without a piece: none, and what to do.
Evidence ofBudget(const BudgetResult &budget, const Question &question, std::size_t wanted);

} // namespace fulvex
