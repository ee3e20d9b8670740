#include "watch_command.h"

#include "capture_runs.h"
#include "error.h"
#include "plain_text.h"
#include "program_folders.h"
#include "project_file.h"
#include "report_files.h"
#include "run_gathering.h"
#include "word_list.h"

#include <atomic>
#include <chrono>
#include <csignal>
#include <cstdio>
#include <thread>

namespace fulvex {

namespace {

using Steady = std::chrono::steady_clock;
constexpr std::chrono::milliseconds often(300);

/// Tells when the program is to end: signals are blocked everywhere, and one thread waits for them.
class EndSignals {
public:
    EndSignals()
    {
        sigemptyset(&m_signals);
        sigaddset(&m_signals, SIGINT);
        sigaddset(&m_signals, SIGTERM);
        pthread_sigmask(SIG_BLOCK, &m_signals, nullptr);
        m_thread = std::jthread([this](std::stop_token stop) { wait(stop); });
    }
    bool came() const { return m_came; }
    Progress &progress() { return m_progress; } ///< cancelled then

private:
    void wait(std::stop_token stop)
    {
        while (!stop.stop_requested()) {
            const timespec soon{0, 100'000'000};
            if (sigtimedwait(&m_signals, nullptr, &soon) < 0) continue;
            m_came = true;
            m_progress.cancel();
        }
    }
    sigset_t m_signals;
    std::atomic<bool> m_came = false;
    Progress m_progress;
    std::jthread m_thread;
};

Document watchedDocument(const WatchCommand &command, const Document &project)
{
    RunCommand given;
    given.project = command.project;
    given.captures = command.captures;
    given.parameters = command.parameters;
    Document document = documentFor(given, project);
    for (CaptureEntry &capture : document.captures) {
        if (capture.run.files.empty()) continue;
        capture.run.watched = true;
        if (command.stopAt > 0) capture.run.stopAt = command.stopAt;
    }
    if (!hasRun(document))
        throw Error(command.project, "has no capture that others could come for",
                    "name one and its folder: --capture ID=FOLDER");
    return document;
}

void tell(const RunGathering &run, const std::vector<std::string> &taken)
{
    std::string names;
    for (const std::string &name : taken) {
        const auto unread = run.unread().find(name);
        if (unread != run.unread().end())
            std::fprintf(stderr, "left out: %s\n", shownText(unread->second).c_str());
        else
            enlist(names, name);
    }
    if (!names.empty())
        std::fprintf(stderr, "%zu counted, %zu failed: %s\n", run.counted().size(), run.failed(),
                     shownText(names).c_str());
}

} // namespace

int watch(const WatchCommand &command)
{
    EndSignals ending; // before other threads are begun, which inherit that
    Progress &progress = ending.progress();
    const OpenedProject project = openProject(command.project, progress);
    makeFolder(command.out, "--out");
    constexpr int jobs = 2; // side by side
    RunGathering run(shareFolder() / "masks", {.jobs = jobs});
    run.keepIn(std::filesystem::path(command.out) / "counted");
    run.follow(watchedDocument(command, project.document), project.base);
    const auto write = [&](bool whole) {
        const auto all = run.all();
        if (!all) return;
        Progress uncancelled; // what is counted is told
        if (whole)
            writeReport(*all, project, command.out, uncancelled, [] {});
        else
            writeNumbers(*all, project, command.out);
        writeJunit(command.junit, *all);
    };
    bool reported = false;
    auto last = Steady::now();
    try {
        while (!ending.came() && !run.ended()) {
            run.look();
            if (run.hasNext()) {
                const std::vector<std::string> taken = run.takeNext(progress);
                if (!taken.empty()) {
                    if (!command.quiet) tell(run, taken);
                    write(false);
                    reported = false;
                }
                last = Steady::now();
                continue;
            }
            if (!std::exchange(reported, true)) write(true);
            if (command.idle > 0 && Steady::now() - last > std::chrono::duration<double>(command.idle)) break;
            std::this_thread::sleep_for(often);
        }
    } catch (const Cancelled &) {
        // told to end: the capture that was computed comes again
    }
    if (!reported) write(true);
    if (!command.quiet && run.ended()) std::fputs("ended by failed captures\n", stderr);
    const auto all = run.all();
    return (all && all->anyFailed()) || !run.unread().empty() ? 1 : 0;
}

} // namespace fulvex
