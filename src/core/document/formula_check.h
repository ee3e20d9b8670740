#pragma once

#include "document.h"

namespace fulvex {

/// Follows what formulas name: unknown names, circles and chains that are too long throw Error with the JSON path.
void checkFormulas(const Document &document);

} // namespace fulvex
