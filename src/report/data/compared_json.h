#pragma once

#include "comparison.h"

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace fulvex {

/// Whether a text is a results.json rather than a project: by what it begins with.
bool isResultsJson(const std::string &text);

/// What a results.json holds of what can be compared. Throws Error: `name`, what is wrong, what would mend it.
ComparedResult comparedOfJson(const std::string &text, const std::string &name);

/// comparison.json, see docs/formats.md.
std::string comparisonJson(const Comparison &comparison);

} // namespace fulvex
