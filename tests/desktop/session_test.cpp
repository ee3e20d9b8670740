// What happens when something else happens meanwhile: nothing here waits for quiet before it acts.

#include "desktop_support.h"
#include "document_json.h"
#include "fingerprint.h"
#include "import_page.h"
#include "measurement_edits.h"
#include "project_file.h"
#include "signals.h"
#include "temporary_folder.h"
#include "trace_figure.h"
#include "zip_archive.h"

#include <QClipboard>
#include <QSignalSpy>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;
using testing::HasSubstr;
namespace fs = std::filesystem;

namespace {

/// A square wave of `samples` samples between -level and level, and a project that measures it, with a clock and an
/// eye.
std::string projectOf(const test::TemporaryFolder &folder, const std::string &name, double level, std::size_t samples)
{
    std::vector<double> volts(samples);
    for (std::size_t i = 0; i < samples; ++i) volts[i] = (i / 50) % 2 ? level : -level;
    folder.write(name + ".raw", test::bytesOf(volts));
    return folder.write(name + ".fulvex",
                        R"({"fulvex": 1, "title": ")" + name + R"(",
        "captures": [{"id": "r", "file": ")" +
                            name +
                            R"(.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-9}}],
        "channels": [{"id": "a", "capture": "r"}, {"id": "b", "capture": "r", "label": "other"}],
        "clocks": [{"id": "k", "source": "a"}, {"id": "loop", "source": "a", "method": "pll", "bandwidth": 1e5},
                   {"id": "loop2", "source": "a", "method": "pll", "bandwidth": 1e5}],
        "eyes": [{"id": "e", "source": "a", "clock": "k"}],
        "measurements": [{"id": "most", "quantity": "maximum", "source": "a"}, {"id": "rms", "quantity": "rms", "source": "a"}],
        "sheets": [{"id": "s", "title": "S", "tiles": [{"id": "t1", "kind": "traces", "of": ["a"], "row": 0, "column": 0},
                                                      {"id": "t2", "kind": "traces", "of": ["b"], "row": 1, "column": 0, "own_view": true},
                                                      {"id": "t3", "kind": "eye", "of": ["e"], "row": 2, "column": 0}]},
                   {"id": "s2", "title": "S2", "tiles": [{"id": "t4", "kind": "traces", "of": ["a"], "row": 0, "column": 0}]}]})");
}

QString q(const std::string &text)
{
    return QString::fromStdString(text);
}

/// Something is shown of the project, not only of the empty one before it.
bool firstLook(Workbench &bench)
{
    return bench.results() && !bench.results()->captures.empty();
}

/// What is shown belongs to the document shown.
void expectConsistent(Workbench &bench)
{
    if (!bench.upToDate()) return;
    EXPECT_EQ(*bench.results()->document, bench.document());
    ASSERT_EQ(bench.results()->rows.size(), bench.document().measurements.size());
    for (const CaptureResult &capture : bench.results()->captures)
        EXPECT_EQ(capture.file, findEntry(bench.document().captures, capture.id)->file);
}

std::string zipOf(const std::string &path, const std::vector<std::pair<std::string, std::string>> &entries)
{
    int failure = 0;
    zip_t *zip = zip_open(path.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &failure);
    for (const auto &[entry, bytes] : entries)
        zip_file_add(zip, entry.c_str(), zip_source_buffer(zip, bytes.data(), bytes.size(), 0), 0);
    EXPECT_EQ(zip_close(zip), 0);
    return path;
}

} // namespace

TEST(Sessions, OpeningBWhileAIsComputedShowsBAlone)
{
    const test::TemporaryFolder folder;
    const QString a = q(projectOf(folder, "a", 1, 3'000'000)), b = q(projectOf(folder, "b", 2, 5000));
    Workbench bench;
    QObject::connect(&bench, &Workbench::resultsChanged, [&] {
        EXPECT_TRUE(!bench.results() || bench.results()->document->title == bench.document().title);
        expectConsistent(bench);
    });
    for (int round = 0; round < 6; ++round) {
        bench.openProject(a);
        test::waitFor([&] { return bench.results() != nullptr; }, 5 * round); // sooner and later in its evaluation
        bench.openProject(b);
        EXPECT_EQ(bench.results(), nullptr);
        ASSERT_TRUE(test::waitFor([&] { return bench.upToDate(); }));
        EXPECT_EQ(*bench.results()->rows[0].statistics.mean, 2);
        EXPECT_EQ(bench.results()->captures[0].samples, 5000);
        EXPECT_NEAR(bench.viewTo() - bench.viewFrom(), 5e-6, 1e-12);
        QTest::qWait(30); // what is late of A comes now
        EXPECT_EQ(bench.results()->document->title, "b");
        bench.save(b);
        bench.errands().finish();
        EXPECT_EQ(loadDocument(b.toStdString()).captures[0].sha256, sha256(test::readAll(folder / "b.raw")));
    }
}

TEST(Sessions, ASaveThatEndsAfterANewProjectBeganDoesNotNameIt)
{
    const test::TemporaryFolder folder;
    const std::string packed = folder / "a.fulvexpack";
    Workbench bench;
    bench.openProject(q(projectOf(folder, "a", 1, 2'000'000)));
    bool saved = false;
    bench.save(q(packed), [&] { saved = true; });
    bench.newProject();
    bench.change("work", [](Document &document) { document.title = "new work"; });
    bench.errands().finish();
    EXPECT_TRUE(saved);
    EXPECT_EQ(bench.path(), ""); // Ctrl+S asks for a name
    EXPECT_EQ(bench.document().title, "new work");
    EXPECT_FALSE(bench.undoStack().isClean());
    Progress progress;
    EXPECT_EQ(openProject(packed, progress).document.title, "a");
}

TEST(Sessions, TwoSavesOneBehindTheOtherAreBothOurs)
{
    const test::TemporaryFolder folder;
    const QString path = q(projectOf(folder, "a", 1, 5000));
    Workbench bench;
    QSignalSpy failed(&bench, &Workbench::failed);
    bench.openProject(path);
    for (const char *title : {"one", "two", "three"}) {
        bench.change("title", [&](Document &document) { document.title = title; });
        bench.save(path);
    }
    bench.errands().finish();
    EXPECT_EQ(failed.count(), 0);
    EXPECT_EQ(loadDocument(path.toStdString()).title, "three");
    EXPECT_TRUE(bench.undoStack().isClean());
}

TEST(Sessions, AnUnpackingThatEndsLateAsksBeforeItReplacesWork)
{
    const test::TemporaryFolder folder;
    const std::string packed = folder / "a.fulvexpack";
    {
        Workbench bench;
        bench.openProject(q(projectOf(folder, "a", 1, 2'000'000)));
        bench.save(q(packed));
        bench.errands().finish();
    }
    const std::string other = projectOf(folder, "b", 2, 5000);
    Desk desk;
    desk.window().openFiles({q(other)});
    desk.bench().openProject(q(packed)); // as the window does, once it may discard
    desk.bench().change("meanwhile", [](Document &document) { document.title = "edited meanwhile"; });
    desk.bench().errands().finish();
    EXPECT_EQ(desk.bench().document().title, "edited meanwhile");
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("a.fulvexpack is unpacked"));
    desk.bench().undoStack().clear(); // nothing to be saved
    QTest::mouseClick(desk.find<QPushButton>("openReady"), Qt::LeftButton);
    EXPECT_EQ(desk.bench().document().title, "a");
    // Unpacked while nothing was touched, it is shown at once.
    desk.window().openFiles({q(other)});
    desk.bench().errands().finish();
    desk.bench().openProject(q(packed));
    desk.bench().errands().finish();
    EXPECT_EQ(desk.bench().document().title, "a");
}

