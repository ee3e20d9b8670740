#include "live_keeper.h"

#include "program_folders.h"

namespace fulvex {

void LiveKeeper::start(const CaptureEntry &entry, const std::filesystem::path &base, std::size_t captures,
                       std::function<bool()> mayGoOn)
{
    LiveRecorder::What what{entry.live.address, findDialect(entry.live.dialect, shareFolder() / "dialects", base),
                            base / entry.live.folder, captures};
    stop();
    m_capture = entry.id;
    m_state = {};
    m_state.running = true;
    const std::uint64_t number = ++m_number;
    m_recorder = std::make_unique<LiveRecorder>(
        std::move(what),
        [this, number](const LiveState &state) { m_mail.post([this, state, number] { take(state, number); }); },
        std::move(mayGoOn));
    emit changed();
}

void LiveKeeper::stop()
{
    std::erase_if(m_ending, [](const auto &one) { return !one->running(); });
    if (!m_recorder) return;
    m_recorder->stop();
    m_ending.push_back(std::move(m_recorder)); // its end is not waited for here
    m_state.running = false;
    emit changed();
}

void LiveKeeper::drop()
{
    stop();
    ++m_number;
    m_capture.clear();
    m_state = {};
}

void LiveKeeper::take(const LiveState &state, std::uint64_t number)
{
    if (number != m_number) return;
    const bool fresh = state.newest != m_state.newest && !state.newest.empty();
    m_state = state;
    if (!m_recorder) m_state.running = false; // it was stopped meanwhile
    if (fresh) emit arrived(m_capture, QString::fromStdString(state.newest));
    emit changed();
}

} // namespace fulvex
