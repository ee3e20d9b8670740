#pragma once

#include "document.h"
#include "live_recorder.h"
#include "mailbox.h"

#include <QObject>
#include <memory>

namespace fulvex {

/// The one acquisition of a window: has an instrument take captures, and tells which files came. What is told of one
/// that another took the place of, or of another project, is not passed on.
class LiveKeeper final : public QObject {
    Q_OBJECT
public:
    explicit LiveKeeper(QObject *parent = nullptr) : QObject(parent) {}
    /// `captures`: 0: until it is stopped. Throws Error where the entry's dialect cannot be used. `mayGoOn` is asked
    /// from another thread.
    void start(const CaptureEntry &entry, const std::filesystem::path &base, std::size_t captures,
               std::function<bool()> mayGoOn);
    void stop(); ///< at once; what was read already is written, and told
    void drop(); ///< stops, and tells of it no more: another project is opened
    bool running() const { return m_recorder && m_recorder->running(); }
    const LiveState &state() const { return m_state; }
    const std::string &capture() const { return m_capture; } ///< the entry that it is for

signals:
    void changed();
    void arrived(const std::string &capture, const QString &file);

private:
    void take(const LiveState &state, std::uint64_t number);
    std::string m_capture;
    std::uint64_t m_number = 0; ///< of the acquisition
    LiveState m_state;
    Mailbox m_mail;
    std::unique_ptr<LiveRecorder> m_recorder;
    std::vector<std::unique_ptr<LiveRecorder>> m_ending; ///< stopped, and not at their end yet
};

} // namespace fulvex
