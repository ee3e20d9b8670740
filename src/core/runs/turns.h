#pragma once

#include <chrono>
#include <condition_variable>
#include <exception>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

namespace fulvex {

/// Makes things of a list side by side, each thread taking the next one as soon as it is done with its own: for so long
/// that short ones do not keep threads waiting for each other, and no longer. They are given in their order.
template <typename Made>
class Turns {
public:
    static constexpr std::chrono::milliseconds lasting{200};
    /// Of `count`; `make(job, at)` makes the one at that place, each job on a thread of its own but job 0: on the one
    /// that runs this.
    Turns(std::size_t jobs, std::size_t count, std::function<Made(std::size_t, std::size_t)> make)
        : m_make(std::move(make)), m_jobs(jobs), m_turns(count)
    {
        for (std::size_t job = 1; job < jobs; ++job)
            m_others.emplace_back([this, job] {
                while (takeOne(job)) {
                }
            });
    }
    Turns(const Turns &) = delete;
    Turns &operator=(const Turns &) = delete;
    ~Turns() { end(); }
    /// This thread works as well, and gives what is made to `use(at, made)`, which tells whether to go on. Throws what
    /// the first one threw that failed, after those before it were used.
    template <typename Use>
    void run(Use &&use)
    {
        for (std::size_t at = 0; at < m_turns.size(); ++at) {
            while (!isDone(at) && takeOne(0)) {
            }
            if (!waitFor(at)) return;
            if (m_turns[at].failure) std::rethrow_exception(m_turns[at].failure);
            if (!use(at, std::move(m_turns[at].made))) return end();
        }
    }

private:
    struct Turn {
        Made made{};
        std::exception_ptr failure;
        bool done = false;
    };
    bool takeOne(std::size_t job)
    {
        std::size_t at = 0;
        {
            const std::lock_guard lock(m_mutex);
            const bool late = m_next >= m_jobs && Clock::now() - m_begin > lasting; // at least one each
            m_ended |= late || m_next == m_turns.size();
            if (m_ended) return false;
            at = m_next++;
        }
        Turn turn;
        try {
            turn.made = m_make(job, at);
        } catch (...) {
            turn.failure = std::current_exception();
        }
        turn.done = true;
        const std::lock_guard lock(m_mutex);
        m_ended |= bool(turn.failure);
        m_turns[at] = std::move(turn);
        m_one.notify_all();
        return true;
    }
    bool isDone(std::size_t at)
    {
        const std::lock_guard lock(m_mutex);
        return m_turns[at].done;
    }
    /// Whether it is done, at last: of no more are any begun.
    bool waitFor(std::size_t at)
    {
        std::unique_lock lock(m_mutex);
        if (at >= m_next) return false;
        m_one.wait(lock, [&] { return m_turns[at].done; });
        return true;
    }
    void end()
    {
        const std::lock_guard lock(m_mutex);
        m_ended = true;
    }
    using Clock = std::chrono::steady_clock;
    const std::function<Made(std::size_t, std::size_t)> m_make;
    const std::size_t m_jobs;
    const Clock::time_point m_begin = Clock::now();
    std::mutex m_mutex;
    std::condition_variable m_one;
    std::vector<Turn> m_turns;
    std::size_t m_next = 0; ///< the first that is not begun
    bool m_ended = false;
    std::vector<std::jthread> m_others; ///< last: they end before the rest does
};

} // namespace fulvex
