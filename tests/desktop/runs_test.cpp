// Captures of one thing taken together: a folder to the worst capture's failing bit, this one and all of them.

#include "ask_box.h"
#include "desktop_support.h"
#include "npy_files.h"
#include "temporary_folder.h"

#include <QFileDialog>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

namespace fs = std::filesystem;

/// A folder of captures of a link, the fourth of which has a dented bit, and a project of the first of them.
struct Night {
    Night()
    {
        fs::create_directory(folder / "night");
        for (int i = 1; i <= captures; ++i) write("night/c" + std::to_string(i) + ".npy", i);
        folder.write("link.fulvex", R"({"fulvex": 1, "title": "night",
            "captures": [{"id": "r", "file": "night/c1.npy", "import": {"sample_interval": 1e-10}}],
            "channels": [{"id": "link", "capture": "r", "unit": "V"}],
            "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 5e6}],
            "eyes": [{"id": "eye1", "source": "link", "clock": "loop"}],
            "masks": [{"id": "mask1", "eye": "eye1", "mask": "ieee-802.3-1000base-x"}],
            "measurements": [{"id": "tr", "quantity": "rise_time", "source": "link", "limit": {"max": 1e-6}},
                             {"id": "amp", "quantity": "amplitude", "source": "link"},
                             {"id": "eh", "quantity": "eye_height", "eye": "eye1"}],
            "sheets": [{"id": "s", "title": "Link", "tiles": [{"kind": "eye", "of": ["eye1"], "row": 0, "column": 0},
                       {"kind": "traces", "of": ["link"], "row": 1, "column": 0}]}]})");
    }
    void write(const std::string &name, int number) const
    {
        test::DataSpec spec;
        spec.unitIntervals = 1500;
        spec.samplesPerUi = 8;
        spec.noise = 0.006;
        spec.seed = std::uint64_t(number);
        std::vector<double> volts = test::makeData(spec).volts;
        constexpr std::size_t dent = 1100 * 8 + 7; // the middle of a unit interval, behind the loop's settling
        for (std::size_t i = dent - 2; number == dented && i <= dent + 2; ++i) volts[i] *= 0.05;
        test::writeNpy(folder / name, volts);
    }
    static constexpr int captures = 6, dented = 4;
    test::TemporaryFolder folder;
};

struct NightDesk : Night, Desk {
    NightDesk()
    {
        window().openFiles({QString::fromStdString(folder / "link.fulvex")});
        EXPECT_TRUE(settled());
    }
    /// The folder is chosen as the run, as in the menu.
    void takeFolder(const QString &words = "take a folder as a run of r")
    {
        chooseFile(QString::fromStdString(folder / "night"));
        ask(words);
    }
    bool counted(std::size_t many)
    {
        return test::waitFor([&] {
            const auto &run = bench().run();
            return run && run->counted == many && !run->working && settled();
        });
    }
    QTableView *runTable() { return find<QTableView>("runTable"); }
    QString runCell(int row, int column) { return runTable()->model()->index(row, column).data().toString(); }
    int runRow(const QString &capture)
    {
        for (int row = 0; row < runTable()->model()->rowCount(); ++row)
            if (runCell(row, 0) == capture) return row;
        return -1;
    }
    void clickRun(int row)
    {
        const QRect place = runTable()->visualRect(runTable()->model()->index(row, 1));
        QTest::mouseClick(runTable()->viewport(), Qt::LeftButton, {}, place.center());
    }
};

} // namespace

