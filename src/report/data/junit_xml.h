#pragma once

#include "results.h"

#include <string>

namespace fulvex {

/// Verdicts as JUnit XML, one case for each limit, mask and capture: failures say the value and the limit, captures
/// that could not be read are errors, what carries no limit is left out.
std::string junitXml(const Results &results);

} // namespace fulvex
