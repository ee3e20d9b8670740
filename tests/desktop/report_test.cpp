// Exports from the window: report, table, pictures.

#include "capture_reader.h"
#include "desktop_support.h"
#include "temporary_folder.h"
#include "tile_frame.h"

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
                             "dent: the mask", "Trend of sheet Wrong clock: time interval error"})
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
