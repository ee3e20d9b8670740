// fulvex-shots PROJECT FOLDER [WIDTHxHEIGHT [dark]]: one picture of each main view, from the demo, for the README; at
// another size or in the dark look for who goes over all of them.

#include "comparison_edits.h"
#include "desktop_support.h"
#include "first_page.h"
#include "live_file.h"
#include "mask_edits.h"
#include "page_area.h"
#include "plan_edits.h"
#include "program_folders.h"
#include "recent_projects.h"
#include "simulated_record.h"

#include <QPlainTextEdit>
#include <QSettings>
#include <QStandardPaths>
#include <QStyleFactory>
#include <QTableView>
#include <QTemporaryDir>
#include <cstdio>

using namespace fulvex;

namespace {

/// What every picture is taken with.
struct Camera {
    QString folder;
    QSize size{1280, 800};
    bool dark = false;

    /// As the window is when nothing has the focus.
    void shoot(test::Desk &desk, const char *name) const
    {
        desk.window().clearFocus();
        if (QWidget *focused = QApplication::focusWidget()) focused->clearFocus();
        QTest::qWait(700);
        const QString path = folder + "/" + name + ".png";
        if (!desk.window().grab().save(path)) throw std::runtime_error((path + " cannot be written").toStdString());
    }
};

struct Desk : test::Desk {
    explicit Desk(const Camera &camera) : test::Desk(camera.size) { bench().setDark(camera.dark); }
};

/// Shows no picture of what did not come.
void need(bool came, const char *what)
{
    if (!came) throw std::runtime_error(std::string("did not come: ") + what);
}

/// A night at the station: captures of the simulated link, whose jitter grows, one with a dented bit.
QString makeNight(const QString &folder)
{
    QDir().mkpath(folder + "/night");
    demo::SimulatedLink link(3, 120000);
    constexpr int captures = 24, dented = 17;
    for (int i = 1; i <= captures; ++i) {
        demo::SimulatedFaults faults;
        faults.randomJitter *= 1 + 0.08 * i;
        faults.dent = i == dented;
        link.make(faults);
        writeLive(liveFile((folder + "/night").toStdString(), std::size_t(i)), demo::recordOf(link));
    }
    QFile project(folder + "/night.fulvex");
    if (!project.open(QIODevice::WriteOnly)) return {};
    project.write(R"({"fulvex": 1, "title": "Brackwater: a night of the link",
        "captures": [{"id": "night", "file": "night/live-000001.sigmf-meta", "run": {"files": "night"}}],
        "channels": [{"id": "p", "capture": "night", "column": 0}, {"id": "n", "capture": "night", "column": 1},
                     {"id": "link", "formula": "p - n"}],
        "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 1.5e6}],
        "eyes": [{"id": "eye", "source": "link", "clock": "loop"}],
        "masks": [{"id": "mask", "eye": "eye", "mask": "brackwater-camera-link"}],
        "measurements": [{"id": "ej", "quantity": "eye_jitter_rms", "eye": "eye", "limit": {"max": 2.2e-11}},
                         {"id": "eh", "quantity": "eye_height", "eye": "eye", "limit": {"min": 0.4}},
                         {"id": "tr", "quantity": "rise_time", "source": "link", "limit": {"max": 6e-10}},
                         {"id": "tie", "quantity": "time_interval_error", "source": "link", "clock": "loop"}]})");
    project.close();
    return project.fileName();
}