TEST(Sessions, APackThatWouldGrowOrLeadOutIsAskedFor)
{
    const test::TemporaryFolder folder;
    folder.write("outside.csv", "t,v\n0,1\n1,2\n2,1\n");
    const std::string pack = zipOf(
        folder / "x.fulvexpack",
        {{"project.fulvex", R"({"fulvex": 1, "title": "outside", "captures": [{"id": "c", "file": ")" +
                                (folder / "outside.csv") + R"("}], "channels": [{"id": "a", "capture": "c"}]})"}});
    Desk desk;
    desk.window().openFiles({q(pack)});
    desk.bench().errands().finish();
    EXPECT_EQ(desk.bench().document().title, "");
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("does not lie in the pack"));
    ASSERT_NE(desk.window().focusWidget(), nullptr);
    EXPECT_NE(desk.window().focusWidget()->objectName(), "consent"); // a key in haste consents to nothing
    QTest::mouseClick(desk.find<QPushButton>("consent"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().title, "outside");
}

TEST(Sessions, ExportsAndCopiesAreOfTheDocumentShownAndWaitForIt)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.window().openFiles({q(projectOf(folder, "a", 1, 400'000))});
    ASSERT_TRUE(desk.settled());
    Workbench &bench = desk.bench();
    bench.change("scale", [](Document &document) { document.channels[0].scale = 3; });
    desk.window().exportTable(q(folder / "t.csv")); // at once, while the old numbers are shown
    desk.key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_THAT(test::readAll(folder / "t.csv"), HasSubstr("most,maximum,a,V,ok,1,3,"));
    EXPECT_THAT(QApplication::clipboard()->text().toStdString(), HasSubstr("3.0000 V"));
    // The report's fingerprint is that of the text that saving writes, which the batch program states.
    desk.window().exportReport(q(folder / "before.html"));
    bench.errands().finish();
    bench.save(bench.path());
    bench.errands().finish();
    const std::string onDisk = sha256(test::readAll(bench.path().toStdString()));
    EXPECT_THAT(test::readAll(folder / "before.html"), HasSubstr(onDisk));
    desk.window().exportReport(q(folder / "after.html"));
    bench.errands().finish();
    EXPECT_THAT(test::readAll(folder / "after.html"), HasSubstr(onDisk));
    // What never comes is told, and nothing is written.
    bench.change("scale", [](Document &document) { document.channels[0].scale = 4; });
    desk.window().exportTable(q(folder / "never.csv"));
    bench.newProject();
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("never.csv is not done"));
    ASSERT_TRUE(test::waitFor([&] { return !bench.evaluator().busy() && !bench.errands().busy(); }));
    EXPECT_FALSE(fs::exists(folder / "never.csv"));
}

TEST(Sessions, AChangedNoteRestartsNothing)
{
    const test::TemporaryFolder folder;
    Workbench bench;
    bench.openProject(q(projectOf(folder, "a", 1, 3'000'000)));
    ASSERT_TRUE(test::waitFor([&] { return firstLook(bench); })); // the numbers are on their way
    std::vector<std::uint64_t> revisions;
    QObject::connect(&bench.evaluator(), &Evaluator::finished,
                     [&](auto, EvaluationTicket ticket, bool) { revisions.push_back(ticket.revision); });
    const std::uint64_t asked = bench.revision();
    for (int i = 0; i < 20; ++i)
        bench.change("note", [&](Document &document) { document.title = "word " + std::to_string(i); });
    ASSERT_TRUE(test::waitFor([&] { return bench.upToDate(); }));
    EXPECT_EQ(bench.results()->document->title, "word 19"); // its numbers, told of the document as it is
    for (const std::uint64_t revision : revisions) EXPECT_EQ(revision, asked);
}

TEST(Sessions, ADragKeepsWhatAnErrandChangedMeanwhile)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.window().openFiles({q(projectOf(folder, "a", 1, 5000))});
    ASSERT_TRUE(desk.settled());
    Workbench &bench = desk.bench();
    bench.putMarker(0, {"", "", "", 1e-6, {}});
    auto *tile = desk.find<QWidget>("traceTile");
    const QRectF body = QRectF(tile->rect()).adjusted(4, 26, -4, -4);
    const TraceFigure figure = traceFigure(*bench.results(), bench.document(), bench.document().sheets[0].tiles[0],
                                           bench.viewFrom(), bench.viewTo());
    const QPoint at(int(figure.xOf(body, 1e-6)), int(body.center().y()));
    QTest::mousePress(tile, Qt::LeftButton, {}, at);
    QTest::mouseMove(tile, at + QPoint(20, 0));
    QTest::mouseMove(tile, at + QPoint(60, 0));
    bench.change("deskew", [](Document &document) { document.channels[1].delay = 5e-9; }); // an alignment ends
    QTest::mouseRelease(tile, Qt::LeftButton, {}, at + QPoint(60, 0));
    EXPECT_EQ(bench.document().channels[1].delay, 5e-9);
    EXPECT_GT(*bench.document().markers[0].time, 1.1e-6);
    bench.undoStack().undo();
    EXPECT_EQ(bench.document().channels[1].delay, 5e-9);
    EXPECT_EQ(*bench.document().markers[0].time, 1e-6);
    bench.undoStack().clear();
}

TEST(Sessions, ADoubleClickUndoesItsOwnFirstClickOrNothing)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.window().openFiles({q(projectOf(folder, "a", 1, 5000))});
    ASSERT_TRUE(desk.settled());
    Workbench &bench = desk.bench();
    auto *tile = desk.find<QWidget>("traceTile");
    const QPoint at = tile->rect().center() + QPoint(30, 0);
    const auto doubleClick = [&] {
        desk.answer("a note");
        QTest::mouseDClick(tile, Qt::LeftButton, {}, at);
    };
    QTest::mouseClick(tile, Qt::LeftButton, {}, at);
    ASSERT_EQ(bench.document().markers.size(), 1u);
    doubleClick();
    EXPECT_TRUE(bench.document().markers.empty());
    EXPECT_EQ(bench.document().notes.size(), 1u);
    QTest::mouseClick(tile, Qt::LeftButton, {}, at + QPoint(0, 12));
    bench.change("meanwhile", [](Document &document) { document.channels[1].delay = 5e-9; });
    doubleClick();
    EXPECT_EQ(bench.document().channels[1].delay, 5e-9); // it lay on top of the stack
    bench.undoStack().clear();
}

