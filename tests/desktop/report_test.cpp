// Exports from the window: report, table, pictures.

#include "capture_reader.h"
#include "desktop_support.h"
#include "plan_station.h"
#include "report_layouts.h"
#include "report_page.h"
#include "temporary_folder.h"
#include "tile_frame.h"

#include <QTest>
#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

TEST(Export, ReportTableAndPictureThroughTheMenus)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    desk.answer(QString::fromStdString(folder / "report.pdf"));
    desk.key(Qt::Key_R, Qt::ControlModifier);
    desk.bench().errands().finish();
    EXPECT_EQ(test::readAll(folder / "report.pdf").substr(0, 5), "%PDF-");
    desk.answer(QString::fromStdString(folder / "report.html"));
    desk.key(Qt::Key_R, Qt::ControlModifier);
    desk.bench().errands().finish();
    const std::string html = test::readAll(folder / "report.html");
    for (const char *part : {"Brackwater: camera link", "serial BW-07", "1 failed UI", "How the numbers were made",
                             "dent: the mask", ">Wrong clock</h2>", "time interval error along the record"})
        EXPECT_THAT(html, testing::HasSubstr(part));
    desk.answer(QString::fromStdString(folder / "table.csv"));
    desk.key(Qt::Key_T, Qt::ControlModifier);
    desk.bench().errands().finish();
    EXPECT_THAT(test::readAll(folder / "table.csv"), testing::HasSubstr("tie,time_interval_error,link,s,ok,"));
    auto *tile = qobject_cast<TileFrame *>(desk.find<QWidget>("traceTile"));
    desk.bench().fitView(); // not drawn yet: the picture waits for it
    desk.window().exportPicture(tile, QString::fromStdString(folder / "tile.png"));
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().figures().busy() && !desk.bench().errands().busy(); }));
    const QImage picture(QString::fromStdString(folder / "tile.png"));
    EXPECT_EQ(picture.size(), tile->size() * 2);
    int inked = 0; // rows of the middle column that are other than paper
    for (int y = 40; y < picture.height() - 60; ++y)
        inked += picture.pixelColor(picture.width() / 2, y) != desk.bench().look().tile;
    EXPECT_GT(inked, 100);
}

/// A report opens as the project it came from; it is no file to save to, so that nothing can be written over it.
TEST(Export, AReportIsOpenedAgainAsItsProject)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    for (const char *name : {"report.pdf", "report.html"}) {
        const QString path = QString::fromStdString(folder / name);
        desk.window().exportReport(path);
        desk.bench().errands().finish();
        const std::string made = test::readAll(folder / name);
        Desk other;
        other.window().openFiles({path});
        other.bench().errands().finish();
        EXPECT_EQ(other.bench().document().title, desk.bench().document().title);
        EXPECT_EQ(other.bench().document().measurements, desk.bench().document().measurements);
        EXPECT_EQ(other.bench().document().sheets.size(), desk.bench().document().sheets.size());
        EXPECT_EQ(other.bench().document().captures[0].sha256.size(), 64u);
        EXPECT_TRUE(other.bench().path().isEmpty());
        EXPECT_FALSE(other.bench().undoStack().isClean());
        EXPECT_EQ(test::readAll(folder / name), made);
    }
}

