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

bool Evaluator::attends(EvaluationTicket ticket) const
{
    const std::lock_guard lock(m_mutex);
    return (m_waiting && m_waiting->ticket == ticket) || (m_running && m_runs == ticket && !m_running->cancelled());
}

double Evaluator::fraction() const
{
    const std::lock_guard lock(m_mutex);
    return m_running ? m_running->fraction() : 0;
}

void Evaluator::post(std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete)
{
    m_mail.post([this, results = std::move(results), ticket, complete] { emit finished(results, ticket, complete); });
}

void Evaluator::postEnded(EvaluationTicket ticket)
{
    m_mail.post([this, ticket] { emit ended(ticket); });
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
            const auto glance = [&](Engine::Options options) {
                auto seen = std::make_shared<Results>(m_engine.evaluate(look, request.base, options, progress));
                seen->document = std::make_shared<const Document>(request.document); // as far as it goes, of this one
                return seen;
            };
            const auto first = glance({.pyramids = true, .sketches = true});
            const bool sketched = std::any_of(first->channels.begin(), first->channels.end(), [](const auto &channel) {
                return channel.pyramid && channel.pyramid->isSketch();
            });
            post(first, request.ticket, false);
            {
                const std::lock_guard lock(m_mutex);
                m_shown = request.document.captures;
                m_shownSession = request.ticket.session;
            }
            if (sketched) post(glance({.pyramids = true}), request.ticket, false);
        }
        auto results = std::make_shared<const Results>(m_engine.evaluate(
            request.document, request.base, {.pyramids = true, .fingerprints = true, .check = true}, progress));
        post(std::move(results), request.ticket, true);
    } catch (const Cancelled &) {
        // whoever cancelled knows
    } catch (...) {
        m_mail.post([this, message = failureText(), ticket = request.ticket] {
            emit failed(QString::fromStdString(message), ticket);
        });
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
        m_mail.post([this] { emit busyChanged(true); });
        evaluate(request, *progress);
        {
            const std::lock_guard lock(m_mutex);
            m_running.reset();
        }
        postEnded(request.ticket);
        m_mail.post([this] { emit busyChanged(busy()); });
    }
}

} // namespace fulvex
