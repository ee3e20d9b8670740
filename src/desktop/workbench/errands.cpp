#include "errands.h"

#include "failure_text.h"
#include "give_way.h"
#include "program_log.h"

#include <QEventLoop>
#include <QTimer>

namespace fulvex {

Errands::Errands(QObject *parent) : QObject(parent), m_thread([this](std::stop_token stop) { attend(stop); }) {}

Errands::~Errands()
{
    {
        const std::lock_guard lock(m_mutex);
        m_waiting.clear();
        if (m_running) m_running->cancel();
    }
    m_thread.request_stop();
    m_wake.notify_all();
    m_thread.join();
}

void Errands::run(std::function<void(Progress &)> work, std::function<void()> done)
{
    if (++m_open == 1) emit busyChanged(true);
    const std::lock_guard lock(m_mutex);
    m_waiting.push_back({std::move(work), std::move(done)});
    m_wake.notify_all();
}

void Errands::cancel()
{
    const std::lock_guard lock(m_mutex);
    if (m_running) m_running->cancel();
}

bool Errands::busy() const
{
    return m_open > 0;
}

double Errands::fraction() const
{
    const std::lock_guard lock(m_mutex);
    return m_running ? m_running->fraction() : 0;
}

void Errands::finish(int patience)
{
    QEventLoop loop;
    if (patience >= 0) QTimer::singleShot(patience, &loop, &QEventLoop::quit);
    connect(this, &Errands::busyChanged, &loop, [&](bool busy) {
        if (!busy) loop.quit();
    });
    if (busy()) loop.exec();
}

void Errands::post(std::function<void()> act)
{
    m_mail.post([this, act = std::move(act)] {
        act();
        if (--m_open == 0) emit busyChanged(false);
    });
}

void Errands::attend(std::stop_token stop)
{
    giveWay();
    while (true) {
        Errand errand;
        std::shared_ptr<Progress> progress;
        {
            std::unique_lock lock(m_mutex);
            if (!m_wake.wait(lock, stop, [&] { return !m_waiting.empty(); })) return;
            errand = std::move(m_waiting.front());
            m_waiting.pop_front();
            progress = m_running = std::make_shared<Progress>();
        }
        std::function<void()> after = [] {};
        try {
            errand.work(*progress);
            if (errand.done) after = std::move(errand.done);
        } catch (const Cancelled &) {
            // whoever cancelled knows
        } catch (...) {
            logLine(LogLevel::error, "file work failed: " + failureForLog());
            after = [this, message = failureText()] { emit failed(QString::fromStdString(message)); };
        }
        {
            const std::lock_guard lock(m_mutex);
            m_running.reset();
        }
        post(std::move(after));
    }
}

} // namespace fulvex
