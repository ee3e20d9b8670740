#pragma once

#include "inspector_form.h"

namespace fulvex {

/// Fields of what a make-up of jitter goes by: whether transitions are those of data, and the pattern. Of a budget, or
/// of a row.
void addJitterFields(InspectorForm &form, const std::string &id);

} // namespace fulvex
