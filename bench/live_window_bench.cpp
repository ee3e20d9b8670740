// What the window does while an instrument sends captures as fast as they are taken: fulvex-bench-live FOLDER SIMULATOR
// connects a window off screen to the simulated instrument, with difference, loop, eye and mask of 2 x 1 million
// samples a capture, for 15 s. It prints how long events of the interface thread took, how many captures were counted a
// second, and how long a stop took.

#include "core_clock.h"
#include "live_file.h"
#include "main_window.h"
#include "timed_application.h"

#include <QEventLoop>
#include <QTimer>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <signal.h>
#include <unistd.h>

using namespace fulvex;
using fulvex::bench::at;

namespace {

const char *const project = R"({"fulvex": 1, "title": "live",
 "captures": [{"id": "live", "live": {"address": "127.0.0.1:5988", "dialect": "brackwater", "folder": "taken", "keep": "last", "last": 5},
               "run": {"files": ["PATTERN"], "watched": true}}],
 "channels": [{"id": "p", "capture": "live", "column": 0}, {"id": "n", "capture": "live", "column": 1}, {"id": "link", "formula": "p - n"}],
 "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 1.5e6}],
 "eyes": [{"id": "eye", "source": "link", "clock": "loop"}],
 "masks": [{"id": "mask", "eye": "eye", "mask": "ieee-802.3-1000base-x"}],
 "measurements": [{"id": "height", "quantity": "eye_height", "eye": "eye"}],
 "sheets": [{"id": "s", "title": "live", "tiles": [
  {"id": "t", "kind": "traces", "of": ["p", "n"], "row": 0, "column": 0, "column_span": 2},
  {"id": "one", "kind": "eye", "of": ["eye"], "row": 1, "column": 0},
  {"id": "all", "kind": "eye", "of": ["eye"], "row": 1, "column": 1, "captures": "all"},
  {"id": "run", "kind": "run", "of": ["live"], "row": 2, "column": 0},
  {"id": "trend", "kind": "run_trend", "of": ["height"], "row": 2, "column": 1}]}]})";

void pass(double seconds)
{
    QEventLoop loop;
    QTimer::singleShot(int(seconds * 1000), &loop, &QEventLoop::quit);
    loop.exec();
}

} // namespace

int main(int argc, char **argv)
{
    if (argc < 3) return 2;
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const std::filesystem::path folder = std::filesystem::absolute(argv[1]);
    std::filesystem::remove_all(folder / "taken");
    std::filesystem::create_directories(folder);
    for (const char *place : {"XDG_CACHE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"})
        qputenv(place, (folder / "own").c_str());
    const pid_t simulator = fork();
    if (simulator == 0) {
        execl(argv[2], argv[2], "--port", "5988", "--per-second", "1000", nullptr);
        _exit(127);
    }
    bench::TimedApplication app(argc, argv);
    std::printf("core clock %.2f GHz\n", bench::coreClock());
    std::string text = project;
    text.replace(text.find("PATTERN"), 7, livePattern("taken"));
    const std::string path = folder / "live.fulvex";
    std::ofstream(path) << text;
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    Workbench &bench = window.bench();
    bench.openProject(QString::fromStdString(path));
    pass(1);
    bench.acquire("live", 0);
    pass(3);
    app.stalls.clear();
    const auto counted = [&] { return bench.run() ? bench.run()->counted : 0; };
    const std::size_t before = counted();
    QElapsedTimer timer;
    timer.start();
    pass(15);
    const double seconds = double(timer.elapsed()) / 1e3;
    std::printf("live: stalls %.1f ms at 99 %%, %.1f at worst (%s); %.1f captures counted a second\n",
                at(app.stalls, 0.99), at(app.stalls, 1), app.longest.c_str(), double(counted() - before) / seconds);
    timer.start();
    bench.live().stop();
    while (bench.live().running()) QCoreApplication::processEvents();
    std::printf("stop: %.1f ms\n", double(timer.nsecsElapsed()) / 1e6);
    kill(simulator, SIGTERM);
    return 0;
}
