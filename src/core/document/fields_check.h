#pragma once

#include "field.h"

namespace fulvex {

/// Checks values of fields that are none of a document, and those of lists among them: ranges, choices, sizes. Throws
/// Error whose `where` is the JSON path.
void checkFields(const std::vector<Field> &fields);

} // namespace fulvex
