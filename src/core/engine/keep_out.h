#pragma once

#include "results.h"

namespace fulvex {

/// The row without those of its occurrences that begin within one of the spans; they are listed in it instead.
/// Statistics and histogram are of those that stay, and its provenance counts the others. A row of one number that is
/// no count of moments stays as it is.
Row withoutKeptOut(const Row &row, const std::vector<const KeptOutEntry *> &spans);

} // namespace fulvex
