// What a user waits for on 2 x 50 million samples: fulvex-bench-latency FILE opens a project with a loop, an eye and
// three rows in a window off screen, then drags the loop's bandwidth, a channel's scale, a region and a filter's corner
// for 3 s each. It prints, for opening and each drag: the 99th percentile and the longest of the stalls of the
// interface thread in ms (how long one event took), the median, the 95th percentile and the longest of the times in ms
// from a change to the first picture of it, and how many such pictures came a second. The project stays, as
// FILE-latency.fulvex. A second argument: only the drags whose line begins like that. The first line is the core's
// clock, by which figures of a machine that is shared are to be judged.

#include "core_clock.h"
#include "document_json.h"
#include "link_record.h"
#include "main_window.h"
#include "timed_application.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <map>
#include <utility>

using namespace fulvex;
using fulvex::bench::at;
using fulvex::bench::TimedApplication;

namespace {

const char *const project = R"({"fulvex": 1, "title": "latency",
 "captures": [{"id": "a", "file": "FILE-p.npy", "import": {"sample_interval": 1e-10}},
              {"id": "b", "file": "FILE-n.npy", "import": {"sample_interval": 1e-10}}],
 "channels": [{"id": "p", "capture": "a", "column": 0, "scale": 1e-5}, {"id": "n", "capture": "b", "column": 0, "scale": 1e-5},
              {"id": "link", "formula": "p - n"}],
 "regions": [{"id": "part", "start": 1e-3, "stop": 2e-3}],
 "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 1.5e6, "rate": 2.5e9}],
 "eyes": [{"id": "eye", "source": "link", "clock": "loop"}],
 "measurements": [{"id": "rise", "quantity": "rise_time", "source": "link", "region": "part"},
                  {"id": "error", "quantity": "time_interval_error", "source": "link", "clock": "loop"},
                  {"id": "height", "quantity": "eye_height", "eye": "eye"}],
 "sheets": [{"id": "s", "title": "link", "tiles": [{"id": "t", "kind": "traces", "of": ["p", "n", "link"], "row": 0, "column": 0},
             {"id": "e", "kind": "eye", "of": ["eye"], "row": 1, "column": 0}, {"id": "h", "kind": "histogram", "of": ["rise"], "row": 1, "column": 1}]}]})";

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const std::filesystem::path cache = std::filesystem::temp_directory_path() / "fulvex-bench-cache";
    std::filesystem::remove_all(cache);
    for (const char *place : {"XDG_CACHE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"}) qputenv(place, cache.c_str());
    TimedApplication app(argc, argv);
    const std::string file = std::filesystem::absolute(argc > 1 ? argv[1] : "link").string();
    bench::makeLinkRecord(file, 50000000);
    std::string text = project;
    for (std::size_t at = 0; (at = text.find("FILE", at)) != std::string::npos;) text.replace(at, 4, file);
    const std::string path = file + "-latency.fulvex";
    std::ofstream(path) << text;

    std::printf("core clock %.2f GHz\n", bench::coreClock());
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    Workbench &bench = window.bench();
    QElapsedTimer clock;
    clock.start();
    std::map<std::uint64_t, double> asked; // when, by revision
    std::vector<double> waits, arrivals;
    std::vector<double> made; // when those were asked for whose figures are made, to be shown by the next painting
    std::function<bool(const Results &)> pictured;
    // After the views have taken the results and asked for their figures: they were connected before.
    QObject::connect(&bench.evaluator(), &Evaluator::finished,
                     [&](std::shared_ptr<const Results> results, EvaluationTicket ticket, bool) {
                         const auto when = asked.find(ticket.revision);
                         if (when == asked.end() || !pictured(*results)) return;
                         bench.figures().afterwards([&made, since = when->second] { made.push_back(since); });
                         asked.erase(when);
                     });
    app.painted = [&] {
        const double now = double(clock.nsecsElapsed()) / 1e6;
        for (const double since : std::exchange(made, {})) {
            waits.push_back(now - since);
            arrivals.push_back(now);
        }
    };
    const std::string only = argc > 2 ? argv[2] : "";
    const auto run = [&](const char *what, double seconds, const std::function<void(int)> &step) {
        if (!std::string_view(what).starts_with(only)) return;
        app.stalls.clear();
        waits.clear();
        arrivals.clear();
        asked.clear();
        QTimer timer;
        int count = 0;
        QObject::connect(&timer, &QTimer::timeout, [&] {
            step(count++);
            asked[bench.revision()] = double(clock.nsecsElapsed()) / 1e6;
        });
        timer.start(16);
        QEventLoop loop;
        QTimer::singleShot(int(seconds * 1000), &loop, &QEventLoop::quit);
        loop.exec();
        timer.stop();
        while (!bench.upToDate()) app.processEvents(QEventLoop::WaitForMoreEvents);
        std::printf("%s: stalls %.1f ms at 99 %%, %.1f at worst (%s); first picture after %.0f ms, %.0f at 95 %%, %.0f "
                    "at worst; %.1f "
                    "pictures a second\n",
                    what, at(app.stalls, 0.99), at(app.stalls, 1), app.longest.c_str(), at(waits, 0.5), at(waits, 0.95),
                    at(waits, 1), double(arrivals.size()) / seconds);
        std::fflush(stdout);
    };
    const auto eyeIsNew = [](const Results &results) {
        const EyeResult *eye = findEntry(results.eyes, "eye");
        return eye && eye->fold && (!eye->pending || eye->share < 1);
    };
    const auto tracesAreNew = [](const Results &results) {
        const ChannelResult *link = findEntry(results.channels, "link");
        return link && !link->pending && link->pyramid;
    };
    const auto riseIsNew = [](const Results &results) {
        const Row *rise = findEntry(results.rows, "rise");
        return rise && (!rise->pending || rise->share < 1);
    };
    {
        app.stalls.clear();
        pictured = tracesAreNew;
        const double start = double(clock.nsecsElapsed()) / 1e6;
        asked[bench.revision() + 1] = start;
        window.openFiles({QString::fromStdString(path)});
        while (!bench.upToDate()) app.processEvents(QEventLoop::WaitForMoreEvents);
        std::printf("opening: stalls %.1f ms at 99 %%, %.1f at worst; traces after %.0f ms, all after %.0f\n",
                    at(app.stalls, 0.99), at(app.stalls, 1), at(waits, 0), double(clock.nsecsElapsed()) / 1e6 - start);
        std::fflush(stdout);
    }
    pictured = eyeIsNew;
    run("dragging the loop's bandwidth", 3, [&](int i) {
        bench.change(
            "bandwidth", [i](Document &document) { document.clocks[0].bandwidth = 1e6 + 1e4 * i; }, "bandwidth");
    });
    pictured = tracesAreNew;
    run("dragging a scale", 3, [&](int i) {
        bench.change(
            "scale", [i](Document &document) { document.channels[0].scale = 1e-5 * (1 + 1e-3 * i); }, "scale");
    });
    pictured = riseIsNew;
    run("dragging a region", 3, [&](int i) {
        bench.change(
            "region", [i](Document &document) { document.regions[0].stop = 2e-3 + 1e-6 * i; }, "region");
    });
    pictured = [&](const Results &results) {
        const EyeResult *eye = findEntry(results.eyes, "eye");
        return eye && eye->fold && !eye->pending;
    };
    bench.change("all", [](Document &document) { document.measurements[0].region.clear(); });
    while (!bench.upToDate()) app.processEvents(QEventLoop::WaitForMoreEvents); // what does not follow the window
    run("moving an eye's window of a million samples", 3, [&](int i) {
        bench.change(
            "window",
            [i](Document &document) {
                document.regions[0] = {"part", 1e-4 + 1e-5 * i, 2e-4 + 1e-5 * i};
                document.eyes[0].region = "part";
            },
            "window");
    });
    pictured = eyeIsNew;
    run("all of it again", 0.2, [&](int i) {
        if (i > 0) return;
        bench.change("all", [](Document &document) { document.eyes[0].region.clear(); });
    });
    pictured = tracesAreNew;
    run("taking a filter", 0.2, [&](int i) {
        if (i > 0) return;
        bench.setView(1e-3, 1e-3 + 100e-9);
        bench.change("filter", [](Document &document) {
            document.parameters.push_back({"corner", 1e9, 1e5, 4e9, "Hz"});
            findEntry(document.channels, "link")->formula = "lowpass(p - n, corner, 4)";
            document.spectra.push_back({.id = "lines", .source = "link"});
            TileEntry &tile = document.sheets[0].tiles.back(); // in the histogram's place
            tile.kind = "channel_spectrum";
            tile.of = {"lines"};
        });
    });
    const auto spectrumIsNew = [](const Results &results) {
        const SpectrumResult *lines = findEntry(results.spectra, "lines");
        return lines && lines->spectrum && (!lines->pending || lines->share < 1);
    };
    pictured = [&](const Results &results) {
        return tracesAreNew(results) && eyeIsNew(results) && spectrumIsNew(results);
    };
    run("dragging a filter's corner, with a trace, a spectrum and an eye", 3, [&](int i) {
        bench.change(
            "corner", [i](Document &document) { document.parameters[0].value = 1e9 + 1e6 * i; }, "corner");
    });
    run("the same at a ten thousandth of the rate", 3, [&](int i) {
        bench.change(
            "corner", [i](Document &document) { document.parameters[0].value = 1e6 + 1e3 * i; }, "corner");
    });
    std::filesystem::remove_all(cache);
}
