#pragma once

#include <QObject>
#include <deque>
#include <functional>
#include <mutex>

namespace fulvex {

/// Hands calls from any thread to the one it lives in, whose event loop makes them one by one in the order posted.
/// What is not made when the mailbox goes is never made.
class Mailbox final : public QObject {
    Q_OBJECT
public:
    void post(std::function<void()> call);

private:
    Q_INVOKABLE void deliver();
    std::mutex m_mutex;
    std::deque<std::function<void()>> m_calls;
};

/// Makes a call on the interface's thread, in the order asked for, however soon the one that asks goes. An application
/// must be there.
void callOnInterface(std::function<void()> call);

} // namespace fulvex