/// Laid out by hand, as it will be printed: who measured, paper, a sheet left out, another order, a picture; kept as a
/// layout, written as both files, and opened again as a project that is laid out so.
TEST(ReportDesk, IsLaidOutWrittenAndOpenedAgain)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    desk.key(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
    auto *page = desk.find<ReportPage>("reportPage");
    auto *area = desk.find<PageArea>("pageArea");
    ASSERT_TRUE(page->isVisible());
    ASSERT_TRUE(test::waitFor([&] { return area->isDrawn() && !desk.bench().pages().busy(); }));
    const std::size_t before = area->pageCount();
    EXPECT_GT(before, 8u);

    const auto item = [&](const QString &words) {
        auto *parts = desk.find<QTreeWidget>("reportParts");
        const auto found = parts->findItems(words, Qt::MatchExactly | Qt::MatchRecursive);
        return found.isEmpty() ? nullptr : found.front();
    };
    const auto laid = [&] { return test::waitFor([&] { return !desk.bench().pages().busy() && area->isDrawn(); }); };
    auto *author = page->findChild<QLineEdit *>("report_author");
    ASSERT_TRUE(author);
    author->setText("the night shift");
    emit author->editingFinished();
    EXPECT_EQ(desk.bench().document().report.author, "the night shift");
    ASSERT_TRUE(item("Wrong clock"));
    item("Wrong clock")->setCheckState(0, Qt::Unchecked);
    const auto report = [&] { return desk.bench().document().report; };
    ASSERT_TRUE(test::waitFor([&] { return report().without.size() == 1; }));
    item("what no sheet shows")->setCheckState(0, Qt::Unchecked);
    ASSERT_TRUE(test::waitFor([&] { return !report().parts.empty(); }));
    const std::vector<std::string> chosen = report().parts;
    EXPECT_EQ(std::ranges::count(chosen, "rest"), 0);
    auto *parts = desk.find<QTreeWidget>("reportParts");
    parts->setCurrentItem(item("captures and their checks"));
    parts->setFocus();
    QTest::keyClick(parts, Qt::Key_Up, Qt::AltModifier);
    EXPECT_TRUE(test::waitFor([&] { return report().parts.back() == "making"; }));
    ASSERT_TRUE(test::waitFor([&] { return area->pageCount() < before; }));
    ASSERT_TRUE(laid());

    QImage picture(40, 20, QImage::Format_RGB32);
    picture.fill(Qt::darkGreen);
    ASSERT_TRUE(picture.save(QString::fromStdString(folder / "mark.png")));
    desk.answer(QString::fromStdString(folder / "mark.png"));
    QTest::mouseClick(desk.find<QPushButton>("reportLogo"), Qt::LeftButton);
    EXPECT_FALSE(desk.bench().document().report.logo.empty());
    desk.answer("the harbour's");
    QTest::mouseClick(desk.find<QPushButton>("reportKeep"), Qt::LeftButton);
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("Kept as \"the harbour's\""));
    const std::vector<ReportLayout> kept = keptReportLayouts();
    const auto its = std::ranges::find(kept, "the harbour's", &ReportLayout::title);
    ASSERT_NE(its, kept.end());
    EXPECT_EQ(its->entry.author, "the night shift");
    forgetReportLayout("the harbour's");

    desk.answer(QString::fromStdString(folder / "hand over.pdf"));
    QTest::mouseClick(desk.find<QPushButton>("reportWrite"), Qt::LeftButton);
    desk.bench().errands().finish();
    EXPECT_EQ(desk.message().toStdString().find("cannot"), std::string::npos);
    const std::string html = test::readAll(folder / "hand over.html");
    EXPECT_THAT(html, testing::HasSubstr("Measured by the night shift"));
    EXPECT_THAT(html, testing::HasSubstr("class=\"logo\""));
    EXPECT_THAT(html, testing::Not(testing::HasSubstr(">Wrong clock</h2>")));
    EXPECT_THAT(html, testing::HasSubstr(">Link eye</h2>"));

    Desk other;
    other.window().openFiles({QString::fromStdString(folder / "hand over.pdf")});
    other.bench().errands().finish();
    EXPECT_EQ(other.bench().document().report, desk.bench().document().report);

    QTest::keyClick(area, Qt::Key_Escape);
    EXPECT_FALSE(page->isVisible());
    EXPECT_TRUE(desk.find<QWidget>("traceTile")->isVisible());
    EXPECT_FALSE(desk.bench().pages().busy());
}

/// What a plan came to and how another result differs stand in the report, and it waits until both are known.
TEST(ReportDesk, TellsPlansAndComparisonsOnceTheyAreKnown)
{
    test::StationDesk desk;
    ASSERT_TRUE(desk.planned());
    desk.folder.write("beside.fulvex", R"json({"fulvex": 1, "title": "Beside",
        "captures": [{"id": "r", "file": "warm.npy", "import": {"sample_interval": 1e-10}}],
        "channels": [{"id": "a", "capture": "r", "unit": "V"}],
        "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"}]})json");
    desk.bench().change("a capture of its own", [](Document &document) {
        document.captures.push_back({.id = "r", .file = "cold.npy", .import = {.sampleInterval = 1e-10}});
        document.channels.push_back({.id = "a", .capture = "r", .unit = "V"});
        document.measurements.push_back({.id = "tr", .quantity = "rise_time", .source = "a"});
    });
    desk.bench().save(desk.file("own.fulvex"));
    desk.bench().errands().finish();
    fillSlot(desk.bench(), "station", "first", "cold", {desk.file("slow.npy")});
    desk.bench().compareWith(desk.file("beside.fulvex"));
    desk.window().exportReport(desk.file("report.html")); // at once, before either is known
    ASSERT_TRUE(test::waitFor([&] { return std::filesystem::exists(desk.folder / "report.html"); }));
    desk.bench().errands().finish();
    const std::string html = test::readAll(desk.folder / "report.html");
    for (const char *words : {"1 Cold", "At 15 degrees.", "✕ fail", "2 Warm", "Compared with beside",
                              "The numbers, in units of their uncertainty", "Fails"})
        EXPECT_THAT(html, testing::HasSubstr(words));
    // Another project opened before all is known: said, and nothing is written.
    fillSlot(desk.bench(), "station", "second", "warm", {desk.file("warm.npy")});
    desk.window().exportReport(desk.file("late.html"));
    desk.bench().newProject();
    desk.bench().errands().finish();
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("late.html is not done"));
    EXPECT_FALSE(std::filesystem::exists(desk.folder / "late.html"));
}