TEST(Sessions, TheChainsEditorChangesTheChannelItWasOpenedFor)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.window().openFiles({q(projectOf(folder, "a", 1, 5000))});
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::channel, "a"});
    auto *rails = desk.find<QWidget>("chainRails");
    QTest::keyClick(rails, Qt::Key_F2);
    auto *editor = desk.find<QLineEdit>("chainEditor");
    editor->setText("renamed");
    desk.bench().select({Selection::Kind::channel, "b"}); // by a click elsewhere, before the words are taken
    QTest::keyClick(editor, Qt::Key_Return);
    EXPECT_EQ(desk.bench().document().channels[0].label, "renamed");
    EXPECT_EQ(desk.bench().document().channels[1].label, "other");
    QTest::keyClick(rails, Qt::Key_F2);
    ASSERT_TRUE(editor->isVisible());
    desk.bench().newProject();
    EXPECT_FALSE(editor->isVisible());
}

TEST(Sessions, StepsOfTwoClocksOrTwoSheetsStayTwo)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.window().openFiles({q(projectOf(folder, "a", 1, 5000))});
    ASSERT_TRUE(desk.settled());
    Workbench &bench = desk.bench();
    for (const char *clock : {"loop", "loop2"}) {
        bench.select({Selection::Kind::clock, clock});
        auto *slider = desk.find<QWidget>("inspectorScroll")->findChild<QSlider *>("bandwidthSlider");
        slider->setValue(500);
        slider->setValue(600);
    }
    EXPECT_EQ(bench.undoStack().count(), 2);
    const auto wheelOnAxis = [&] {
        auto *tile = desk.find<QWidget>("traceTile");
        tile->grab(); // it has been seen
        const QPointF at(30, tile->height() / 2.0);
        QWheelEvent turn(at, tile->mapToGlobal(at), {}, QPoint(0, 120), Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                         false);
        QApplication::sendEvent(tile, &turn);
    };
    wheelOnAxis();
    bench.showSheet(1);
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    wheelOnAxis();
    EXPECT_EQ(bench.undoStack().count(), 4);
    bench.undoStack().undo();
    EXPECT_TRUE(bench.document().sheets[1].tiles[0].ranges.empty());
    EXPECT_FALSE(bench.document().sheets[0].tiles[0].ranges.empty());
    bench.undoStack().clear();
}

