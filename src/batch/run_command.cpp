#include "run_command.h"

#include "atomic_file.h"
#include "core_loop.h"
#include "engine.h"
#include "error.h"
#include "fingerprint.h"
#include "number_text.h"
#include "plain_text.h"
#include "population_file.h"
#include "program_log.h"
#include "project_file.h"
#include "report.h"
#include "run_tally.h"
#include "share_folder.h"
#include "spectrum_file.h"
#include "table_text.h"

#include <charconv>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <thread>
#include <unistd.h>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

std::pair<std::string, std::string> splitAt(const std::string &text, const char *option)
{
    const std::size_t at = text.find('=');
    if (at == 0 || at == std::string::npos || at + 1 == text.size())
        throw Error(std::string(option) + " " + text, "is not of the form NAME=VALUE",
                    "write for example " + std::string(option) + (option[2] == 'c' ? " run1=link.npy" : " fc=20e6"));
    return {text.substr(0, at), text.substr(at + 1)};
}

std::string absoluteFile(const std::string &file)
{
    std::error_code failure; // without a working folder it stays as it is
    const fs::path absolute = fs::absolute(file, failure);
    return failure ? file : absolute.string();
}

/// What is evaluated at a time: the project with a file in each capture's place.
struct OneRun {
    Document document;
    std::string name; ///< of those files that others have not as well
};

/// One, or one for each file given for a capture, in order.
std::vector<OneRun> runsOf(const RunCommand &command, Document document)
{
    for (const std::string &setting : command.parameters) {
        const auto [id, value] = splitAt(setting, "--set");
        ParameterEntry *parameter = findEntry(document.parameters, id);
        if (!parameter)
            throw Error("--set " + setting, "the project has no parameter \"" + id + "\"",
                        "see \"parameters\" in " + command.project);
        const auto [end, failure] = std::from_chars(value.data(), value.data() + value.size(), parameter->value);
        if (failure != std::errc() || end != value.data() + value.size())
            throw Error("--set " + setting, "the value is not a number", "write a plain SI number");
        const ParameterEntry &p = *parameter;
        if ((p.min && p.value < *p.min) || (p.max && p.value > *p.max))
            throw Error("--set " + setting, "lies outside the parameter's min and max",
                        "see \"parameters\" in " + command.project);
    }
    std::map<std::string, std::vector<std::string>> files;
    std::size_t count = 1;
    for (const std::string &setting : command.captures) {
        const auto [id, file] = splitAt(setting, "--capture");
        if (!findEntry(document.captures, id))
            throw Error("--capture " + setting, "the project has no capture \"" + id + "\"",
                        "see \"captures\" in " + command.project);
        files[id].push_back(absoluteFile(file));
        count = std::max(count, files[id].size());
    }
    std::vector<OneRun> runs;
    for (std::size_t i = 0; i < count; ++i) {
        OneRun one{document, {}};
        for (const auto &[id, list] : files) {
            if (list.size() != 1 && list.size() != count)
                throw Error("--capture " + id + "=…",
                            "is given " + std::to_string(list.size()) + " times, another capture " +
                                std::to_string(count) + " times",
                            "give each the same number of times, or once");
            CaptureEntry &capture = *findEntry(one.document.captures, id);
            capture.file = list[std::min(i, list.size() - 1)];
            capture.sha256.clear(); // another file was asked for
            if (list.size() > 1) one.name += (one.name.empty() ? "" : ", ") + capture.file;
        }
        runs.push_back(std::move(one));
    }
    return runs;
}

/// A bar on stderr, while it is a terminal, about the progress of work done elsewhere.
class ProgressBar {
public:
    ProgressBar(const Progress &progress, bool shown)
    {
        if (!shown) return;
        m_thread = std::jthread([&progress](std::stop_token stop) {
            while (!stop.stop_requested()) {
                const int filled = int(progress.fraction() * 30);
                std::fprintf(stderr, "\r[%.*s%*s] %3d %%", filled, "##############################", 30 - filled, "",
                             int(progress.fraction() * 100));
                std::this_thread::sleep_for(std::chrono::milliseconds(80));
            }
            std::fprintf(stderr, "\r%40s\r", "");
        });
    }

private:
    std::jthread m_thread;
};

} // namespace

