#pragma once

#include "mailbox.h"
#include "report_pages.h"

#include <QObject>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

namespace fulvex {

/// All that a report of a project is made from: snapshots, so that it can be made on any thread.
struct ReportSources {
    std::uint64_t session = 0;
    std::shared_ptr<const Results> results; ///< with the document as saving would write it now
    std::vector<ReportedPlan> plans;
    std::vector<ReportedComparison> comparisons;
    /// `sha256`: of the project's file; empty: it is that of the document's text. Throws Cancelled.
    ReportContent content(const std::string &sha256, Progress &progress) const;
};

/// A report as it would be printed now.
struct MadePages {
    std::uint64_t session = 0;
    std::shared_ptr<const ReportPages> pages;
    std::string error; ///< not empty: it could not be made, and why
};

/// Lays the pages of a report on a thread of its own: the newest that was asked for. What is told carries the session
/// that it is of. Lives on the interface's thread.
class PageKeeper final : public QObject {
    Q_OBJECT
public:
    explicit PageKeeper(QObject *parent = nullptr);
    ~PageKeeper() override; ///< cancels what it makes
    /// Makes these; what was asked for before is not made any more. Nothing: makes none.
    void ask(std::optional<ReportSources> sources);
    bool busy() const;
    double fraction() const; ///< of what is made, 0 to 1

signals:
    void told(std::shared_ptr<const MadePages> made);
    void busyChanged();

private:
    void work(std::stop_token stop);
    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<ReportSources> m_wanted;
    std::uint64_t m_number = 0; ///< of what was asked for last
    std::shared_ptr<Progress> m_progress;
    Mailbox m_mail;
    std::jthread m_thread;
};

} // namespace fulvex
