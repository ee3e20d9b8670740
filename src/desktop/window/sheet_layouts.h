#pragma once

#include "action.h"

namespace fulvex {

/// Keeping a sheet's layout for other projects, laying a sheet out as one that was kept, and forgetting one.
void addSheetLayouts(Workbench &bench, QWidget *window, std::vector<Action> &actions);

} // namespace fulvex
