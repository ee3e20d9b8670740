#include "run_command.h"

#include "capture_runs.h"
#include "core_loop.h"
#include "engine.h"
#include "error.h"
#include "failure_text.h"
#include "part_file.h"
#include "plain_text.h"
#include "population_file.h"
#include "program_folders.h"
#include "program_log.h"
#include "progress_bar.h"
#include "project_file.h"
#include "report.h"
#include "report_files.h"
#include "run_course.h"
#include "run_members.h"
#include "table_text.h"

#include <atomic>
#include <cstdio>
#include <filesystem>
#include <mutex>
#include <optional>
#include <thread>
#include <unistd.h>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

/// Each row's population, and its histogram where it has one, by its id.
void writePopulations(const Results &results, const fs::path &folder, Progress &progress)
{
    for (const Row &row : results.rows) {
        writePopulation(folder / (row.id + ".npy"), row, progress);
        if (!row.histogram.counts.empty()) writeHistogram(folder / (row.id + ".histogram.npy"), row, row.histogram);
    }
}

/// Captures one behind the other, by several at a time: what they give does not depend on which is first.
class CaptureLoop {
public:
    CaptureLoop(const RunCommand &command, const OpenedProject &project, Progress &progress)
        : m_command(command), m_project(project), m_progress(progress),
          m_document(documentFor(command, project.document)), m_members(membersOf(m_document, project.base)),
          m_course(stopAt(m_document))
    {
        if (m_members.empty())
            throw Error(command.project, "names captures by a pattern or a folder that has none",
                        "give files by --capture, or see \"captures\" in the project");
    }
    /// Throws Error where none can be used, and whatever ended it.
    Results run()
    {
        std::vector<std::jthread> others;
        const int jobs = std::min(m_command.jobs, int(m_members.size()));
        for (int i = 1; i < jobs; ++i) others.emplace_back([this] { work(); });
        work();
        others.clear(); // waits for them
        if (m_failure) std::rethrow_exception(m_failure);
        if (m_only) return *m_only;
        if (m_course.empty())
            throw Error("", m_lastError.empty() ? m_command.project + ": every capture is left out" : m_lastError);
        Results all = m_course.results();
        if (m_traced) all.channels = m_traced->channels;
        return all;
    }
    /// Failed captures ended it before all were taken.
    bool ended() const { return m_course.ended(); }
    bool leftSomeOut() const { return !m_lastError.empty(); }
    /// Throws Error where a capture whose samples are read again, for pictures, was written to meanwhile.
    void checkTraced() const
    {
        const std::optional<Results> &read = m_only ? m_only : m_traced;
        if (!read) return;
        for (const CaptureResult &capture : read->captures) {
            if (const std::string why = capture.disturbance(); !why.empty())
                throw Error("", why, "wait until it is written, and run again");
        }
    }

private:
    bool several() const { return m_members.size() > 1; }
    void work()
    {
        Engine engine(shareFolder() / "masks", 0); // what one capture used helps the next, and nobody after that
        try {
            for (std::size_t at = m_next++; at < m_members.size(); at = m_next++) take(engine, at);
        } catch (...) {
            const std::lock_guard lock(m_mutex);
            if (!m_failure) m_failure = std::current_exception();
            m_next = m_members.size();
            m_progress.cancel();
        }
        if (m_command.verbose) std::fputs(costText(engine.cache()).c_str(), stderr);
        if (isLogged(LogLevel::debug)) logLine(LogLevel::debug, costText(engine.cache()));
    }
    void take(Engine &engine, std::size_t at)
    {
        const RunMember &member = m_members[at];
        if (!member.leftOut.empty()) {
            const std::lock_guard lock(m_mutex);
            m_course.skip(at);
            return;
        }
        const Document document = documentOf(m_document, member);
        Results made;
        try {
            made = engine.evaluate(document, m_project.base,
                                   {.pyramids = !m_command.out.empty() && at == 0,
                                    .traces = tracesInReport(document),
                                    .fingerprints = true,
                                    .check = true,
                                    .mergeable = several() || !m_command.part.empty()},
                                   m_progress);
        } catch (const Error &error) {
            throw error.within(m_command.project);
        }
        const std::string error = made.firstError();
        if (!error.empty() && !several()) throw Error("", error);
        if (error.empty() && !m_command.populations.empty()) {
            const fs::path folder(m_command.populations);
            const std::string its = several() ? folder / std::to_string(at + 1) : folder;
            makeFolder(its, "--populations");
            writePopulations(made, its, m_progress);
        }
        const std::lock_guard lock(m_mutex);
        if (!error.empty()) { // of many captures one that cannot be read is told, and the others count
            std::fprintf(stderr, "left out: %s\n", shownText(error).c_str());
            m_course.leaveOut(at, made);
            m_lastError = error;
        } else if (several() || !m_command.part.empty()) {
            if (at == 0) m_traced = made;
            m_course.add(at, summaryOf(std::move(made), member.name));
            if (m_course.ended()) m_next = m_members.size();
        } else {
            m_only = std::move(made);
        }
    }

    const RunCommand &m_command;
    const OpenedProject &m_project;
    Progress &m_progress;
    Document m_document;
    std::vector<RunMember> m_members;
    std::atomic<std::size_t> m_next = 0;
    std::mutex m_mutex; ///< of what follows
    RunCourse m_course;
    std::optional<Results> m_only;
    std::optional<Results> m_traced; ///< the first of several: its traces are shown
    std::string m_lastError;
    std::exception_ptr m_failure;
};

} // namespace

int run(const RunCommand &command)
{
    Progress progress;
    const OpenedProject project = openProject(command.project, progress);
    makeFolder(command.out, "--out");
    makeFolder(command.populations, "--populations");
    CaptureLoop loop(command, project, progress);
    const Results results = [&] {
        const ProgressBar bar(progress, !command.quiet && isatty(STDERR_FILENO));
        return loop.run();
    }();
    if (loop.ended() && !command.quiet) std::fputs("ended by failed captures, as the project asks\n", stderr);
    if (!command.part.empty()) writePart(command.part, results);
    if (command.out.empty()) {
        if (!command.quiet) std::fputs(terminalTable(results).c_str(), stdout);
    } else {
        // Figures read samples again: of the captures as they were computed, or not at all.
        writeReport(results, project, command.out, progress, [&] { loop.checkTraced(); });
        if (command.verbose) std::fprintf(stderr, "wrote %s\n", shownText(command.out).c_str());
    }
    writeJunit(command.junit, results);
    return results.anyFailed() || loop.leftSomeOut() ? 1 : 0;
}

} // namespace fulvex
