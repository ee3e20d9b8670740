#pragma once

#include "action_menus.h"

namespace fulvex {

/// A list of what can be done by keys and by hand, to look through and to search. Stays beside the work until it is
/// closed.
void showKeys(const std::vector<ActionMenus::Line> &lines, QWidget *window);

} // namespace fulvex
