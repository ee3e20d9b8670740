#pragma once

#include "field.h"

namespace fulvex {

/// A field's value as people type it in a table: a number with its unit and all its digits; empty where it has none.
std::string typedText(const Field &field, const std::string &unit);

/// Takes what was typed; false, and nothing is changed, where it is not that.
bool takeTyped(const Field &field, const std::string &unit, const std::string &typed);

} // namespace fulvex
