#pragma once

#include "run_tally.h"

#include <map>
#include <optional>

namespace fulvex {

/// The captures of a run as they come: computed in any order, counted in their own, so that where a run ends does not
/// depend on which was ready first. Places are those of the members.
class RunCourse {
public:
    /// `stopAt`: captures of which a limit or a mask failed that end it; none: it goes on.
    explicit RunCourse(std::optional<int> stopAt) : m_stopAt(stopAt) {}
    /// `summary` from summaryOf().
    void add(std::size_t place, Results summary);
    /// One that could not be read: it is told, and counts for nothing else.
    void leaveOut(std::size_t place, Results unread);
    /// One that somebody decided not to count: it is not told.
    void skip(std::size_t place);
    bool ended() const { return m_ended; } ///< by failures: what comes later does not count
    bool empty() const { return m_tally.empty(); }
    std::size_t failed() const { return m_failed; } ///< captures that count
    /// All that count so far, see RunTally.
    Results results() const { return m_tally.results(); }

private:
    struct Ready {
        std::optional<Results> results;
        bool unread = false;
    };
    void take(std::size_t place, Ready ready);
    std::optional<int> m_stopAt;
    std::map<std::size_t, Ready> m_early; ///< whose turn it is not yet
    std::size_t m_next = 0, m_failed = 0;
    bool m_ended = false;
    RunTally m_tally;
};

} // namespace fulvex