/// Whatever is opened, undone or changed while pages are laid out: what is shown is of the project that is open.
TEST(ReportDesk, ShowsThePagesOfTheProjectThatIsOpen)
{
    Desk desk;
    desk.openDemo();
    for (int after : {0, 5, 20, 60, 150}) {
        desk.window().layOutReport(true);
        QTest::qWait(after);
        desk.bench().change("another title", [&](Document &document) { document.title = "T" + std::to_string(after); });
        QTest::qWait(after / 2);
        if (after % 20 == 0) desk.bench().newProject();
        EXPECT_EQ(desk.find<QWidget>("reportPage")->isVisible(), after % 20 != 0);
        if (after % 20 == 0) desk.openDemo();
    }
    desk.window().layOutReport(true);
    auto *area = desk.find<PageArea>("pageArea");
    ASSERT_TRUE(test::waitFor([&] { return area->isDrawn() && !desk.bench().pages().busy(); }));
    desk.bench().newProject();
    EXPECT_EQ(area->pageCount(), 0u);
}

/// A report's function plots are recorded on the interface's thread: that must not wait for the report in turn.
TEST(Export, TheWindowMayGoAtAnyMomentWhileAReportIsMade)
{
    const test::TemporaryFolder folder;
    for (const int after : {0, 5, 20, 60, 150}) {
        Desk desk;
        desk.openDemo();
        desk.window().exportReport(QString::fromStdString(folder / "report.html"));
        QTest::qWait(after);
        const auto bytes = test::readAll(folder / "report.html"); // whole, or none at all
        EXPECT_TRUE(bytes.empty() || bytes.ends_with("</html>\n")) << after;
    }
}

/// What is computed can be taken away and read again: the same bits, the whole record or what is shown.
TEST(Export, AChannelIsWrittenAndReadAgain)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::channel, "link"});
    desk.answer(QString::fromStdString(folder / "link.npy"));
    desk.key(Qt::Key_W, Qt::ControlModifier | Qt::ShiftModifier);
    desk.bench().setView(10e-6, 20e-6);
    desk.answer(QString::fromStdString(folder / "part.h5"));
    desk.ask("write what is shown");
    desk.bench().errands().finish();
    EXPECT_EQ(desk.message(), "");
    const SourcePtr link = findEntry(desk.bench().results()->channels, "link")->source;
    Progress progress;
    const Capture whole = readCapture(folder / "link.npy", {}, progress);
    ASSERT_EQ(whole.axis.count, link->axis().count);
    const Capture part = readCapture(folder / "part.h5", {}, progress);
    EXPECT_EQ(part.axis.interval, link->axis().interval);
    EXPECT_NEAR(part.axis.start, desk.bench().viewFrom(), link->axis().interval);
    EXPECT_NEAR(double(part.axis.count), 10e-6 / link->axis().interval, 2);
    const auto offset = std::llround(link->axis().positionOf(part.axis.start));
    for (const std::int64_t sample : {0, 1, 4000, 79000}) {
        double truth = 0, all = 0, some = 0;
        link->read(offset + sample, std::span(&truth, 1));
        whole.columns[0].read(offset + sample, std::span(&all, 1));
        part.columns[0].read(sample, std::span(&some, 1));
        EXPECT_EQ(all, truth);
        EXPECT_EQ(some, truth);
    }
}

TEST(Export, AFolderThatIsNotThereIsSaid)
{
    Desk desk;
    desk.openDemo();
    desk.window().exportTable("/nowhere/at/all/table.csv");
    desk.bench().errands().finish();
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("cannot be written"));
    desk.window().exportReport("/nowhere/at/all/report.pdf");
    desk.bench().errands().finish();
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("check that its folder exists"));
}
