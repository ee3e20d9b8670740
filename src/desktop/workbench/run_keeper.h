#pragma once

#include "mailbox.h"
#include "run_gathering.h"
#include "run_overview.h"

#include <QImage>
#include <QObject>
#include <atomic>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace fulvex {

/// What traces of a capture are drawn from.
struct RunTrace {
    std::string capture; ///< its name
    std::vector<ChannelResult> channels;
};

/// What the captures of a run gave so far, one by one and together. Immutable.
struct RunSnapshot {
    std::uint64_t session = 0; ///< of the project that it is of
    std::vector<RunMember> members;
    std::shared_ptr<const Results> all; ///< of those that were counted together; null: of none yet
    std::vector<RunLine> lines;         ///< one a capture that was counted or could not be read, the worst first
    std::size_t counted = 0, unread = 0, failed = 0; ///< captures
    bool ended = false;                              ///< by failed captures
    bool working = false;                            ///< more are being counted
    std::string error;                               ///< not empty: why the run has no members
    std::map<std::string, QImage> pictures;          ///< a small one of an eye of each, by name
    /// The same as `all`, but with the pictures of eyes of the last ones, fading with age; where a tile shows that, or
    /// null.
    std::shared_ptr<const Results> recent;
    /// Of the last captures that were counted, the newest first; where a tile shows traces of more than one.
    std::deque<RunTrace> traces;
};

/// Adds up the captures of the document's run on a thread of its own, behind what is computed for the window. What is
/// told carries the session of the project that it is of.
class RunKeeper final : public QObject {
    Q_OBJECT
public:
    explicit RunKeeper(QObject *parent = nullptr);
    ~RunKeeper() override;
    /// From now on of this document; one without a run, and of another session, ends what goes on.
    void follow(const Document &document, const std::filesystem::path &base, std::uint64_t session);
    /// A file of a capture of the run came, whole: one that a live source has just written, and that may go again.
    void arrive(const std::string &capture, const std::string &file);
    /// Captures that are there and not counted yet. From any thread.
    std::size_t waiting() const { return m_waiting; }
    /// The files that are shown, which are kept.
    void setShown(std::vector<std::string> files);
    /// Counts anew, from none on.
    void countAnew();
    /// Stops before the next capture, and goes on.
    void hold(bool held);
    bool isStopped() const;
    void stop(bool stopped); ///< by the user: what runs is given up, until it is let go on

signals:
    void told(std::shared_ptr<const fulvex::RunSnapshot> snapshot);

private:
    struct Wanted {
        Document document;
        std::filesystem::path base;
        std::uint64_t session = 0;
    };
    struct Work; ///< what the thread alone knows
    void work(std::stop_token stop);
    void adopt(Work &work, Wanted wanted, bool anew);
    void takeNext(Work &work);
    void goOn(Work &work);
    void takeArrived(Work &work, const std::vector<std::pair<std::string, std::string>> &arrived);
    void sayWaiting(const Work &work);
    void tidy(Work &work, const RunMember &member, bool failed);
    void tell(Work &work, bool working, const std::string &error = {});

    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<Wanted> m_wanted;
    bool m_anew = false, m_held = false, m_stopped = false;
    bool m_failed = false;                                      ///< as the document is, it cannot go on
    std::shared_ptr<Progress> m_progress;                       ///< of the capture that is computed; null: none is
    std::uint64_t m_session = 0;                                ///< that was wanted last
    std::vector<std::pair<std::string, std::string>> m_arrived; ///< capture, file
    std::vector<std::string> m_shown;
    std::atomic<std::size_t> m_waiting = 0;
    Mailbox m_mail;
    std::jthread m_thread;
};

} // namespace fulvex
