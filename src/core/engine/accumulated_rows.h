#pragma once

#include "budget_result.h"
#include "engine.h"

#include <map>

namespace fulvex {

/// Make-ups of jitter of all captures, made once for all entries that share one.
class JitterOfAll {
public:
    explicit JitterOfAll(const std::vector<JitterResult> &jitter) : m_jitter(jitter) {}
    /// Throws Unmeasurable where there is none.
    std::shared_ptr<const JitterMakeUp> makeUp(const MeasurementEntry &entry);
    std::shared_ptr<const JitterTails> tails(const MeasurementEntry &entry); ///< likewise

private:
    struct Made {
        std::shared_ptr<const JitterMakeUp> found;
        std::shared_ptr<const JitterTails> tails;
    };
    const std::vector<JitterResult> &m_jitter;
    std::map<std::string, Made> m_made;
};

/// A row of several runs. `all`: what they give together as far as it is there: eyes. `together`: what is said of how
/// many captures it is of.
Row mergedRow(const std::vector<Results> &runs, std::size_t index, const Results &all, const std::string &together,
              JitterOfAll &jitter, Told told);

} // namespace fulvex
