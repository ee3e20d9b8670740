#include "evaluator.h"

#include "failure_text.h"
#include "freed_memory.h"
#include "give_way.h"
#include "number_text.h"
#include "program_folders.h"
#include "program_log.h"

#include <atomic>

namespace fulvex {

Evaluator::Evaluator(std::shared_ptr<Engine> engine, QObject *parent)
    : QObject(parent), m_engine(engine ? std::move(engine) : std::make_shared<Engine>(shareFolder() / "masks")),
      m_thread([this](std::stop_token stop) { work(stop); }), m_teller([this](std::stop_token stop) { tell(stop); })
{
}

Evaluator::~Evaluator()
{
    cancel();
    m_thread.request_stop();
    m_teller.request_stop();
    m_wake.notify_all();
    m_thread.join();
    m_teller.join();
}

void Evaluator::request(const Document &document, const std::filesystem::path &base, std::vector<std::string> inView,
                        EvaluationTicket ticket)
{
    constexpr std::chrono::milliseconds longest(400);
    const std::lock_guard lock(m_mutex);
    m_waiting = Request{document, base, std::move(inView), ticket};
    if (m_running && (m_running->ticket.session != ticket.session || m_running->answered ||
                      std::chrono::steady_clock::now() - m_running->started > longest))
        m_running->progress.cancel();
    m_wake.notify_all();
}

void Evaluator::cancel()
{
    const std::lock_guard lock(m_mutex);
    if (m_waiting) postEnded(m_waiting->ticket);
    m_waiting.reset();
    if (m_running) m_running->progress.cancel();
}

bool Evaluator::busy() const
{
    const std::lock_guard lock(m_mutex);
    return m_running || m_waiting;
}

bool Evaluator::attends(EvaluationTicket ticket) const
{
    const std::lock_guard lock(m_mutex);
    return (m_waiting && m_waiting->ticket == ticket) ||
           (m_running && m_running->ticket == ticket && !m_running->progress.cancelled());
}

double Evaluator::fraction() const
{
    const std::lock_guard lock(m_mutex);
    return m_running ? m_running->progress.fraction() : 0;
}

void Evaluator::post(std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete)
{
    {
        const std::lock_guard lock(m_mutex);
        m_told = results;
        m_toldSession = ticket.session;
    }
    m_mail.post([this, results = std::move(results), ticket, complete] { emit finished(results, ticket, complete); });
}

void Evaluator::postEnded(EvaluationTicket ticket)
{
    m_mail.post([this, ticket] { emit ended(ticket); });
}

void Evaluator::tellNews(Run &run)
{
    const std::lock_guard telling(run.telling);
    if (run.over) return;
    auto news = run.board.news();
    if (!news) return;
    for (const CaptureResult &capture : news->captures) {
        if (!capture.disturbance().empty()) return; // it will be computed without that one
    }
    post(std::make_shared<const Results>(std::move(*news)), run.ticket, false);
}

void Evaluator::logRun(const Document &document, const Run &run) const
{
    if (!isLogged(LogLevel::info)) return;
    const auto counted = [](std::size_t count, const char *what) { return std::to_string(count) + " " + what + ", "; };
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - run.started).count();
    logLine(LogLevel::info, "evaluated " + counted(document.captures.size(), "captures") +
                                counted(document.channels.size(), "channels") +
                                counted(document.clocks.size(), "clocks") + counted(document.eyes.size(), "eyes") +
                                counted(document.measurements.size(), "rows") + "in " + fixedText(seconds, 3) + " s");
    if (isLogged(LogLevel::debug)) logLine(LogLevel::debug, costText(m_engine->cache()));
}

void Evaluator::evaluate(const Request &request, Run &run)
{
    Engine::Options options{
        .pyramids = true, .sketches = true, .fingerprints = true, .brokenMasksStop = false, .check = true};
    options.first = request.inView;
    options.news = [&] { tellNews(run); };
    options.answered = [&] {
        tellNews(run);
        run.answered = true;
        const std::lock_guard lock(m_mutex);
        if (m_waiting) run.progress.cancel(); // who waits has waited for this
    };
    {
        const std::lock_guard lock(m_mutex);
        if (m_toldSession == run.ticket.session) options.older = m_told;
    }
    const auto end = [&] {
        const std::lock_guard telling(run.telling);
        run.over = true;
    };
    try {
        auto results = std::make_shared<const Results>(
            m_engine->evaluate(request.document, request.base, options, run.progress, &run.board));
        end();
        logRun(request.document, run);
        post(std::move(results), run.ticket, true);
    } catch (const Cancelled &) {
        end(); // whoever cancelled knows
    } catch (...) {
        const std::string why = failureText();
        logLine(LogLevel::error, "evaluation failed: " + failureForLog());
        tellNews(run); // traces, where it came so far
        end();
        m_mail.post([this, why, ticket = run.ticket] { emit failed(QString::fromStdString(why), ticket); });
    }
}

void Evaluator::work(std::stop_token stop)
{
    giveWay();
    constexpr std::chrono::milliseconds rest(500);
    std::uint64_t session = 0;
    bool files = false; ///< were asked for in that session
    while (!stop.stop_requested()) {
        Request request;
        std::shared_ptr<Run> run;
        {
            std::unique_lock lock(m_mutex);
            const auto isWanted = [&] { return m_waiting.has_value(); };
            if (session && !m_wake.wait_for(lock, stop, rest, isWanted) && !stop.stop_requested()) {
                lock.unlock();
                giveFreedMemoryBack();
                lock.lock();
            }
            m_wake.wait(lock, stop, isWanted);
            if (stop.stop_requested()) return;
            request = std::move(*m_waiting);
            m_waiting.reset();
            run = m_running = std::make_shared<Run>();
            run->ticket = request.ticket;
            m_wake.notify_all();
        }
        m_mail.post([this] { emit busyChanged(true); });
        if (request.ticket.session != session && files) m_engine->clear(); // another project, with files of its own
        session = request.ticket.session;
        files = !request.document.captures.empty();
        evaluate(request, *run);
        {
            const std::lock_guard lock(m_mutex);
            m_running.reset();
            m_wake.notify_all();
        }
        postEnded(request.ticket);
        m_mail.post([this] { emit busyChanged(busy()); });
    }
}

void Evaluator::tell(std::stop_token stop)
{
    constexpr std::chrono::milliseconds often(40);
    std::shared_ptr<Run> known;
    while (!stop.stop_requested()) {
        {
            known.reset(); // what it holds may be large
            std::unique_lock lock(m_mutex);
            m_wake.wait(lock, stop, [&] { return m_running != nullptr; });
            known = m_running;
            m_wake.wait_for(lock, stop, often, [&] { return m_running != known; });
        }
        if (known) tellNews(*known);
    }
}

} // namespace fulvex
