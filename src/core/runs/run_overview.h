#pragma once

#include "results.h"

#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// What one capture of a run gave.
struct RunLine {
    std::string capture; ///< its name in the run
    std::string error;   ///< not empty: it could not be read, and counts for nothing else
    /// By the document's measurements: means, none where unmeasurable, and whether they keep their limits.
    std::vector<std::optional<double>> values;
    std::vector<Verdict> verdicts;
    std::int64_t failedUnitIntervals = 0; ///< of all masks
    std::optional<double> margin;         ///< of masks, the least
    Verdict verdict = Verdict::none;      ///< of rows, masks, budgets and phase noise together
    int failures = 0;                     ///< of these that failed
    double strangeness = 0;               ///< how many sigma its farthest row lies from those of the other captures
};

/// A line for each capture that was added up, by name; of what stands on captures of the run. `all`: of a RunTally.
/// O(captures x rows).
std::vector<RunLine> overviewOf(const Results &all);

/// Whether a capture is worse than another: by failures, failed unit intervals, margin; of those that are alike in
/// these by how strange it is. What could not be read comes first.
bool isWorse(const RunLine &a, const RunLine &b);

} // namespace fulvex
