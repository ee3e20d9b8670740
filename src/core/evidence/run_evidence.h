#pragma once

#include "evidence.h"

namespace fulvex {

/// The moments that answer a question about a row of many captures: of its values the lowest and highest that are kept,
/// farthest from the mean first; of what is one number a capture, each capture's. `row` has a total.
Evidence ofManyCaptures(const Results &results, const Row &row, const Question &question, std::size_t wanted);

/// The least interval between samples of the captures, s; 0: none is known.
double finestInterval(const Results &results);

} // namespace fulvex