/// The sheets of the demo, as one goes through them.
void tellTheStory(const Camera &camera, Desk &desk)
{
    desk.showSheet("Bring-up");
    desk.bench().select({Selection::Kind::measurement, "tr"});
    need(test::waitFor([&] { // what the Inspector tells of the board before
             const auto &all = desk.bench().document().comparisons;
             const Compared *known = all.empty() ? nullptr : desk.bench().comparedWith(all.front().id);
             return known && known->found;
         }),
         "the comparison");
    camera.shoot(desk, "bring-up");
    desk.showSheet("Link eye");
    desk.bench().select({Selection::Kind::eye, "eye"});
    QTest::qWait(500);
    auto *evidence = desk.find<QTableView>("evidenceTable");
    evidence->setCurrentIndex(evidence->model()->index(0, 0));
    camera.shoot(desk, "link-eye");
    auto *eye = desk.find<QWidget>("eyeTile");
    const QPoint middle = eye->rect().center();
    test::dragAcross(eye, middle + QPoint(8, -70), middle + QPoint(50, -40));
    camera.shoot(desk, "question");
    // A window along the record, and which bit of the pattern it is that the mask finds.
    desk.showSheet("Where it breaks");
    desk.bench().select({Selection::Kind::eye, "window_eye"});
    QTest::qWait(500);
    evidence->setCurrentIndex(evidence->model()->index(0, 0));
    camera.shoot(desk, "where-it-breaks");
}

/// What eats the unit interval: the converter's line, its moments, what remains without it; the reference clock has
/// that line too.
void findWhatEatsTheInterval(const Camera &camera, Desk &desk)
{
    desk.bench().select({Selection::Kind::channel, "link"});
    desk.ask("take the jitter of link apart");
    desk.settled();
    desk.find<QPushButton>("dismissMessage")->click();
    for (int piece = 0; piece < 3; ++piece) QTest::keyClick(desk.find<QWidget>("budgetTile"), Qt::Key_Right);
    camera.shoot(desk, "jitter");
    desk.bench().undoStack().undo();
    // The reference clock has that line too.
    desk.showSheet("Reference clock");
    Question line;
    line.part = 0;
    desk.bench().select({Selection::Kind::phaseNoise, "clock_noise"}, line);
    desk.settled();
    camera.shoot(desk, "phase-noise");
    desk.bench().select({Selection::Kind::clock, "loop"});
}

/// A filter is being typed; its corner is a parameter already.
void typeAFilter(const Camera &camera, Desk &desk)
{
    desk.showSheet("Bring-up");
    desk.bench().change("", [](Document &document) {
        document.parameters.push_back({"corner", 3e8, 3e7, 3e9, "Hz"});
        document.channels.push_back({});
        document.channels.back().id = "limited";
        document.channels.back().formula = "lowpass(link, corner, 4, bessel)";
    });
    desk.bench().select({Selection::Kind::channel, "limited"});
    need(desk.settled(), "numbers");
    QTest::keyClick(desk.find<QWidget>("chainRails"), Qt::Key_F2);
    auto *typed = desk.find<QPlainTextEdit>("formulaText");
    typed->setPlainText("equalise(lowpass(link, corner, 4, bessel), 100 MHz, 1 GHz, 2 GHz)");
    QTextCursor cursor = typed->textCursor();
    cursor.setPosition(int(typed->toPlainText().indexOf("100 MHz")) + 2);
    typed->setTextCursor(cursor);
    camera.shoot(desk, "formula");
    QTest::keyClick(typed, Qt::Key_Escape);
    desk.bench().undoStack().undo();
    need(desk.settled(), "numbers");
}

/// A sheet of spectra, of which the demo has none.
void laySpectraOut(const Camera &camera, Desk &desk)
{
    desk.bench().change("", [](Document &document) {
        document.channels.push_back({});
        document.channels.back().id = "limited";
        document.channels.back().formula = "lowpass(link, 300 MHz, 4, bessel)";
        SheetEntry sheet{"spectra_sheet", "Spectra", {}, {}, {}};
        const auto add = [&](const char *id, const char *kind, const char *source, const char *to, int row,
                             int column) {
            document.spectra.push_back({.id = id, .kind = kind, .source = source, .to = to});
            sheet.tiles.push_back({.id = std::string(id) + "_tile",
                                   .kind = kind == std::string("spectrum") ? "channel_spectrum" : kind,
                                   .of = {id},
                                   .row = row,
                                   .column = column,
                                   .logFrequency = kind == std::string("transfer")});
        };
        add("heard_lines", "spectrum", "heard", "", 0, 0);
        add("pattern", "autocorrelation", "link", "", 0, 1);
        add("link_lines", "spectrum", "link", "", 1, 0);
        add("filter", "transfer", "link", "limited", 1, 1);
        sheet.tiles[0].marked = 38400;
        sheet.tiles[0].logFrequency = true;
        document.sheets.push_back(sheet);
    });
    desk.bench().showSheet(int(desk.bench().document().sheets.size()) - 1);
    need(desk.settled(), "numbers");
    desk.bench().select({Selection::Kind::spectrum, "heard_lines"}, {.id = {}, .frequencies = {{37.5e3, 39.3e3}}});
    camera.shoot(desk, "spectra");
    desk.bench().undoStack().undo();
    need(desk.settled(), "numbers");
}

