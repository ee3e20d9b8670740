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

/// Runs the engine on a thread of its own, and tells what is ready before the end some 25 times a second, what is in
/// view first. The newest request counts: one that waits is replaced; one that runs and is overtaken by one of its own
/// session goes on until it has given a first answer (so that dragging shows something), for 400 ms at most.
class Evaluator final : public QObject {
    Q_OBJECT
public:
    /// `engine`: what was computed before may be known to it; none given: one of its own.
    explicit Evaluator(std::shared_ptr<Engine> engine = nullptr, QObject *parent = nullptr);
    ~Evaluator() override;
    /// `inView`: ids of what is wanted first, most wanted at the front.
    void request(const Document &document, const std::filesystem::path &base, std::vector<std::string> inView,
                 EvaluationTicket ticket);
    /// Stops what runs; what is shown stays.
    void cancel();
    bool busy() const;
    /// Whether a request is on its way and neither cancelled nor replaced: its end will be told.
    bool attends(EvaluationTicket ticket) const;
    /// Of the running evaluation, 0 to 1.
    double fraction() const;

signals:
    /// `complete` is false before the end: what is pending in them is older, or a first picture (see Results).
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
        std::vector<std::string> inView;
        EvaluationTicket ticket;
    };
    /// One evaluation, and what of it is told.
    struct Run {
        EvaluationTicket ticket;
        Progress progress;
        ResultsBoard board;
        std::chrono::steady_clock::time_point started = std::chrono::steady_clock::now();
        std::atomic<bool> answered = false;
        std::mutex telling;
        bool over = false; ///< guarded by `telling`: nothing is told of it any more
    };
    void work(std::stop_token stop);
    void tell(std::stop_token stop);
    void evaluate(const Request &request, Run &run);
    void tellNews(Run &run);
    void logRun(const Document &document, const Run &run) const;
    void post(std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete);
    void postEnded(EvaluationTicket ticket);

    std::shared_ptr<Engine> m_engine;
    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<Request> m_waiting;
    std::shared_ptr<Run> m_running;
    std::shared_ptr<const Results> m_told; ///< last
    std::uint64_t m_toldSession = 0;
    Mailbox m_mail;
    std::jthread m_thread, m_teller;
};

} // namespace fulvex