TEST(Sessions, OwnViewsStayWithTheirTilesWhenOthersGo)
{
    const test::TemporaryFolder folder;
    Workbench bench;
    bench.openProject(q(projectOf(folder, "a", 1, 5000)));
    ASSERT_TRUE(test::waitFor([&] { return bench.upToDate(); }));
    bench.setView(1e-6, 2e-6, 1);
    bench.change("remove tile",
                 [](Document &document) { document.sheets[0].tiles.erase(document.sheets[0].tiles.begin()); });
    EXPECT_NEAR(bench.view(0).from, 1e-6, 1e-15); // it is the first one now
    bench.showSheet(1);
    bench.change("remove sheet", [](Document &document) { document.sheets.erase(document.sheets.begin()); });
    EXPECT_EQ(bench.sheet(), 0); // the same sheet, now the first
    EXPECT_EQ(bench.document().sheets[0].id, "s2");
    bench.undoStack().undo();
    EXPECT_EQ(bench.sheet(), 1);
    bench.showSheet(0);
    EXPECT_NEAR(bench.view(0).from, 1e-6, 1e-15);
    bench.undoStack().clear();
}

TEST(Sessions, ALimitIsTakenRightAfterItsRowWasAdded)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.window().openFiles({q(projectOf(folder, "a", 1, 3'000'000))});
    ASSERT_TRUE(test::waitFor([&] { return firstLook(desk.bench()); }));
    addMeasurement(desk.bench(), "rise_time", "a"); // its numbers are not there yet
    auto *most = desk.find<QWidget>("inspectorScroll")->findChild<QLineEdit *>("limit_max");
    ASSERT_NE(most, nullptr);
    most->setText("450 ps");
    QTest::keyClick(most, Qt::Key_Return);
    EXPECT_EQ(desk.message(), "");
    ASSERT_TRUE(desk.bench().document().measurements.back().limit.max);
    EXPECT_NEAR(*desk.bench().document().measurements.back().limit.max, 450e-12, 1e-18);
    desk.bench().undoStack().clear();
}

