#pragma once

#include "action.h"

namespace fulvex {

/// What can be done with sheets: add and remove them and their tiles, go from one to another.
void addSheets(Workbench &bench, std::vector<Action> &actions);
/// With what they show of the record.
void addViews(Workbench &bench, std::vector<Action> &actions);
/// With single tiles.
std::vector<Action> tileActions(Workbench &bench);

} // namespace fulvex
