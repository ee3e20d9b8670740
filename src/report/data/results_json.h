#pragma once

#include "results.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace fulvex {

struct ProjectFacts {
    std::string sha256; ///< of the document's file
    std::string made;   ///< UTC, ISO 8601
    /// The other files that were written with it, by name, with their SHA-256: a reader who finds others comes while
    /// they are being put in place, or after a crash.
    std::map<std::string, std::string> files = {};
    /// As the project has them, where the results are of others in their place; none: as the results' document does.
    std::optional<std::vector<CaptureEntry>> captures = {};
    /// What came of the plans that the project works down, see planRecord(): JSON.
    std::vector<std::string> plans = {};
};

/// results.json as the contract has it.
std::string resultsJson(const Results &results, const ProjectFacts &facts);

/// Now, as "2026-11-23T08:00:00Z".
std::string utcNow();

} // namespace fulvex