/// Four levels; a mask edited by hand, and how often a decision within would be wrong; the legs before they were
/// deskewed; the dark look.
void lookAtLevelsAndMasks(const Camera &camera, Desk &desk)
{
    desk.showSheet("Level bus");
    desk.bench().select({Selection::Kind::clock, "beside_three"});
    camera.shoot(desk, "level-bus");
    // A mask edited by hand, and how often a decision within would be wrong.
    desk.showSheet("Link eye");
    desk.bench().change("", [](Document &document) { findEntry(document.eyes, "eye")->shown = "error_ratio"; });
    need(desk.settled(), "numbers");
    editMask(desk.bench(), "mask");
    need(desk.settled(), "numbers");
    camera.shoot(desk, "mask-by-hand");
    for (int step = 0; step < 2; ++step) desk.bench().undoStack().undo();
    need(desk.settled(), "numbers");
    // As it was before somebody deskewed the legs.
    desk.showSheet("Bring-up");
    desk.bench().change("", [](Document &document) { findEntry(document.channels, "n")->delay = 0; });
    desk.bench().select({Selection::Kind::capture, "before"});
    need(desk.settled(), "numbers");
    camera.shoot(desk, "capture-check");
    desk.bench().undoStack().undo();
    need(desk.settled(), "numbers");
    desk.bench().setDark(true);
    desk.showSheet("Link eye");
    camera.shoot(desk, "dark");
    desk.bench().setDark(camera.dark);
}

/// An empty window, and a file that is brought in.
void beginAnew(const Camera &camera, const QString &project)
{
    Desk empty(camera);
    rememberProject(project);
    empty.find<FirstPage>("firstPage")->refresh();
    camera.shoot(empty, "first-page");
    empty.window().openFiles({QFileInfo(project).path() + "/captures/camera-link.csv"});
    need(empty.importShown(), "the file");
    camera.shoot(empty, "bring-in");
}

void watchANight(const Camera &camera, const QString &scratch)
{
    Desk night(camera);
    night.window().openFiles({makeNight(scratch)});
    need(night.settled(), "numbers");
    night.ask("add a sheet of the run of night");
    need(test::waitFor([&] { return night.bench().run() && !night.bench().run()->working; }), "the run");
    night.bench().select({Selection::Kind::mask, "mask"}, {.id = {}, .ofRun = true});
    QTest::qWait(700);
    auto *moments = night.find<QTableView>("evidenceTable");
    moments->setCurrentIndex(moments->model()->index(0, 0));
    need(night.settled(), "numbers");
    camera.shoot(night, "run");
}