TEST(Sessions, ACrossOfAnEyeIsClickedWhateverIsShownByThen)
{
    Desk desk;
    desk.openDemo();
    const auto &sheets = desk.bench().document().sheets;
    for (int sheet = 0; sheet < int(sheets.size()); ++sheet) {
        if (std::any_of(sheets[std::size_t(sheet)].tiles.begin(), sheets[std::size_t(sheet)].tiles.end(),
                        [](const TileEntry &tile) { return tile.kind == "eye"; }))
            desk.bench().showSheet(sheet);
    }
    auto *eye = desk.find<QWidget>("eyeTile");
    ASSERT_NE(eye, nullptr);
    const auto clickAll = [&] {
        for (QWidget *tile : desk.window().findChildren<QWidget *>("eyeTile")) {
            for (int x = 80; x < tile->width() - 20; x += 24)
                for (int y = 34; y < tile->height() - 26; y += 16) QTest::mouseClick(tile, Qt::LeftButton, {}, {x, y});
        }
    };
    // A first look, whose masks are not there; then another project, while the tile still shows the one before.
    desk.bench().change("read anew", [](Document &document) { document.captures[0].import.start = 1e-9; });
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().complete(); }));
    clickAll();
    const test::TemporaryFolder folder;
    desk.bench().openProject(q(projectOf(folder, "a", 1, 5000)));
    clickAll();
    ASSERT_TRUE(desk.settled());
    clickAll();
}

