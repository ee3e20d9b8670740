#pragma once

namespace fulvex {

/// Tells screen readers what our own widgets are: a tile is a picture, the Chain a list. Once, at the program's start.
void installAccessibleViews();

} // namespace fulvex
