#include "evaluator.h"

#include "failure_text.h"
#include "share_folder.h"

#include <algorithm>

namespace fulvex {

Evaluator::Evaluator(QObject *parent)
    : QObject(parent), m_engine(shareFolder() / "masks"), m_thread([this](std::stop_token stop) { work(stop); })
{
}

Evaluator::~Evaluator()
{
    cancel();
    m_thread.request_stop();
    m_wake.notify_all();
    m_thread.join();
}

void Evaluator::request(const Document &document, const std::filesystem::path &base, EvaluationTicket ticket)
{
    constexpr std::chrono::milliseconds young(400);
    const std::lock_guard lock(m_mutex);
    const bool shown = ticket.session == m_shownSession && document.captures == m_shown;
    m_waiting = Request{document, base, ticket, !shown};
    const bool overtaken = m_runs.session != ticket.session || std::chrono::steady_clock::now() - m_started > young;
    if (m_running && overtaken) m_running->cancel();
    m_wake.notify_all();
}

void Evaluator::cancel()
{
    const std::lock_guard lock(m_mutex);
    if (m_waiting) postEnded(m_waiting->ticket);
    m_waiting.reset();
    if (m_running) m_running->cancel();
}

bool Evaluator::busy() const
{
    const std::lock_guard lock(m_mutex);
    return m_running || m_waiting;
}

double Evaluator::fraction() const
{
    const std::lock_guard lock(m_mutex);
    return m_running ? m_running->fraction() : 0;
}

void Evaluator::post(std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete)
{
    QMetaObject::invokeMethod(
        this, [this, results = std::move(results), ticket, complete] { emit finished(results, ticket, complete); },
        Qt::QueuedConnection);
}

void Evaluator::postEnded(EvaluationTicket ticket)
{
    QMetaObject::invokeMethod(
        this, [this, ticket] { emit ended(ticket); }, Qt::QueuedConnection);
}

void Evaluator::evaluate(const Request &request, Progress &progress)
{
    try {
        if (request.firstLook) { // the traces at once, the numbers when they are ready
            Document look = request.document;
            look.clocks.clear();
            look.eyes.clear();
            look.masks.clear();
            look.measurements.clear();
            auto first = std::make_shared<const Results>(
                m_engine.evaluate(look, request.base, {.pyramids = true, .sketches = true}, progress));
            const bool sketched = std::any_of(first->channels.begin(), first->channels.end(), [](const auto &channel) {
                return channel.pyramid && channel.pyramid->isSketch();
            });
            post(std::move(first), request.ticket, false);
            {
                const std::lock_guard lock(m_mutex);
                m_shown = request.document.captures;
                m_shownSession = request.ticket.session;
            }
            if (sketched)
                post(std::make_shared<const Results>(
                         m_engine.evaluate(look, request.base, {.pyramids = true}, progress)),
                     request.ticket, false);
        }
        auto results = std::make_shared<const Results>(m_engine.evaluate(
            request.document, request.base, {.pyramids = true, .fingerprints = true, .check = true}, progress));
        post(std::move(results), request.ticket, true);
    } catch (const Cancelled &) {
        // whoever cancelled knows
    } catch (...) {
        QMetaObject::invokeMethod(
            this,
            [this, message = QString::fromStdString(failureText()), ticket = request.ticket] {
                emit failed(message, ticket);
            },
            Qt::QueuedConnection);
    }
}

void Evaluator::work(std::stop_token stop)
{
    while (!stop.stop_requested()) {
        Request request;
        std::shared_ptr<Progress> progress;
        {
            std::unique_lock lock(m_mutex);
            m_wake.wait(lock, stop, [&] { return m_waiting.has_value(); });
            if (stop.stop_requested()) return;
            request = std::move(*m_waiting);
            m_waiting.reset();
            m_runs = request.ticket;
            progress = m_running = std::make_shared<Progress>();
            m_started = std::chrono::steady_clock::now();
        }
        QMetaObject::invokeMethod(
            this, [this] { emit busyChanged(true); }, Qt::QueuedConnection);
        evaluate(request, *progress);
        {
            const std::lock_guard lock(m_mutex);
            m_running.reset();
        }
        postEnded(request.ticket);
        QMetaObject::invokeMethod(
            this, [this] { emit busyChanged(busy()); }, Qt::QueuedConnection);
    }
}

} // namespace fulvex
