#include "live_recorder.h"

#include "error.h"
#include "failure_text.h"
#include "live_file.h"

#include <algorithm>
#include <map>
#include <mutex>

namespace fulvex {

namespace {

using namespace std::chrono_literals;
constexpr auto firstPause = 200ms, longestPause = 5000ms, untilRoom = 1000ms, untilReady = 5ms;

/// Numbers that captures were given while the program runs. One whose file went was counted by its name, and another of
/// that name would count for nothing.
class GivenNumbers {
public:
    std::size_t freeIn(const std::filesystem::path &folder)
    {
        const std::lock_guard lock(m_mutex);
        return std::max(nextLiveNumber(folder), m_last[folder] + 1);
    }
    void give(const std::filesystem::path &folder, std::size_t number)
    {
        const std::lock_guard lock(m_mutex);
        m_last[folder] = number;
    }

private:
    std::mutex m_mutex;
    std::map<std::filesystem::path, std::size_t> m_last;
};

GivenNumbers &numbers()
{
    static GivenNumbers given;
    return given;
}

} // namespace

LiveRecorder::LiveRecorder(What what, std::function<void(const LiveState &)> tell, std::function<bool()> mayGoOn)
    : m_what(std::move(what)), m_tell(std::move(tell)), m_mayGoOn(std::move(mayGoOn)),
      m_began(std::chrono::steady_clock::now()), m_thread([this] { work(); })
{
}

LiveRecorder::~LiveRecorder()
{
    stop();
    m_thread.join();
}

void LiveRecorder::stop()
{
    {
        const std::lock_guard lock(m_mutex); // or a pause that begins just now would not hear of it
        m_progress.cancel();
    }
    m_wake.notify_all();
}

void LiveRecorder::pause(std::chrono::milliseconds time)
{
    std::unique_lock lock(m_mutex);
    m_wake.wait_for(lock, time, [this] { return m_progress.cancelled(); });
    m_progress.advance(0);
}

void LiveRecorder::keep(const LiveRecord &record)
{
    const std::filesystem::path path = liveFile(m_what.folder, m_next);
    while (true) {
        try {
            writeLive(path, record);
            break;
        } catch (const Error &error) { // no room: it is kept in memory until there is some
            m_state.message = error.what();
            m_tell(m_state);
            pause(untilRoom);
        }
    }
    numbers().give(m_what.folder, m_next++);
    ++m_state.captures;
    m_state.newest = path.string();
    m_state.message.clear();
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - m_began).count();
    m_state.perSecond = double(m_state.captures) / std::max(seconds, 1e-3);
}

void LiveRecorder::takeOne(std::unique_ptr<LiveSource> &source)
{
    if (!source) {
        source = std::make_unique<LiveSource>(m_what.address, m_what.dialect, m_progress);
        m_state.identity = source->identity();
        m_tell(m_state);
    }
    constexpr int mostTries = 3; // then the instrument has it no more
    if (m_tries == 0 || m_tries == mostTries) {
        m_tries = 0;
        source->take(m_progress);
    }
    ++m_tries;
    const LiveRecord record = source->read(m_progress);
    m_tries = 0;
    keep(record);
    m_tell(m_state);
}

void LiveRecorder::work()
{
    std::unique_ptr<LiveSource> source;
    m_state.running = true;
    auto wait = firstPause;
    try {
        std::error_code failure;
        std::filesystem::create_directories(m_what.folder, failure);
        m_next = numbers().freeIn(m_what.folder);
        while (m_what.captures == 0 || m_state.captures < m_what.captures) {
            while (!m_mayGoOn()) pause(untilReady);
            try {
                takeOne(source);
                wait = firstPause;
            } catch (const Error &error) {
                source.reset();
                m_state.message = error.what();
                m_tell(m_state);
                pause(wait);
                wait = std::min<std::chrono::milliseconds>(2 * wait, longestPause);
            }
        }
    } catch (const Cancelled &) {
        if (source) source->abort();
    } catch (...) { // no memory for what it sent
        m_state.message = failureText();
    }
    m_state.running = false;
    m_running = false;
    m_tell(m_state);
}

} // namespace fulvex
