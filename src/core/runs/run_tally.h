#pragma once

#include "results.h"

#include <utility>
#include <vector>

namespace fulvex {

/// What a capture's results add to those of many, without what only its own record can be asked for: populations become
/// what is told of them, sources and clocks are let go. They are to have the captures' fingerprints. `name`: of the
/// capture, beside its failures and values.
Results summaryOf(Results results, const std::string &name);

/// The results of many captures, added up one by one. What it holds grows by a few kilobytes a capture; adding takes
/// no longer the more there are, since as many are added to as many (a binary counter).
class RunTally {
public:
    /// `summary` from summaryOf(); captures of the same document.
    void add(Results summary);
    /// One that could not be read, which is told and counts for nothing else.
    void leaveOut(const Results &unread);
    bool empty() const { return m_sums.empty(); } ///< none was added
    /// All of them as one, see accumulated(); of one capture its own. There has to be one.
    Results results() const;

private:
    std::vector<CaptureResult> m_unread;
    std::vector<Results> m_sums; ///< of ever fewer captures, none as many as the one before
};

} // namespace fulvex
