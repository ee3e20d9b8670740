#pragma once

#include "evidence.h"

namespace fulvex {

// What evidence of several kinds needs alike.

bool lies(const Question::Span &span, double value);
double intervalOf(const Results &results, const std::string &channel); ///< s; 0 where there is none
/// A tenth of the sample interval, s: moments a picosecond apart can be told apart.
double stepOf(const Results &results, const std::string &channel);

} // namespace fulvex
