#pragma once

#include "action.h"

namespace fulvex {

/// What can be done with what the project holds, without asking for files or words: measure, add clocks, eyes and
/// masks, align, edit, and what sheet_actions adds.
std::vector<Action> projectActions(Workbench &bench);

} // namespace fulvex