/// Beside the run a capture that fails its own mask and limit each time.
TEST(Runs, WhatStandsOnNoCaptureOfTheRunBlamesNoneOfThem)
{
    NightDesk desk;
    desk.write("ref.npy", Night::dented);
    desk.bench().change("a reference", [](Document &document) {
        document.captures.push_back(document.captures[0]);
        document.captures[1].id = "other";
        document.captures[1].file = "ref.npy";
        ChannelEntry channel = document.channels[0];
        channel.id = "still";
        channel.capture = "other";
        document.channels.push_back(channel);
        document.clocks.push_back(document.clocks[0]);
        document.clocks[1].id = "loop2";
        document.clocks[1].source = "still";
        document.eyes.push_back(document.eyes[0]);
        document.eyes[1].id = "eye2";
        document.eyes[1].source = "still";
        document.eyes[1].clock = "loop2";
        document.masks.push_back(document.masks[0]);
        document.masks[1].id = "mask2";
        document.masks[1].eye = "eye2";
        document.measurements.push_back(document.measurements[0]);
        document.measurements.back().id = "tr2";
        document.measurements.back().source = "still";
        document.measurements.back().limit.max = 1e-12;
    });
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures)) << desk.message().toStdString();
    EXPECT_EQ(desk.bench().run()->failed, 1u);
    EXPECT_EQ(desk.runCell(0, 0), "c4");
    EXPECT_EQ(desk.runCell(0, 2), "1"); // failed unit intervals, of its own mask alone
    for (int row = 1; row < Night::captures; ++row) EXPECT_EQ(desk.runCell(row, 1), "✓ pass") << row;
    const Results &all = *desk.bench().run()->all;
    EXPECT_EQ(all.masks[1].result->failedUnitIntervals, 1); // once, not six times
    EXPECT_EQ(all.rows[3].total->records.size(), 1u);
    // What tells of the run is offered for what is of it.
    auto *box = desk.find<AskBox>("ask");
    const auto offers = [&](const QString &words) {
        box->clear();
        box->setFocus();
        QTest::keyClicks(box, words);
        QStringList found;
        for (int row = 0; row < box->list()->count(); ++row) found << box->list()->item(row)->text();
        box->clear();
        return found;
    };
    EXPECT_TRUE(offers("add overview of the run").contains("Add an overview of the run of r"));
    EXPECT_FALSE(offers("add overview of the run").contains("Add an overview of the run of other"));
}

TEST(Runs, FromAFolderToTheWorstCapturesFailingBit)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures)) << desk.message().toStdString();
    // An overview came, the worst first.
    ASSERT_TRUE(desk.runTable());
    EXPECT_EQ(desk.runCell(0, 0), "c4");
    EXPECT_EQ(desk.runCell(0, 1), "✕ fail");
    EXPECT_EQ(desk.runCell(0, 2), "1");
    for (int row = 1; row < Night::captures; ++row) EXPECT_EQ(desk.runCell(row, 1), "✓ pass") << row;
    // It is chosen: all tiles are of it.
    EXPECT_EQ(desk.bench().shownMember(), "night/c1.npy");
    desk.clickRun(0);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().shownMember(), "night/c4.npy");
    EXPECT_EQ(desk.bench().results()->masks[0].result->failedUnitIntervals, 1);
    // Its failing bit is the first that Evidence lists of the mask.
    desk.bench().select({Selection::Kind::mask, "mask1"});
    auto *evidence = desk.find<QTableView>("evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1; }));
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_Down);
    evidence->selectRow(0);
    ASSERT_TRUE(desk.bench().moment());
    const double middle = (desk.bench().moment()->from + desk.bench().moment()->to) / 2;
    EXPECT_NEAR(middle, (1100 * 8 + 7) * 1e-10, 8e-10);
}

TEST(Runs, TheLedgerShowsThisOneAndAll)
{
    NightDesk desk;
    EXPECT_EQ(desk.ledgerCell(0, "all"), "—");
    EXPECT_TRUE(desk.find<QTableView>("ledgerTable")->isColumnHidden(10));
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    EXPECT_FALSE(desk.find<QTableView>("ledgerTable")->isColumnHidden(10));
    std::int64_t edges = 0;
    for (int i = 1; i <= Night::captures; ++i) {
        Document alone = desk.bench().document();
        alone.captures[0].file = "night/c" + std::to_string(i) + ".npy";
        Engine engine(FULVEX_SHIPPED_MASKS);
        Progress progress;
        edges += engine.evaluate(alone, desk.folder.path(), {}, progress).rows[0].statistics.count;
    }
    EXPECT_EQ(desk.ledgerCell(0, "all: count").toStdString(), std::to_string(edges));
    EXPECT_EQ(desk.ledgerCell(0, "count").toStdString(),
              std::to_string(desk.bench().results()->rows[0].statistics.count));
    const int mask = desk.find<QTableView>("ledgerTable")->model()->rowCount() - 1;
    EXPECT_EQ(desk.ledgerCell(mask, "all: verdict"), "✕ fail");
    EXPECT_EQ(desk.ledgerCell(mask, "verdict"), "✓ pass");
    // A limit that is typed judges both, and nothing is counted anew.
    const std::string before = desk.ledgerCell(0, "all").toStdString();
    desk.bench().change("limit", [](Document &document) { document.measurements[0].limit.max = 1e-12; });
    ASSERT_TRUE(test::waitFor([&] { return desk.ledgerCell(0, "all: verdict") == "✕ fail"; }));
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.ledgerCell(0, "verdict"), "✕ fail");
    EXPECT_EQ(desk.ledgerCell(0, "all").toStdString(), before);
    EXPECT_EQ(desk.bench().run()->failed, std::size_t(Night::captures));
}

