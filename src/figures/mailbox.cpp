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

namespace {

/// The interface's mailbox: made with the application, in its thread, and gone with it. One made by the thread that
/// posts would be an object that two threads hold, one of them without a lock.
Mailbox *interfaceMailbox = nullptr;

void makeInterfaceMailbox()
{
    interfaceMailbox = new Mailbox;
    interfaceMailbox->setParent(QCoreApplication::instance());
}

} // namespace

Q_COREAPP_STARTUP_FUNCTION(makeInterfaceMailbox)

void callOnInterface(std::function<void()> call)
{
    interfaceMailbox->post(std::move(call));
}

} // namespace fulvex
