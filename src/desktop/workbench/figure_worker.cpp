#include "figure_worker.h"

#include "failure_text.h"
#include "number_text.h"
#include "program_log.h"

#include <algorithm>

namespace fulvex {

FigureWorker::FigureWorker(QObject *parent) : QObject(parent), m_thread([this](std::stop_token stop) { attend(stop); })
{
}

FigureWorker::~FigureWorker()
{
    {
        const std::lock_guard lock(m_mutex);
        m_waiting.clear();
    }
    m_thread.request_stop();
    m_wake.notify_all();
    m_thread.join();
}

void FigureWorker::ask(const void *who, std::function<Delivery()> work)
{
    const std::lock_guard lock(m_mutex);
    const auto before =
        std::find_if(m_waiting.begin(), m_waiting.end(), [&](const Job &job) { return job.who == who; });
    if (before != m_waiting.end()) {
        before->work = std::move(work);
        return;
    }
    ++m_open;
    m_waiting.push_back({who, std::move(work)});
    m_wake.notify_all();
}

void FigureWorker::afterwards(Delivery act)
{
    const std::lock_guard lock(m_mutex);
    ++m_open;
    m_waiting.push_back({nullptr, [act = std::move(act)] { return act; }});
    m_wake.notify_all();
}

void FigureWorker::attend(std::stop_token stop)
{
    showNumbersHere();
    while (true) {
        Job job;
        {
            std::unique_lock lock(m_mutex);
            if (!m_wake.wait(lock, stop, [&] { return !m_waiting.empty(); })) return;
            job = std::move(m_waiting.front());
            m_waiting.pop_front();
        }
        Delivery delivery = [] {};
        try {
            delivery = job.work();
        } catch (...) { // what was drawn before stays
            logLine(LogLevel::error, "a figure could not be drawn: " + failureForLog());
        }
        m_mail.post([this, delivery = std::move(delivery)] {
            --m_open;
            delivery();
        });
    }
}

} // namespace fulvex
