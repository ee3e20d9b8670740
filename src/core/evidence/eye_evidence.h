#pragma once

#include "evidence.h"

namespace fulvex {

/// What failed a mask, deepest first; of a span of time those of the failures kept that lie there.
Evidence ofFailures(const Results &results, const MaskRun &mask, const Question &question, std::size_t wanted);
/// Where symbols follow on each other, in time.
Evidence ofSymbols(const Results &results, const EyeResult &eye, const Question &question, std::size_t wanted,
                   Progress &progress);
/// Which unit intervals, repeats or edges pass through a box, in time.
Evidence ofPasses(const Results &results, const EyeResult &eye, const Question &question, std::size_t wanted,
                  Progress &progress);

} // namespace fulvex