TEST(Runs, WhatThisOneCannotTellOfAllIsStillSeen)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    test::writeNpy(desk.folder / "night/c0.npy", std::vector<double>(12000, 0.2)); // no edges
    desk.ask("count the run anew");
    ASSERT_TRUE(desk.counted(Night::captures + 1));
    desk.bench().showMember("night/c0.npy");
    ASSERT_TRUE(desk.settled());
    EXPECT_TRUE(desk.ledgerCell(0, "this one").startsWith("unmeasurable"));
    EXPECT_TRUE(desk.ledgerCell(0, "all").contains("ps"));
    EXPECT_EQ(desk.find<QTableView>("ledgerTable")->columnSpan(0, 2), 8); // up to what all captures gave
}

TEST(Runs, OneKeyStepsThroughTheCapturesAsOneStepToUndo)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    for (int i = 0; i < 3; ++i) desk.key(Qt::Key_F8, Qt::NoModifier);
    EXPECT_EQ(desk.bench().shownMember(), "night/c4.npy");
    desk.key(Qt::Key_F7, Qt::NoModifier);
    EXPECT_EQ(desk.bench().shownMember(), "night/c3.npy");
    for (int i = 0; i < 9; ++i) desk.key(Qt::Key_F8, Qt::NoModifier); // not beyond the last
    EXPECT_EQ(desk.bench().shownMember(), "night/c6.npy");
    desk.key(Qt::Key_F8, Qt::ShiftModifier);
    EXPECT_EQ(desk.bench().shownMember(), "night/c4.npy"); // the worst
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(desk.bench().shownMember(), "night/c1.npy");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().run()->counted, std::size_t(Night::captures)); // which is shown is no matter
}

TEST(Runs, OneIsLeftOutWithAReasonAndTakenBack)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    desk.clickRun(0);
    ASSERT_TRUE(desk.settled());
    desk.answer("the probe fell off");
    desk.ask("leave the shown capture out");
    ASSERT_TRUE(desk.counted(Night::captures - 1));
    EXPECT_EQ(desk.bench().run()->failed, 0u);
    const int row = desk.runRow("c4");
    ASSERT_GE(row, 0);
    EXPECT_EQ(desk.runCell(row, 1), "left out: the probe fell off");
    EXPECT_EQ(desk.bench().run()->all->masks[0].verdict, Verdict::pass);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(desk.counted(Night::captures));
    EXPECT_EQ(desk.bench().run()->failed, 1u);
}

TEST(Runs, EvidenceOfAllNamesCaptureAndMoment)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    desk.bench().select({Selection::Kind::mask, "mask1"});
    auto *evidence = desk.find<QTableView>("evidenceTable");
    evidence->setFocus();
    QTest::mouseClick(desk.find<QPushButton>("evidenceWhich"), Qt::LeftButton);
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1; }));
    EXPECT_EQ(evidence->model()->headerData(1, Qt::Horizontal).toString(), "capture");
    EXPECT_EQ(evidence->model()->index(0, 1).data().toString(), "c4.npy");
    // A click goes there, to that capture.
    const QRect place = evidence->visualRect(evidence->model()->index(0, 0));
    QTest::mouseClick(evidence->viewport(), Qt::LeftButton, {}, place.center());
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().moment().has_value(); }));
    EXPECT_EQ(desk.bench().shownMember(), "night/c4.npy");
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR((desk.bench().moment()->from + desk.bench().moment()->to) / 2, (1100 * 8 + 7) * 1e-10, 8e-10);
    EXPECT_LT(desk.bench().viewTo() - desk.bench().viewFrom(), 1e-7); // and it is seen
    // Of a row the farthest values of all captures; of one number a capture each capture's.
    desk.bench().select({Selection::Kind::measurement, "tr"});
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() > 100; }));
    desk.bench().select({Selection::Kind::measurement, "eh"});
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == Night::captures; }));
}