/// All files of a report, put in place together. What is named in results.json, which comes last, belongs to it.
static void writeReport(const Results &results, const std::string &fingerprint, const fs::path &out, Progress &progress,
                        const std::function<void()> &check)
{
    ProjectFacts facts{fingerprint, utcNow()};
    FileSet set;
    const auto add = [&](const std::string &name, const std::string &content) {
        set.add(out / name).write(content);
        facts.files[name] = sha256(content);
    };
    add("measurements.csv", measurementsCsv(results));
    for (const SpectrumResult &spectrum : results.spectra) {
        if (const std::string csv = spectrumCsv(spectrum); !csv.empty()) add(spectrum.id + ".spectrum.csv", csv);
    }
    const ReportContent report = reportContent(results, facts, progress);
    std::string html, pdf;
    onAllCores(2, [&](std::int64_t which) {
        if (which == 0)
            html = reportHtml(report, progress);
        else
            pdf = reportPdf(report, progress);
    });
    add("report.html", html);
    add("report.pdf", pdf);
    set.add(out / "results.json").write(resultsJson(results, facts));
    check();
    set.commit();
}

static void makeFolder(const std::string &folder, const char *option)
{
    if (folder.empty()) return;
    std::error_code failure;
    fs::create_directories(folder, failure);
    if (failure) throw Error(folder, "cannot be made: " + failure.message(), std::string("give another ") + option);
}

/// Each row's population, and its histogram where it has one, by its id.
static void writePopulations(const Results &results, const fs::path &folder, Progress &progress)
{
    for (const Row &row : results.rows) {
        writePopulation(folder / (row.id + ".npy"), row, progress);
        if (!row.histogram.counts.empty()) writeHistogram(folder / (row.id + ".histogram.npy"), row, row.histogram);
    }
}

static Results evaluated(Engine &engine, const Document &document, const RunCommand &command, const fs::path &base,
                         const Engine::Options &options, Progress &progress)
{
    try {
        return engine.evaluate(document, base, options, progress);
    } catch (const Error &error) {
        throw error.within(command.project);
    }
}

int run(const RunCommand &command)
{
    Progress progress;
    const OpenedProject project = openProject(command.project, progress);
    makeFolder(command.out, "--out");
    makeFolder(command.populations, "--populations");
    Engine engine(shareFolder() / "masks", 0); // what one run used helps the next, and nobody after that
    const std::vector<OneRun> runs = runsOf(command, project.document);
    RunTally tally;
    std::string lastError;
    std::optional<Results> only;
    {
        const ProgressBar bar(progress, !command.quiet && isatty(STDERR_FILENO));
        for (const OneRun &one : runs) {
            const bool first = tally.size() == 0, several = runs.size() > 1, report = !command.out.empty();
            Results made = evaluated(engine, one.document, command, project.base,
                                     {.pyramids = report && first,
                                      .traces = tracesInReport(one.document),
                                      .fingerprints = true,
                                      .check = true,
                                      .mergeable = several},
                                     progress);
            const std::string error = made.firstError();
            if (!several) {
                if (!error.empty()) throw Error("", error);
                only = std::move(made);
            } else if (error.empty()) {
                tally.add(summaryOf(std::move(made), one.name, first));
            } else { // of many captures one that cannot be read is told, and the others count
                std::fprintf(stderr, "left out: %s\n", shownText(error).c_str());
                tally.leaveOut(made);
                lastError = error;
            }
        }
        if (!only && tally.size() == 0) throw Error("", lastError);
    }
    if (command.verbose) std::fputs(costText(engine.cache()).c_str(), stderr);
    if (isLogged(LogLevel::debug)) logLine(LogLevel::debug, costText(engine.cache()));
    const Results results = only ? std::move(*only) : tally.results();
    // Figures read samples again: of the captures as they were computed, or not at all.
    const auto check = [&] {
        for (const CaptureResult &capture : results.captures) {
            if (const std::string why = capture.disturbance(); !why.empty())
                throw Error("", why, "wait until it is written, and run again");
        }
    };
    if (!command.populations.empty()) {
        check();
        writePopulations(results, command.populations, progress);
    }
    if (command.out.empty()) {
        if (!command.quiet) std::fputs(terminalTable(results).c_str(), stdout);
    } else {
        writeReport(results, project.sha256, command.out, progress, check);
        if (command.verbose) std::fprintf(stderr, "wrote %s\n", shownText(command.out).c_str());
    }
    return results.anyFailed() || !lastError.empty() ? 1 : 0;
}

} // namespace fulvex
