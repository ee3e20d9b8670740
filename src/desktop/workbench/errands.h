#pragma once

#include "mailbox.h"
#include "progress.h"

#include <QObject>
#include <condition_variable>
#include <deque>
#include <functional>
#include <memory>
#include <mutex>
#include <thread>

namespace fulvex {

/// File work beside the interface: reading captures, writing projects, tables and reports. One after the other in the
/// order asked for, on a thread of its own, each with progress and cancel. A failure is told by `failed`, once.
class Errands final : public QObject {
    Q_OBJECT
public:
    explicit Errands(QObject *parent = nullptr);
    /// Cancels what runs and drops what waits; finish() first where that would lose something.
    ~Errands() override;
    /// `work` runs on the other thread, with copies of what it needs; `done` runs here afterwards, unless it failed or
    /// was cancelled.
    void run(std::function<void(Progress &)> work, std::function<void()> done = {});
    /// Cancels the one that runs; those that wait go on.
    void cancel();
    bool busy() const;
    double fraction() const; ///< of the one that runs, 0 to 1
    /// Waits until everything asked for is over, events being handled meanwhile; at most so many ms where that is
    /// given.
    void finish(int patience = -1);

signals:
    void busyChanged(bool busy);
    void failed(const QString &message);

private:
    struct Errand {
        std::function<void(Progress &)> work;
        std::function<void()> done;
    };
    void attend(std::stop_token stop);
    void post(std::function<void()> act);

    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::deque<Errand> m_waiting;
    std::shared_ptr<Progress> m_running;
    int m_open = 0; ///< asked for, and not yet told to be over; of the interface's thread
    Mailbox m_mail;
    std::jthread m_thread;
};

} // namespace fulvex