TEST(Sessions, TakeTickedWhileAFileIsReadAgainStaysAsItIs)
{
    ImportDraft draft;
    const test::TemporaryFolder folder;
    draft.file = q(folder.write("a.csv", "t;u;v\n0;1;2\n1;2;3\n2;3;4\n"));
    Progress progress;
    readDraft(draft, progress);
    ASSERT_EQ(draft.columns.size(), 2u);
    ImportDraft again = draft; // on its way
    draft.columns[1].used = false;
    draft.columns[1].yours.insert("used");
    readDraft(again, progress);
    EXPECT_TRUE(takeReading(draft, again));
    EXPECT_FALSE(draft.columns[1].used);
    draft.options.sampleInterval = 2e-9; // corrected once more: that reading is on its way, this one is old
    EXPECT_FALSE(takeReading(draft, again));
}

TEST(Sessions, TheWindowClosesWithinASecondWhateverRuns)
{
    const test::TemporaryFolder folder;
    const QString big = q(projectOf(folder, "a", 1, 12'000'000));
    const auto closed = [&](int after) { // ms
        auto desk = std::make_unique<Desk>();
        desk->window().openFiles({big});
        desk->window().exportReport(q(folder / "r.pdf")); // waits for numbers
        desk->bench().exportChannel(q(folder / "c.csv"), "a");
        QTest::qWait(after);
        QElapsedTimer timer;
        timer.start();
        EXPECT_TRUE(desk->window().close());
        desk.reset();
        return timer.elapsed();
    };
    for (const int after : {0, 30, 150, 400}) {
        qint64 quickest = closed(after);
        for (int again = 0; again < 4 && quickest > 1000; ++again) // the machine may have other work
            quickest = std::min(quickest, closed(after));
        EXPECT_LE(quickest, 1000) << after;
    }
    EXPECT_FALSE(fs::exists(folder / "r.pdf"));
}

TEST(Sessions, AFarStartIsTakenAsTheOriginAndPicosecondsCanBeLookedAt)
{
    const test::TemporaryFolder folder;
    std::string bytes;
    for (int i = 0; i < 4000; ++i) bytes += char((i / 20) % 2 ? 100 : -100);
    folder.write("far.sigmf-data", bytes);
    folder.write("far.sigmf-meta", R"({"global": {"core:datatype": "ri8", "core:sample_rate": 1e10,
        "fulvex:sample_interval": 1e-10, "fulvex:start": 1764057600.0}})");
    Desk desk;
    desk.drop({q(folder / "far.sigmf-meta")});
    desk.takeImport();
    ASSERT_TRUE(desk.settled());
    Workbench &bench = desk.bench();
    EXPECT_EQ(bench.document().timeOrigin, 1764057600.0);
    bench.setView(100e-9, 100e-9 + 1e-12);
    EXPECT_NEAR(bench.viewTo() - bench.viewFrom(), 4e-10, 1e-15); // four samples
    // Without the origin it is not hidden, but offered.
    bench.change("absolute", [](Document &document) { moveTimeOrigin(document, 0); });
    ASSERT_TRUE(desk.settled());
    bench.select({Selection::Kind::capture, bench.document().captures[0].id});
    auto *remedy = desk.find<QWidget>("inspectorScroll")->findChild<QPushButton *>("remedy");
    ASSERT_NE(remedy, nullptr);
    EXPECT_EQ(remedy->text(), "Count times from 1764057600 s");
    QTest::mouseClick(remedy, Qt::LeftButton);
    EXPECT_EQ(bench.document().timeOrigin, 1764057600.0);
    bench.undoStack().clear();
}
