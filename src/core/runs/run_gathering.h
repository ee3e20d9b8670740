#pragma once

#include "arriving_files.h"
#include "engine.h"
#include "run_journal.h"
#include "run_members.h"
#include "run_tally.h"

#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>

namespace fulvex {

/// Adds up the captures of a document's run one by one, in the order in which they are there, and goes on when the
/// document's run grows or its limits change; begins anew where numbers are others. One thread at a time.
class RunGathering {
public:
    struct Manner {
        bool forReports = true; ///< with each capture's check and fingerprint
        int jobs = 1;           ///< captures that are computed side by side
    };
    /// `masks`: folder of the shipped masks.
    RunGathering(const std::filesystem::path &masks, Manner manner);
    explicit RunGathering(const std::filesystem::path &masks) : RunGathering(masks, Manner{}) {}

    /// From now on what is counted is kept in a folder as well, and what lies there counts. Before follow().
    void keepIn(const std::filesystem::path &folder) { m_journal.emplace(folder); }
    /// From now on of this document. Throws Error where what is kept is of another one.
    void follow(const Document &document, const std::filesystem::path &base);
    /// Of what is counted from now on, results come with what traces of these channels are drawn from.
    void trace(std::set<std::string> channels) { m_traced = std::move(channels); }
    /// What was counted is forgotten, and all that is there is counted again.
    void begin();
    /// Looks which captures are there now. Throws Error where the run's lists do not fit each other.
    void look(ArrivingFiles::Instant now = std::chrono::steady_clock::now());
    /// A file of a watched run's capture is there, whole: no look has to find that.
    void arrive(const std::string &capture, const std::string &file);
    std::size_t waiting() const { return m_waiting.size(); } ///< captures that are there and not counted yet
    bool hasNext() const { return !m_ended && !m_waiting.empty(); }
    /// Another look may find more.
    bool mayGrow() const { return m_watched && !m_ended; }
    /// Evaluates the next one, or of several jobs as many as they begin within Turns::lasting, and counts them in
    /// their order; gives the names of those that were counted or could not be read. `made` sees the results of each,
    /// on this thread, before it counts. Throws Cancelled, where none was: they are the next ones still.
    std::vector<std::string> takeNext(Progress &progress,
                                      const std::function<void(const RunMember &, const Results &)> &made = {});
    /// All that were counted together; none: there are none yet.
    std::optional<Results> all() const;

    const std::vector<RunMember> &members() const { return m_members; } ///< that were there at the last look
    const std::set<std::string> &counted() const { return m_counted; }  ///< names
    std::size_t failed() const { return m_failed; }
    /// Why captures could not be read, by name.
    const std::map<std::string, std::string> &unread() const { return m_unread; }
    bool ended() const { return m_ended; } ///< by as many failed captures as the document asks for

private:
    bool startsOver(const Document &document, const std::filesystem::path &base, const std::string &identity) const;
    void take(RunMember member);
    void pairArrivals(ArrivingFiles::Instant now);
    void pair(); ///< makes captures of files that are complete
    bool putBack(const RunMember &member);
    Results evaluate(Engine &engine, const RunMember &member, Progress &progress) const;
    void count(const RunMember &member, Results results);
    std::vector<std::unique_ptr<Engine>> m_engines; ///< one a job
    std::shared_ptr<const Document> m_document;
    std::filesystem::path m_base;
    std::string m_identity; ///< of what is counted
    std::vector<RunMember> m_members;
    std::deque<RunMember> m_waiting;
    /// Of a watched run, by capture: files that come, and those that are complete and wait for the others' to go with.
    struct Arrivals {
        ArrivingFiles files;
        std::deque<std::string> complete;
    };
    std::map<std::string, Arrivals> m_arrivals;
    std::set<std::string> m_counted, m_known; ///< names; known: counted, unread or waiting
    std::map<std::string, std::string> m_unread;
    std::set<std::string> m_traced;
    std::size_t m_failed = 0;
    bool m_forReports, m_watched = false, m_ended = false;
    RunTally m_tally;
    std::optional<RunJournal> m_journal;
};

/// All captures of a document's run that are there now, added up; none: there is none that can be read. `unread`: why
/// captures count for nothing. Throws Error, Cancelled.
std::optional<Results> gathered(Document document, const std::filesystem::path &base,
                                const std::filesystem::path &masks, Progress &progress,
                                std::vector<std::string> &unread);

} // namespace fulvex
