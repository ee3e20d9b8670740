#pragma once

#include "plan.h"
#include "results.h"

namespace fulvex {

enum class TestVerdict {
    open, ///< its step has no captures yet, or it is not to be run
    pass,
    fail,
    undecidable, ///< the limit lies within the uncertainty
    unmeasurable
};
const char *verdictName(TestVerdict verdict);

/// What a test came to.
struct TestOutcome {
    std::string id, title, unit;
    TestVerdict verdict = TestVerdict::open;
    std::optional<double> value, uncertainty; ///< unit; standard
    std::optional<double> least, most;        ///< the limits, unit
    std::optional<double> margin; ///< distance to the nearer limit: of it, of half the span where there are two, 1
    std::int64_t count = 0;       ///< values that it is told from; of a mask unit intervals
    std::string reason;           ///< unmeasurable: why
    std::string advice;           ///< undecidable: what would decide it
    bool ofMask = false;          ///< the value is how many unit intervals failed it
    bool wanted = true;           ///< false: it is not to be run
};

/// How far inside its nearer limit a value lies; negative: outside.
struct Margin {
    double inside = 0;           ///< in their unit
    std::optional<double> share; ///< of the limit, of half the span where there are two; none of a limit of 0
};
Margin marginOf(double value, const LimitEntry &limit);

/// Judges what was measured against a test. A value decides where it lies off its limit by more than twice its standard
/// uncertainty (about 95 %: JCGM 106:2012, 8.3, with guard bands of that width on both sides); where only what scatters
/// keeps it from that, `advice` says how many values would do, for the scatter's part shrinks with the root of their
/// number. What has no known uncertainty is judged as it is. `duration`: of the record, s.
TestOutcome judged(const PlanTest &test, const Results &results, double duration);

} // namespace fulvex