TEST(Runs, CountingAnewAndStopping)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    // Stopped, nothing is counted.
    desk.ask("stop counting the run");
    EXPECT_TRUE(desk.bench().runKeeper().isStopped());
    desk.write("night/c7.npy", 7);
    desk.bench().change("bandwidth", [](Document &document) { document.clocks[0].bandwidth = 4e6; });
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().run() && desk.bench().run()->counted == 0; }));
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().run()->counted, 0u);
    desk.ask("count the run anew");
    ASSERT_TRUE(desk.counted(7));
    EXPECT_FALSE(desk.bench().runKeeper().isStopped());
}

TEST(Runs, EndsAtFailuresAndSaysSo)
{
    NightDesk desk;
    desk.bench().change("stop", [](Document &document) {
        document.captures[0].run.files = {"night"};
        document.captures[0].run.stopAt = 1;
    });
    ASSERT_TRUE(desk.counted(Night::dented));
    EXPECT_TRUE(desk.bench().run()->ended);
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("The run ended"));
}

TEST(Runs, AWatchedFolderGrowsWhileOneLooks)
{
    NightDesk desk;
    desk.takeFolder("watch a folder as a run of r");
    ASSERT_TRUE(desk.counted(Night::captures));
    desk.write("night/c8.npy", 8);
    ASSERT_TRUE(desk.counted(Night::captures + 1));
    EXPECT_GE(desk.runRow("c8"), 0);
}

TEST(Runs, WhatIsOfAnotherProjectIsNotShown)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().run() != nullptr; }));
    desk.bench().newProject(); // while it counts
    EXPECT_EQ(desk.bench().run(), nullptr);
    QTest::qWait(400);
    EXPECT_EQ(desk.bench().run(), nullptr);
    EXPECT_EQ(desk.bench().shownMember(), "");
    // The same project again counts all again.
    desk.window().openFiles({QString::fromStdString(desk.folder / "link.fulvex")});
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().run(), nullptr); // it was not saved with its run
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
}

TEST(Runs, TilesShowOneAllOrTheLastFading)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    const auto &sheet = desk.bench().document().sheets.back();
    const auto all = std::find_if(sheet.tiles.begin(), sheet.tiles.end(),
                                  [](const TileEntry &tile) { return tile.kind == "eye" && tile.captures == "all"; });
    ASSERT_NE(all, sheet.tiles.end());
    TileEntry one = *all, recent = *all;
    one.captures = "one";
    recent.captures = "recent";
    const auto foldOf = [&](const TileEntry &tile) {
        const auto results = desk.bench().resultsFor(tile);
        return results ? results->eyes[0].fold : nullptr;
    };
    EXPECT_GT(foldOf(*all)->unitIntervals, 5 * foldOf(one)->unitIntervals);
    EXPECT_EQ(foldOf(recent), nullptr); // nobody asked for it
    desk.bench().change("fading", [&](Document &document) {
        for (TileEntry &tile : document.sheets.back().tiles)
            if (tile.captures == "all") tile.captures = "recent";
    });
    ASSERT_TRUE(test::waitFor([&] { return foldOf(recent) != nullptr; }));
    ASSERT_TRUE(desk.counted(Night::captures));
    // Each counts half as much as the one after it: 63 parts of 1, 2, 4 … 32.
    const double each = double(foldOf(one)->unitIntervals);
    EXPECT_NEAR(double(foldOf(recent)->unitIntervals), 63 * each, 0.02 * 63 * each);
}

