#include "page_keeper.h"

#include "document_json.h"
#include "failure_text.h"
#include "fingerprint.h"
#include "give_way.h"
#include "program_log.h"

namespace fulvex {

ReportContent ReportSources::content(const std::string &sha256, Progress &progress) const
{
    const std::string text = sha256.empty() ? fulvex::sha256(documentText(*results->document)) : sha256;
    return reportContent({*results, {text, utcNow()}, plans, comparisons}, progress);
}

PageKeeper::PageKeeper(QObject *parent) : QObject(parent), m_thread([this](std::stop_token stop) { work(stop); }) {}

PageKeeper::~PageKeeper()
{
    m_thread.request_stop();
    {
        const std::lock_guard lock(m_mutex);
        if (m_progress) m_progress->cancel();
    }
    m_thread.join();
}

void PageKeeper::ask(std::optional<ReportSources> sources)
{
    {
        const std::lock_guard lock(m_mutex);
        if (m_progress) m_progress->cancel();
        m_wanted = std::move(sources);
        ++m_number;
        m_wake.notify_all();
    }
    emit busyChanged();
}

bool PageKeeper::busy() const
{
    const std::lock_guard lock(m_mutex);
    return m_progress || m_wanted;
}

double PageKeeper::fraction() const
{
    const std::lock_guard lock(m_mutex);
    return m_progress ? m_progress->fraction() : 0;
}

void PageKeeper::work(std::stop_token stop)
{
    giveWay();
    while (!stop.stop_requested()) {
        std::optional<ReportSources> sources;
        const auto progress = std::make_shared<Progress>();
        std::uint64_t number = 0;
        {
            std::unique_lock lock(m_mutex);
            m_wake.wait(lock, stop, [&] { return m_wanted.has_value(); });
            if (stop.stop_requested()) return;
            sources = std::exchange(m_wanted, std::nullopt);
            number = m_number;
            m_progress = progress;
        }
        auto made = std::make_shared<MadePages>();
        made->session = sources->session;
        try {
            made->pages = std::make_shared<const ReportPages>(reportPages(sources->content({}, *progress), *progress));
        } catch (const Cancelled &) {
            made.reset(); // something newer is wanted, or nothing
        } catch (...) {
            made->error = failureText();
            logLine(LogLevel::warning, "a report cannot be laid out: " + failureForLog());
        }
        {
            const std::lock_guard lock(m_mutex);
            m_progress.reset();
        }
        m_mail.post([this, made, number] {
            {
                const std::lock_guard lock(m_mutex);
                if (number != m_number) return; // asked anew meanwhile
            }
            if (made) emit told(made);
            emit busyChanged();
        });
    }
}

} // namespace fulvex
