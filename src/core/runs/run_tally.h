#pragma once

#include "results.h"

#include <utility>
#include <vector>

namespace fulvex {

/// What a capture's results add to those of many, without what only its own record can be asked for: populations become
/// what is told of them, sources and clocks are let go. They are to have the captures' fingerprints. `name`: of the
/// capture, beside its failures and values.
Results summaryOf(Results results, const std::string &name);

/// Whether a limit or a mask failed that stands on a capture of the run: what stands on others fails every time.
bool captureFailed(const Results &results);

/// The results of many captures, added up one by one. What it holds grows by a few kilobytes a capture; adding takes
/// no longer the more there are, since as many are added to as many (a counter to the base of four).
class RunTally {
public:
    /// `summary` from summaryOf(); captures of the same document. How many sums of earlier ones it went into.
    std::size_t add(Results summary);
    /// Sums of captures, as last() gave them; those of more captures first.
    void restore(std::vector<Results> sums) { m_sums = std::move(sums); }
    const Results &last() const { return m_sums.back(); } ///< the sum that the last capture is in
    /// One that could not be read, which is told and counts for nothing else.
    void leaveOut(const Results &unread);
    bool empty() const { return m_sums.empty(); } ///< none was added
    /// From now on by a document that has other limits, and is the same in all else that numbers depend on.
    void judgeBy(const std::shared_ptr<const Document> &document);
    /// All of them as one, see accumulated(); of one capture its own. There has to be one.
    Results results() const;

private:
    static constexpr std::size_t together = 4;
    std::vector<CaptureResult> m_unread;
    std::vector<Results> m_sums; ///< of ever fewer captures, of as many fewer than `together`
};

} // namespace fulvex