TEST(Runs, TracesOfOtherCapturesLieBehindTheOneThatIsShown)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    desk.bench().showSheet(0);
    auto *tile = desk.find<QWidget>("traceTile");
    ASSERT_TRUE(tile);
    desk.bench().setView(1e-7, 1.2e-7); // a few unit intervals: each capture has other symbols
    const auto inkOf = [&] {            // pixels of the traces' blue: paper and lines of the grid are warm
        EXPECT_TRUE(desk.settled());
        const QImage image = tile->grab().toImage().convertToFormat(QImage::Format_RGB32);
        qint64 inked = 0;
        for (int y = 40; y < image.height() - 30; ++y)
            for (int x = 90; x < image.width() - 30; ++x) inked += qBlue(image.pixel(x, y)) > qRed(image.pixel(x, y));
        return inked;
    };
    const auto show = [&](const char *captures) {
        desk.bench().change("which", [&](Document &document) { document.sheets[0].tiles[1].captures = captures; });
        EXPECT_TRUE(desk.counted(Night::captures));
        EXPECT_TRUE(test::waitFor([&] {
            return (desk.bench().run()->traces.size() == Night::captures) == (std::string(captures) != "one");
        }));
    };
    const qint64 one = inkOf();
    EXPECT_GT(one, 100);
    show("recent");
    EXPECT_TRUE(test::waitFor([&] { return inkOf() > 2 * one; })) << one << " " << inkOf();
    show("all");
    EXPECT_TRUE(test::waitFor([&] { return inkOf() > 2 * one; }));
    // Without its run, and with one capture, it is as it was.
    show("one");
    EXPECT_TRUE(test::waitFor([&] { return inkOf() < 1.1 * one; })) << one << " " << inkOf();
    EXPECT_TRUE(desk.bench().run()->traces.empty());
}

TEST(Runs, JitterOfAllCapturesIsTakenApartTogether)
{
    NightDesk desk;
    desk.bench().change("budget", [](Document &document) {
        document.budgets.push_back({.id = "jitter", .clock = "loop"});
        TileEntry tile;
        tile.id = "b";
        tile.kind = "budget";
        tile.of = {"jitter"};
        tile.row = 2;
        tile.captures = "all";
        document.sheets[0].tiles.push_back(tile);
        tile.id = "t";
        tile.kind = "jitter_histogram";
        tile.column = 1;
        document.sheets[0].tiles.push_back(tile);
    });
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    desk.bench().showSheet(0);
    ASSERT_TRUE(desk.settled());
    const BudgetResult &own = desk.bench().results()->budgets[0], &all = desk.bench().run()->all->budgets[0];
    ASSERT_EQ(all.reason, "");
    EXPECT_EQ(all.found->records, Night::captures);
    EXPECT_NEAR(double(all.found->count), double(Night::captures * own.found->count), 0.1 * double(all.found->count));
    EXPECT_LT(all.found->randomUncertainty, 0.7 * own.found->randomUncertainty);
    EXPECT_TRUE(desk.find<QWidget>("budgetTile")->grab().toImage() != QImage());
    // A piece of all of them has no moments of its own, and says where they are.
    Question question;
    question.ofRun = true;
    question.part = 0;
    desk.bench().select({Selection::Kind::budget, "jitter"}, question);
    EXPECT_TRUE(test::waitFor([&] {
        const auto labels = desk.window().findChildren<QLabel *>("quiet");
        return std::ranges::any_of(labels, [](const QLabel *label) {
            return label->isVisible() && label->text().contains("Choose a capture");
        });
    }));
}

TEST(Runs, AReportIsOfAllCapturesThatWereCounted)
{
    NightDesk desk;
    desk.takeFolder();
    ASSERT_TRUE(desk.counted(Night::captures));
    const std::string path = desk.folder / "all.html";
    desk.window().exportReportOfAll(QString::fromStdString(path));
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().errands().busy(); }));
    std::ifstream file(path);
    const std::string html((std::istreambuf_iterator<char>(file)), {});
    EXPECT_THAT(html, testing::HasSubstr("6 accumulated"));
    EXPECT_THAT(html, testing::HasSubstr("night/c4.npy")); // the one that failed, among the failures
}
