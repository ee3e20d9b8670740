// Files on their way in: the beginning of each as it lies on the disk, beside what was understood of it.

#include "desktop_support.h"
#include "file_view.h"
#include "temporary_folder.h"

#include <QScrollBar>
#include <QToolButton>
#include <cmath>

using namespace fulvex;
using test::Desk;

namespace {

constexpr int rowHeight = 18, margin = 12, wordsAt = 52; ///< pixels

/// What lies under the words of a line, just before the first.
QColor groundOf(FileView *view, int line)
{
    const QImage shown = view->viewport()->grab().toImage();
    return shown.pixelColor(wordsAt - 4, margin + line * rowHeight + rowHeight / 2);
}

} // namespace

/// Of a letter of Latin-1 that UTF-8 has two bytes for, the lines behind it are where the file has them.
TEST(FileOnItsWayIn, LinesThatSayAFactAreTintedWhateverTheirLetters)
{
    const test::TemporaryFolder folder;
    for (const char *micro : {"\xB5", "\xC2\xB5"}) {
        std::string table = std::string("Ger\xE4t;Platz\r\nOrt;K\xFCste\r\n\r\nZeit [") + micro + "s];A [mV]\r\n";
        for (int i = 0; i < 200; ++i) table += std::to_string(i) + ",5;" + std::to_string(i % 7) + ",25\r\n";
        Desk desk;
        desk.drop({QString::fromStdString(folder.write("table.txt", table))});
        ASSERT_TRUE(desk.importShown());
        auto *view = desk.find<FileView>("fileView");
        std::vector<int> tinted;
        for (int line = 0; line < 10; ++line)
            if (groundOf(view, line) != desk.bench().look().tile) tinted.push_back(line);
        ASSERT_FALSE(tinted.empty());
        EXPECT_EQ(tinted.front(), 3) << "the heading of the time column is the fourth line";
    }
}

TEST(FileOnItsWayIn, AClickOnAByteSaysWhereRawSamplesBegin)
{
    const test::TemporaryFolder folder;
    std::string bytes = "REC1" + std::string(1020, '\0');
    for (int i = 0; i < 20000; ++i) bytes += char(std::lround(100 * std::sin(i * 2 * M_PI / 300)));
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("record.bin", bytes))});
    ASSERT_TRUE(desk.importShown());
    auto *view = desk.find<FileView>("fileView");
    const int line = 1024 / 16;
    view->verticalScrollBar()->setValue((line - 5) * rowHeight);
    const int y = margin + line * rowHeight + rowHeight / 2 - view->verticalScrollBar()->value();
    ASSERT_TRUE(view->viewport()->rect().contains(wordsAt, y));
    QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, {wordsAt + 4, y});
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QLineEdit>("importHeader")->text() == "1024"; }));
    ASSERT_TRUE(desk.importShown());
    auto *interval = desk.find<QLineEdit>("importInterval");
    test::typeInto(interval, "1 ns");
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QPushButton>("importAdd")->isEnabled(); }));
    desk.takeImport();
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().captures[0].import.headerBytes, 1024);
    EXPECT_EQ(desk.bench().results()->captures[0].samples, 20000);
    desk.bench().undoStack().clear();
}

/// Each of several files has a sheet, that shows all of its record however long those of others are.
TEST(FilesOnTheirWayIn, HaveASheetEachThatShowsAllOfThem)
{
    const test::TemporaryFolder folder;
    const auto table = [&](const char *name, int rows) {
        std::string words = "t (s),v (V)\n";
        for (int i = 0; i < rows; ++i) words += std::to_string(i) + "e-9," + std::to_string(i / 10 % 2) + "\n";
        return QString::fromStdString(folder.write(name, words));
    };
    Desk desk;
    desk.drop({table("short.csv", 1000), table("long.csv", 4000)});
    ASSERT_TRUE(desk.importShown());
    desk.takeImport();
    ASSERT_TRUE(desk.settled());
    auto *tabs = desk.find<QTabBar>("sheetTabs");
    ASSERT_EQ(tabs->count(), 2);
    EXPECT_TRUE(test::waitFor([&] { return tabs->isVisible() && tabs->height() >= tabs->tabRect(0).height(); }));
    EXPECT_GT(tabs->tabRect(0).height(), 10);
    EXPECT_NEAR(desk.bench().viewTo(), 3999e-9, 2e-9);
    desk.showSheet("short");
    EXPECT_NEAR(desk.bench().viewTo(), 999e-9, 2e-9);
    desk.showSheet("long");
    EXPECT_NEAR(desk.bench().viewTo(), 3999e-9, 2e-9);
    desk.bench().undoStack().clear();
}
