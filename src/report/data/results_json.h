#pragma once

#include "results.h"

#include <string>

namespace fulvex {

struct ProjectFacts {
    std::string sha256; ///< of the document's file
    std::string made;   ///< UTC, ISO 8601
};

/// results.json as the contract has it.
std::string resultsJson(const Results &results, const ProjectFacts &facts);

/// Now, as "2026-11-23T08:00:00Z".
std::string utcNow();

} // namespace fulvex
