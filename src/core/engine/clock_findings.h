#pragma once

#include "evaluation.h"
#include "finding.h"

#include <vector>

namespace fulvex {

/// What makes a clock doubtful, in words, each with what to try: edges that lie far from where unit intervals begin,
/// all of them whole multiples apart, more amplitude levels than it tells apart, a constant delay beside a forwarded
/// clock, where that pauses. Looks at all its edges.
std::vector<Finding> clockFindings(Evaluation &evaluation, const ClockEntry &entry, const Evaluation::ClockNode &node);

} // namespace fulvex
