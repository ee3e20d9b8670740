#pragma once

#include "results.h"

#include <QString>
#include <QStringList>
#include <functional>
#include <memory>
#include <vector>

namespace fulvex {

/// The newest results of a session, whether they are of the present document and all of it, and what waits until they
/// are.
class ResultsShelf {
public:
    const std::shared_ptr<const Results> &results() const { return m_results; }
    bool current() const { return m_results && m_current; } ///< of the present document, as far as they go
    bool complete() const { return m_complete; }            ///< false: some of them are pending
    bool upToDate() const { return current() && m_complete; }
    bool tracesReady(const Document &now) const; ///< all channels of the results are of the document they are told of
    void clear();
    void doubt() { m_current = false; } ///< captures may have changed
    /// The document is another now; with `sameNumbers` the results are its own as well.
    void follow(const Document &now, bool sameNumbers);
    /// Puts results there; `own`: they were asked for by this very revision of the document.
    void put(std::shared_ptr<const Results> results, bool complete, const Document &now, bool own);

    /// Something to be done with results of the present document.
    struct Waiting {
        QString what; ///< for the message that tells when they never come
        std::function<void()> act;
        bool tracesWillDo; ///< a first look is enough
    };
    bool serves(const Document &now, bool tracesWillDo) const; ///< now
    void await(Waiting one) { m_waiting.push_back(std::move(one)); }
    bool awaited() const { return !m_waiting.empty(); }
    std::vector<Waiting> takeServed(const Document &now); ///< those that wait no longer
    QStringList giveUp();                                 ///< what of all that waits

private:
    std::shared_ptr<const Results> m_results;
    bool m_current = false, m_complete = false;
    std::vector<Waiting> m_waiting;
};

} // namespace fulvex
