#pragma once

#include "engine.h"
#include "mailbox.h"

#include <QObject>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace fulvex {

/// What a request was for; comes back with its results.
struct EvaluationTicket {
    std::uint64_t session = 0, revision = 0;
    std::uint64_t number = 0; ///< of the request: the same revision may be asked for again
    bool operator==(const EvaluationTicket &) const = default;
};

/// Runs the engine on a thread of its own. The newest request counts: one that waits is replaced, one that runs and is
/// overtaken by one of its own session may finish while it is young (so that dragging shows something) and is cancelled
/// after that.
class Evaluator final : public QObject {
    Q_OBJECT
public:
    explicit Evaluator(QObject *parent = nullptr);
    ~Evaluator() override;
    void request(const Document &document, const std::filesystem::path &base, EvaluationTicket ticket);
    /// Stops what runs; what is shown stays.
    void cancel();
    bool busy() const;
    /// Whether a request is on its way and neither cancelled nor replaced: its end will be told.
    bool attends(EvaluationTicket ticket) const;
    /// Of the running evaluation, 0 to 1.
    double fraction() const;

signals:
    /// `complete` is false for a first look that has traces but no numbers yet; those of long records may be sketches,
    /// and a second look with all of their samples follows.
    void finished(std::shared_ptr<const fulvex::Results> results, fulvex::EvaluationTicket ticket, bool complete);
    void failed(const QString &message, fulvex::EvaluationTicket ticket);
    /// A request came to its end, whatever that was, and all that it finished has been told; not for one that a newer
    /// request took the place of before it began.
    void ended(fulvex::EvaluationTicket ticket);
    void busyChanged(bool busy);

private:
    struct Request {
        Document document;
        std::filesystem::path base;
        EvaluationTicket ticket;
        bool firstLook = false; ///< its captures were not shown yet
    };
    void work(std::stop_token stop);
    void evaluate(const Request &request, Progress &progress);
    void postEnded(EvaluationTicket ticket);
    void post(std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete);

    Engine m_engine;
    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<Request> m_waiting;
    std::shared_ptr<Progress> m_running;
    std::chrono::steady_clock::time_point m_started;
    EvaluationTicket m_runs; ///< what m_running is for
    std::uint64_t m_shownSession = 0;
    std::vector<CaptureEntry> m_shown; ///< captures that were, in that session
    Mailbox m_mail;
    std::jthread m_thread;
};

} // namespace fulvex
