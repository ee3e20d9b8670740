#include "mailbox.h"

#include <QCoreApplication>

namespace fulvex {

void Mailbox::post(std::function<void()> call)
{
    {
        const std::lock_guard lock(m_mutex);
        m_calls.push_back(std::move(call));
    }
    QMetaObject::invokeMethod(this, "deliver", Qt::QueuedConnection);
}

void Mailbox::deliver()
{
    std::function<void()> call;
    {
        const std::lock_guard lock(m_mutex);
        call = std::move(m_calls.front());
        m_calls.pop_front();
    }
    call();
}

void callOnInterface(std::function<void()> call)
{
    auto *mailbox = new Mailbox;
    mailbox->moveToThread(QCoreApplication::instance()->thread());
    mailbox->post([mailbox, call = std::move(call)] {
        call();
        mailbox->deleteLater(); // here: deletions may be done before calls that were posted earlier
    });
}

} // namespace fulvex
