#pragma once

#include "mailbox.h"

#include <QObject>
#include <condition_variable>
#include <deque>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace fulvex {

/// Makes what takes time of figures, so that widgets only paint: one after the other on a thread of its own, beside the
/// interface. Lives on the interface's thread.
class FigureWorker final : public QObject {
    Q_OBJECT
public:
    using Delivery = std::function<void()>;
    explicit FigureWorker(QObject *parent = nullptr);
    ~FigureWorker() override;
    /// Does `work` on the other thread, and calls here what it gives. Work that `who` asked for before and that has not
    /// begun is not done; what has begun is delivered, so that dragging shows something.
    void ask(const void *who, std::function<Delivery()> work);
    /// After all that was asked for up to now has been delivered.
    void afterwards(Delivery act);
    bool busy() const { return m_open > 0; }

private:
    struct Job {
        const void *who;
        std::function<Delivery()> work;
    };
    void attend(std::stop_token stop);

    std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::deque<Job> m_waiting;
    int m_open = 0; ///< asked for, neither delivered nor replaced; of the interface's thread
    Mailbox m_mail;
    std::jthread m_thread;
};

/// The newest picture of something: a value type `Drawing` that says by `Drawing::From` all that it is made from and
/// makes it by `Drawing::of`. What was asked for before drop() does not come any more.
template <typename Drawing>
class Drawn {
public:
    /// `came` is called on the interface's thread when there is a new one; not after this is gone.
    Drawn(FigureWorker &worker, std::function<void()> came) : m_worker(worker), m_came(std::move(came)) { drop(); }
    /// Has it made where it is not what was asked for last: whether a new one will come.
    bool want(const typename Drawing::From &from)
    {
        if (m_state->asked == from) return false;
        m_state->asked = from;
        m_worker.ask(m_state.get(), [from, weak = std::weak_ptr(m_state)]() -> FigureWorker::Delivery {
            auto drawing = std::make_shared<const Drawing>(Drawing::of(from));
            return [weak, drawing = std::move(drawing)] {
                const auto state = weak.lock();
                if (!state) return;
                state->newest = drawing;
                state->came();
            };
        });
        return true;
    }
    /// Null until the first has come; it may be of something older than what was asked for.
    const std::shared_ptr<const Drawing> &newest() const { return m_state->newest; }
    void drop() { m_state = std::make_shared<State>(State{{}, {}, m_came}); }

private:
    struct State {
        std::optional<typename Drawing::From> asked;
        std::shared_ptr<const Drawing> newest;
        std::function<void()> came;
    };
    FigureWorker &m_worker;
    std::function<void()> m_came;
    std::shared_ptr<State> m_state;
};

} // namespace fulvex
