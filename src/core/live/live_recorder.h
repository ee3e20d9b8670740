#pragma once

#include "live_source.h"

#include <atomic>
#include <condition_variable>
#include <filesystem>
#include <functional>
#include <memory>
#include <mutex>
#include <thread>

namespace fulvex {

/// How an acquisition goes on.
struct LiveState {
    std::string identity;     ///< of the instrument; empty: nobody answered yet
    std::size_t captures = 0; ///< that were written since it began
    std::string newest;       ///< path of the last
    std::string message;      ///< not empty: what went wrong last; it is tried again
    bool running = false;
    double perSecond = 0; ///< captures
};

/// Has captures taken by an instrument, on a thread of its own, and writes each to a folder. Whatever goes wrong on the
/// way (time-outs, cut lines, wrong lengths, a full disk) is told, and tried again; a capture that was read is not
/// given up before it is written.
class LiveRecorder {
public:
    struct What {
        std::string address;
        Dialect dialect;
        std::filesystem::path folder;
        std::size_t captures = 0; ///< after so many it ends; 0: when it is stopped
    };
    /// `tell` is called from its thread. `mayGoOn`: while it says no the next capture is waited with, so that what
    /// looks at them keeps up.
    LiveRecorder(What what, std::function<void(const LiveState &)> tell, std::function<bool()> mayGoOn);
    ~LiveRecorder(); ///< stops it, and waits for that
    void stop();     ///< at once, without waiting
    bool running() const { return m_running; }

private:
    void work();
    void takeOne(std::unique_ptr<LiveSource> &source);
    void keep(const LiveRecord &record);
    void pause(std::chrono::milliseconds time); ///< throws Cancelled when it is stopped
    What m_what;
    std::function<void(const LiveState &)> m_tell;
    std::function<bool()> m_mayGoOn;
    LiveState m_state;
    std::size_t m_next = 1;
    int m_tries = 0; ///< to read a capture that was taken; 0: none waits to be read
    std::chrono::steady_clock::time_point m_began;
    Progress m_progress;
    std::mutex m_mutex;
    std::condition_variable m_wake;
    std::atomic<bool> m_running = true;
    std::jthread m_thread;
};

} // namespace fulvex
