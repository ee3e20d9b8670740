#pragma once

#include <algorithm>
#include <atomic>
#include <exception>

namespace fulvex {

/// Thrown out of a computation whose Progress was cancelled. Not an Error: nobody did anything wrong.
class Cancelled : public std::exception {
public:
    const char *what() const noexcept override { return "cancelled"; }
};

/// Shared between whoever waits for a computation and the threads that run it. All members may be called from any
/// thread. Work is counted in samples (or any unit of equal cost).
class Progress {
public:
    void cancel() { m_cancelled.store(true, std::memory_order_relaxed); }
    bool cancelled() const { return m_cancelled.load(std::memory_order_relaxed); }
    /// Announces work that `advance` will count.
    void expect(double work) { add(m_expected, work); }
    /// Counts finished work; throws Cancelled when cancel() was called.
    void advance(double work)
    {
        if (cancelled()) throw Cancelled();
        count(work);
    }
    /// The same without a throw, for calls that come through a library written in C; ask cancelled() besides.
    void count(double work) noexcept
    {
        if (work != 0) add(m_done, work);
    }
    /// In 0 to 1; 0 as long as nothing is known.
    double fraction() const
    {
        const double expected = m_expected.load(std::memory_order_relaxed);
        return expected > 0 ? std::clamp(m_done.load(std::memory_order_relaxed) / expected, 0.0, 1.0) : 0;
    }

private:
    static void add(std::atomic<double> &sum, double work) { sum.fetch_add(work, std::memory_order_relaxed); }
    std::atomic<bool> m_cancelled = false;
    std::atomic<double> m_expected = 0, m_done = 0;
};

} // namespace fulvex
