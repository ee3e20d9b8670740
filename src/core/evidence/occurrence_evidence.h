#pragma once

#include "evidence.h"

namespace fulvex {

/// Of a row of one capture: what is kept out of it, then its occurrences.
Evidence ofOccurrences(const Results &results, const Row &row, const Question &question, std::size_t wanted,
                       Progress &progress);

} // namespace fulvex
