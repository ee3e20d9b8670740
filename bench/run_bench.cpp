// Many captures against one record of the same length, and what memory holds of them; a live source against what this
// machine can copy. Usage: fulvex-bench-run FOLDER SIMULATOR [CAPTURES]

#include "document_json.h"
#include "freed_memory.h"
#include "live_file.h"
#include "live_recorder.h"
#include "peak_memory.h"
#include "program_folders.h"
#include "run_gathering.h"
#include "simulated_record.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <signal.h>
#include <thread>
#include <unistd.h>

using namespace fulvex;

namespace {

namespace fs = std::filesystem;
constexpr RunGathering::Manner sideBySide{.forReports = false, .jobs = 2}; ///< as in the window
using Steady = std::chrono::steady_clock;
constexpr std::size_t samples = 1'000'000; ///< of a capture

double since(Steady::time_point begin)
{
    return std::chrono::duration<double>(Steady::now() - begin).count();
}

/// Difference, loop, eye, mask; with rows that take edges, transitions and crossings of the eye.
Document linkDocument(const std::string &files, bool watched, bool rows = false)
{
    const std::string measured = rows ? R"(, "measurements": [
        {"id": "rise", "quantity": "rise_time", "source": "link"}, {"id": "height", "quantity": "eye_height", "eye": "eye"},
        {"id": "tie", "quantity": "time_interval_error", "clock": "loop"}])"
                                      : "";
    return parseDocument(R"({"fulvex": 1,
        "captures": [{"id": "r", "run": {"files": ")" +
                             files + R"(", "watched": )" + (watched ? "true" : "false") + R"(}}],
        "channels": [{"id": "p", "capture": "r", "column": 0}, {"id": "n", "capture": "r", "column": 1},
                     {"id": "link", "formula": "p - n"}],
        "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 1.5e6}],
        "eyes": [{"id": "eye", "source": "link", "clock": "loop"}],
        "masks": [{"id": "mask", "eye": "eye", "mask": "ieee-802.3-1000base-x"}])" +
                             measured + "}",
                         "bench");
}

double gather(RunGathering &run, const Document &document, const fs::path &folder, std::vector<double> *memory)
{
    const auto begin = Steady::now();
    run.follow(document, folder);
    run.look();
    Progress progress;
    while (run.hasNext()) {
        run.takeNext(progress);
        if (memory) memory->push_back(bench::ownMemory());
    }
    return since(begin);
}

void makeCaptures(const fs::path &folder, std::size_t captures)
{
    fs::create_directories(folder / "many");
    fs::create_directories(folder / "one");
    demo::SimulatedLink link(1, samples);
    for (std::size_t i = 1; i <= captures; ++i) {
        link.make({});
        writeLive(liveFile(folder / "many", i), demo::recordOf(link));
    }
    demo::SimulatedLink longer(1, captures * samples);
    longer.make({});
    writeLive(liveFile(folder / "one", 1), demo::recordOf(longer));
}

void manyAgainstOne(const fs::path &folder, std::size_t captures, bool rows)
{
    std::vector<double> memory;
    std::vector<double> seconds[2]; // of many, and of one
    constexpr int turns = 15;
    for (int turn = 0; turn < turns; ++turn) {
        for (const bool one : {false, true}) {
            giveFreedMemoryBack(); // of what the other one needed
            RunGathering run(shareFolder() / "masks", sideBySide);
            const auto files = livePattern(one ? "one" : "many");
            seconds[one].push_back(
                gather(run, linkDocument(files, false, rows), folder, one || turn > 0 ? nullptr : &memory));
        }
    }
    const auto median = [](std::vector<double> some) {
        std::ranges::sort(some);
        return some[some.size() / 2];
    };
    std::vector<double> ratios; // of turns, which the machine's speed changes less in than between them
    for (std::size_t turn = 0; turn < turns; ++turn) ratios.push_back(seconds[1][turn] / seconds[0][turn]);
    const double many = median(seconds[0]), one = median(seconds[1]);
    const double all = double(captures * samples);
    std::printf("%zu captures of 1 M samples%s: %.2f s, %.1f M differential samples/s; one record as long: %.2f s; "
                "ratio %.2f\n",
                captures, rows ? ", with three rows" : "", many, all / many / 1e6, one, median(ratios));
    std::printf("memory after %zu: %.0f MB, at the end: %.0f MB\n", captures / 4, memory[memory.size() / 4],
                memory.back());
}

void live(const fs::path &folder, const char *simulator)
{
    constexpr const char *port = "5987";
    const pid_t process = fork();
    if (process == 0) {
        execl(simulator, simulator, "--port", port, "--per-second", "1000", nullptr);
        _exit(127);
    }
    std::this_thread::sleep_for(std::chrono::seconds(1));
    const fs::path kept = folder / "live";
    fs::remove_all(kept);
    RunGathering run(shareFolder() / "masks", sideBySide);
    run.follow(linkDocument(livePattern("live"), true), folder);
    std::mutex mutex;
    std::vector<std::string> arrived;
    std::atomic<std::size_t> taken = 0, written = 0;
    {
        LiveRecorder recorder(
            {"127.0.0.1:" + std::string(port), findDialect("brackwater", shareFolder() / "dialects", {}), kept, 0},
            [&](const LiveState &state) {
                const std::lock_guard lock(mutex);
                if (state.captures > written) arrived.push_back(state.newest);
                written = state.captures;
            },
            [&] { return written - taken < 4; });
        Progress progress;
        const auto begin = Steady::now();
        std::size_t first = 0;
        double from = 0;
        while (since(begin) < 12) {
            std::vector<std::string> now;
            {
                const std::lock_guard lock(mutex);
                now.swap(arrived);
            }
            if (now.empty()) std::this_thread::sleep_for(std::chrono::milliseconds(1));
            for (const std::string &file : now) {
                run.arrive("r", "live/" + fs::path(file).filename().string());
                while (run.hasNext()) run.takeNext(progress);
                for (const char *ending : {".sigmf-data", ".sigmf-meta"})
                    fs::remove(fs::path(file).replace_extension(ending));
                ++taken;
                if (first == 0 && since(begin) > 2) first = taken, from = since(begin);
            }
        }
        const double perSecond = double(taken - first) / (since(begin) - from);
        std::vector<char> source(64 << 20, 1), target(64 << 20);
        double copied = 0;
        const auto copying = Steady::now();
        while (since(copying) < 1)
            std::copy(source.begin(), source.end(), target.begin()), copied += double(source.size());
        std::printf(
            "live: %.1f captures of 2 x 1 M samples a second (%.0f MB/s; this machine copies %.0f MB/s, 1 : %.0f)\n",
            perSecond, perSecond * 4, copied / 1e6, copied / 1e6 / (perSecond * 4));
    }
    kill(process, SIGTERM);
}

} // namespace

int main(int argc, char **argv)
{
    if (argc < 3) return 2;
    keepFreedMemory(); // as the programs do
    const fs::path folder = argv[1];
    const std::size_t captures = argc > 3 ? std::size_t(std::atoi(argv[3])) : 60;
    makeCaptures(folder, captures);
    for (const bool rows : {false, true}) manyAgainstOne(folder, captures, rows);
    live(folder, argv[2]);
    return 0;
}
