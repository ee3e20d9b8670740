#pragma once

#include "results.h"

#include <string>
#include <vector>

namespace fulvex {

/// A verdict as continuous integration reads it.
struct JunitCase {
    std::string of, name;
    std::string failure = {}, error = {}, skipped = {}; ///< at most one of them says something
};
struct JunitSuite {
    std::string name;
    std::vector<JunitCase> cases;
};
/// As JUnit XML.
std::string junitXml(const std::vector<JunitSuite> &suites);

/// Verdicts, one case for each limit, mask and capture: failures say the value and the limit, captures that could not
/// be read are errors, what carries no limit is left out.
std::string junitXml(const Results &results);

} // namespace fulvex
