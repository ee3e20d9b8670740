#pragma once

#include "engine.h"

#include <QObject>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace fulvex {

/// Runs the engine on a thread of its own. The newest request counts: one that waits is replaced, one that runs and is
/// overtaken may finish while it is young (so that dragging shows something) and is cancelled after that.
class Evaluator final : public QObject {
    Q_OBJECT
public:
    explicit Evaluator(QObject *parent = nullptr);
    ~Evaluator() override;
    void request(const Document &document, const std::filesystem::path &base);
    /// Stops what runs; what is shown stays.
    void cancel();
    bool busy() const;
    /// Of the running evaluation, 0 to 1.
    double fraction() const;

signals:
    /// `complete` is false for a first look that has traces but no numbers yet; those of long records may be sketches,
    /// and a second look with all of their samples follows.
    void finished(std::shared_ptr<const fulvex::Results> results, bool complete);
    void failed(const QString &message);
    void busyChanged(bool busy);

private:
    struct Request {
        Document document;
        std::filesystem::path base;
        bool firstLook = false; ///< its captures were not shown yet
    };
    void work(std::stop_token stop);
    void evaluate(const Request &request, Progress &progress);
    void post(std::shared_ptr<const Results> results, bool complete);

    Engine m_engine;
    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<Request> m_waiting;
    std::shared_ptr<Progress> m_running;
    std::chrono::steady_clock::time_point m_started;
    std::vector<CaptureEntry> m_shown; ///< captures that were
    std::jthread m_thread;
};

} // namespace fulvex
