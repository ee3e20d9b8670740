// Exports from the window: report, table, pictures.

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
    for (const char *part :
         {"Brackwater: camera link", "serial BW-07", "1 failed UI", "How the numbers were made", "dent: the mask"})
        EXPECT_THAT(html, testing::HasSubstr(part));
    desk.answer(QString::fromStdString(folder / "table.csv"));
    desk.key(Qt::Key_T, Qt::ControlModifier);
    desk.bench().errands().finish();
    EXPECT_THAT(test::readAll(folder / "table.csv"), testing::HasSubstr("tie,time_interval_error,link,s,ok,"));
    auto *tile = qobject_cast<TileFrame *>(desk.find<QWidget>("traceTile"));
    desk.window().exportPicture(tile, QString::fromStdString(folder / "tile.png"));
    desk.bench().errands().finish();
    const QImage picture(QString::fromStdString(folder / "tile.png"));
    EXPECT_EQ(picture.size(), tile->size() * 2);
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