/// The acceptance plan, with the board that has a dent, then the good one beside it; its report; what was changed.
void acceptABoard(const Camera &camera, const QString &project, const QString &scratch)
{
    const std::string captures = QFileInfo(project).path().toStdString() + "/captures/acceptance/";
    const auto capture = [&](const char *name) { return QStringList{QString::fromStdString(captures + name)}; };
    const std::string plan = "brackwater_acceptance";
    Desk bench(camera);
    bench.window().openFiles(
        {QString::fromStdString((shareFolder() / "plans" / "brackwater-acceptance.fulvexplan").string())});
    const auto isDone = [&] {
        const PlanState *state = bench.bench().planState(plan);
        return state && state->plan && std::ranges::all_of(bench.bench().document().attempts, [&](const auto &attempt) {
                   const auto known = state->attempts.find(attempt.id);
                   return known != state->attempts.end() && !known->second.working && known->second.outcome &&
                          known->second.outcome->state == StepOutcome::State::done;
               });
    };
    need(test::waitFor(isDone), "the step");
    fillSlot(bench.bench(), plan, "idle_pattern", "idle", capture("idle.npy"));
    fillSlot(bench.bench(), plan, "picture_cold", "cold", capture("cold-dented.npy"));
    need(test::waitFor(isDone), "the step");
    lookAtStep(bench.bench(), plan, "picture_cold");
    need(bench.settled(), "numbers");
    bench.bench().select({Selection::Kind::mask, "mask"});
    camera.shoot(bench, "acceptance");
    bench.bench().change("", [](Document &document) {
        document.device = {"tide station camera link", "BW-07", "after the board was changed"};
        document.report.author = "the night shift";
        document.report.place = "bench 2, Brackwater harbour";
    });
    fillSlot(bench.bench(), plan, "picture_warm", "warm", capture("warm.npy"));
    need(test::waitFor(isDone) && bench.settled(), "the step");
    bench.window().layOutReport(true);
    auto *pages = bench.find<PageArea>("pageArea");
    need(test::waitFor([&] { return pages->isDrawn() && !bench.bench().pages().busy(); }), "pages");
    camera.shoot(bench, "report");
    bench.window().layOutReport(false);
    const QString before = scratch + "/board before.fulvex";
    bench.bench().save(before);
    bench.bench().errands().finish();
    repeatStep(bench.bench(), plan, "picture_cold");
    fillSlot(bench.bench(), plan, "picture_cold", "cold", capture("cold.npy"));
    need(test::waitFor(isDone), "the step");
    lookAtStep(bench.bench(), plan, "picture_cold");
    bench.bench().change("", [](Document &document) {
        findEntry(document.levels, "default")->low = 10;
        findEntry(document.levels, "default")->high = 90;
    });
    layBeside(bench.bench(), before);
    need(bench.settled(), "numbers");
    const std::string comparison = bench.bench().document().comparisons.front().id;
    need(test::waitFor([&] {
             const Compared *known = bench.bench().comparedWith(comparison);
             return known && known->found;
         }),
         "the comparison");
    bench.bench().select({Selection::Kind::measurement, "tr"});
    camera.shoot(bench, "comparison");
}

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    const QStringList words = app.arguments().mid(1);
    const QStringList size = words.value(2, "1280x800").split('x');
    if (words.size() < 2 || words.size() > 4 || size.size() != 2) {
        std::fprintf(stderr, "usage: fulvex-shots PROJECT FOLDER [WIDTHxHEIGHT [dark]]\n");
        return 2;
    }
    const QString project = words[0];
    const Camera camera{words[1], {size[0].toInt(), size[1].toInt()}, words.value(3) == "dark"};
    QStandardPaths::setTestModeEnabled(true);
    QSettings().remove("recent");
    QSettings().remove("ledger"); // as somebody sees it for the first time
    app.setStyle(QStyleFactory::create("Fusion"));
    QDir().mkpath(camera.folder);
    const QTemporaryDir scratch;
    try {
        Desk desk(camera);
        desk.window().openFiles({project});
        need(desk.settled(), "numbers");
        camera.shoot(desk, "story");
        tellTheStory(camera, desk);
        findWhatEatsTheInterval(camera, desk);
        typeAFilter(camera, desk);
        laySpectraOut(camera, desk);
        lookAtLevelsAndMasks(camera, desk);
        beginAnew(camera, project);
        watchANight(camera, scratch.path());
        acceptABoard(camera, project, scratch.path());
    } catch (const std::exception &failure) {
        std::fprintf(stderr, "%s\n", failure.what());
        return 1;
    }
    return 0;
}
