#pragma once

#include "action.h"

namespace fulvex {

/// What can be done with masks, but for files: see window_actions.
void addMasks(Workbench &bench, std::vector<Action> &actions);

} // namespace fulvex
