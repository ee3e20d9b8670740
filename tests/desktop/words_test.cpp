// Words on a sheet, and a sheet's layout kept for the next project.

#include "desktop_support.h"
#include "kept_files.h"
#include "temporary_folder.h"

#include <QPlainTextEdit>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;
using testing::HasSubstr;

TEST(Words, AreWrittenOnASheetUndoneSavedAndReported)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    desk.ask("add words to the sheet");
    auto *tile = desk.find<QWidget>("wordsTile");
    ASSERT_TRUE(tile);
    const auto write = [&](const QString &words) {
        desk.whenAsked([&](QDialog &dialog) {
            dialog.findChild<QPlainTextEdit *>("wordsText")->setPlainText(words);
            dialog.accept();
        });
        tile->setFocus();
        QTest::keyClick(tile, Qt::Key_F2);
    };
    write("# Mind the dent\nIt is *one* bit, see [where it breaks](#breaks).");
    const auto words = [&] { return desk.bench().document().sheets[2].tiles.back().words; };
    EXPECT_THAT(words(), HasSubstr("Mind the dent"));
    EXPECT_TRUE(desk.drawn());
    EXPECT_THAT(tile->accessibleDescription().toStdString(), HasSubstr("one"));
    // What does not fit is scrolled to.
    const QImage before = tile->grab().toImage();
    write(QString("many words that do not fit\n\n").repeated(60));
    EXPECT_TRUE(desk.drawn());
    const QImage top = tile->grab().toImage();
    QTest::keyClick(tile, Qt::Key_PageDown);
    EXPECT_TRUE(desk.drawn());
    const QImage below = tile->grab().toImage();
    EXPECT_NE(top, below);
    for (int i = 0; i < 200; ++i) QTest::keyClick(tile, Qt::Key_Up);
    EXPECT_TRUE(desk.drawn());
    EXPECT_EQ(tile->grab().toImage(), top) << "and no farther than their beginning";
    desk.bench().undoStack().undo();
    EXPECT_TRUE(desk.drawn());
    EXPECT_EQ(tile->grab().toImage(), before);
    write("something else");
    desk.bench().undoStack().undo();
    EXPECT_THAT(words(), HasSubstr("Mind the dent"));
    const QString report = QString::fromStdString(folder / "report.html");
    desk.window().exportReport(report);
    ASSERT_TRUE(test::waitFor([&] { return QFileInfo(report).size() > 0; }));
    QFile file(report);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_THAT(file.readAll().toStdString(), HasSubstr("Mind the dent"));
    desk.bench().undoStack().clear();
}

TEST(SheetLayouts, AreKeptForTheNextProject)
{
    {
        Desk desk;
        desk.openDemo();
        desk.showSheet("Link eye");
        desk.answer("usual link");
        desk.ask("keep the layout of link eye");
        EXPECT_THAT(desk.message().toStdString(), HasSubstr("Kept as \"usual link\""));
    }
    Desk desk;
    desk.openDemo();
    const std::size_t before = desk.bench().document().sheets.size();
    desk.ask("lay a sheet out as usual link");
    ASSERT_EQ(desk.bench().document().sheets.size(), before + 1);
    const SheetEntry &laid = desk.bench().document().sheets.back();
    EXPECT_EQ(laid.title, "usual link");
    EXPECT_EQ(laid.tiles.size(), 3U);
    EXPECT_EQ(desk.find<QTabBar>("sheetTabs")->tabText(desk.bench().sheet()), "usual link");
    desk.bench().undoStack().undo();
    EXPECT_EQ(desk.bench().document().sheets.size(), before);
    desk.ask("forget the sheet layout usual link");
    EXPECT_TRUE(keptFiles("sheets").empty());
}
