#pragma once

#include "action.h"

namespace fulvex {

/// What can be done with what the project holds, without asking for files or words: measure, add clocks, eyes and
/// masks, align, edit, go to regions and sheets.
std::vector<Action> projectActions(Workbench &bench);
/// What can be done with tiles, likewise.
std::vector<Action> tileActions(Workbench &bench);

} // namespace fulvex
