// Sheets composed by hand: tiles moved, sized, enlarged and sent; sheets ordered and duplicated.

#include "desktop_support.h"
#include "tile_edits.h"
#include "tile_frame.h"

#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

namespace {

/// The demo's sheet of a trace above an eye and a histogram.
struct Composing : testing::Test {
    Composing()
    {
        desk.openDemo();
        desk.bench().showSheet(2);
        QTest::qWait(20);
    }
    ~Composing() override { desk.bench().undoStack().clear(); }
    TileFrame *tile(const char *name) { return desk.find<TileFrame>(name); }
    const SheetEntry &sheet(int index = 2) { return desk.bench().document().sheets[std::size_t(index)]; }
    static QPoint head(const QWidget *of) { return {of->width() / 2, 12}; }
    /// Presses at a place of a widget, moves to a place of another, and lets go there.
    static void drag(QWidget *tile, QPoint from, QWidget *onto, QPoint to)
    {
        QTest::mousePress(tile, Qt::LeftButton, {}, from);
        const QPoint end = tile->mapFromGlobal(onto->mapToGlobal(to));
        QTest::mouseMove(tile, (from + end) / 2);
        QTest::mouseMove(tile, end);
        QTest::mouseRelease(tile, Qt::LeftButton, {}, end);
        QTest::qWait(20);
    }
    void key(QWidget *tile, Qt::Key key, Qt::KeyboardModifiers keys)
    {
        tile->setFocus();
        QTest::keyClick(tile, key, keys);
        QTest::qWait(20);
    }
    Desk desk;
};

} // namespace

TEST_F(Composing, AHeadDraggedOntoAnotherTileExchangesTheTwo)
{
    const QRect eye = tile("eyeTile")->geometry(), histogram = tile("histogramTile")->geometry();
    ASSERT_LT(eye.left(), histogram.left());
    drag(tile("eyeTile"), head(tile("eyeTile")), tile("histogramTile"), {100, 100});
    EXPECT_EQ(tile("eyeTile")->geometry(), histogram);
    EXPECT_EQ(tile("histogramTile")->geometry(), eye);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    QTest::qWait(20);
    EXPECT_EQ(tile("eyeTile")->geometry(), eye);
    const Document before = desk.bench().document();
    drag(tile("eyeTile"), head(tile("eyeTile")), tile("eyeTile"), {50, 60}); // onto itself
    drag(tile("eyeTile"), head(tile("eyeTile")), &desk.window(), {5, 5});    // nowhere
    EXPECT_EQ(desk.bench().document(), before);
    key(tile("eyeTile"), Qt::Key_Right, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_EQ(tile("eyeTile")->geometry(), histogram);
}

TEST_F(Composing, AClickOnAHeadSelectsAsAClickOnTheTileDoes)
{
    desk.bench().select({});
    QTest::mouseClick(tile("eyeTile"), Qt::LeftButton, {}, head(tile("eyeTile")));
    EXPECT_EQ(desk.bench().selection().kind, Selection::Kind::eye);
    QTest::mouseClick(tile("histogramTile"), Qt::LeftButton, {}, head(tile("histogramTile")));
    EXPECT_EQ(desk.bench().selection().kind, Selection::Kind::measurement);
}

TEST_F(Composing, ADoubleClickOnAHeadMakesATileLargeAndSmallAgain)
{
    const QRect small = tile("eyeTile")->geometry();
    const Document before = desk.bench().document();
    QTest::mouseDClick(tile("eyeTile"), Qt::LeftButton, {}, head(tile("eyeTile")));
    QTest::qWait(20);
    EXPECT_EQ(tile("traceTile"), nullptr);
    EXPECT_GT(tile("eyeTile")->width(), 2 * small.width() - 20);
    EXPECT_GT(tile("eyeTile")->height(), small.height() + 100);
    key(tile("eyeTile"), Qt::Key_Return, Qt::AltModifier);
    EXPECT_EQ(tile("eyeTile")->geometry(), small);
    EXPECT_NE(tile("traceTile"), nullptr);
    EXPECT_EQ(desk.bench().document(), before); // how one looks at it is no change of it
    // Removed while it is large, the others are back.
    QTest::mouseDClick(tile("eyeTile"), Qt::LeftButton, {}, head(tile("eyeTile")));
    key(tile("eyeTile"), Qt::Key_Delete, {});
    EXPECT_EQ(tile("eyeTile"), nullptr);
    EXPECT_NE(tile("traceTile"), nullptr);
}

TEST_F(Composing, ATileIsSizedByItsCornerAndByKeys)
{
    const auto entry = [&] { return tile("eyeTile")->entry(); };
    ASSERT_EQ(entry().columnSpan, 1);
    TileFrame *eye = tile("eyeTile");
    const QPoint corner(eye->width() - 4, eye->height() - 4);
    drag(eye, corner, eye, corner + QPoint(eye->width(), 0));
    EXPECT_EQ(entry().columnSpan, 2);
    EXPECT_GT(tile("histogramTile")->geometry().top(), tile("eyeTile")->geometry().bottom()); // it made room
    key(tile("eyeTile"), Qt::Key_Left, Qt::ControlModifier | Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(entry().columnSpan, 1);
    key(tile("eyeTile"), Qt::Key_Left, Qt::ControlModifier | Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(entry().columnSpan, 1); // not less than one place
    key(tile("eyeTile"), Qt::Key_Down, Qt::ControlModifier | Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(entry().rowSpan, 2);
}

TEST_F(Composing, ATileIsSentToTheSheetOnWhoseTabItIsDropped)
{
    auto *tabs = desk.find<QTabBar>("sheetTabs");
    const std::string id = tile("eyeTile")->entry().id;
    const std::size_t here = sheet(2).tiles.size(), there = sheet(1).tiles.size();
    drag(tile("eyeTile"), head(tile("eyeTile")), tabs, tabs->tabRect(1).center());
    EXPECT_EQ(sheet(2).tiles.size(), here - 1);
    ASSERT_EQ(sheet(1).tiles.size(), there + 1);
    EXPECT_EQ(sheet(1).tiles.back().id, id);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(sheet(2).tiles.size(), here);
}

TEST_F(Composing, SheetsAreDuplicatedAndOrdered)
{
    auto *tabs = desk.find<QTabBar>("sheetTabs");
    desk.ask("duplicate sheet");
    ASSERT_EQ(tabs->count(), 11);
    EXPECT_EQ(tabs->currentIndex(), 3);
    EXPECT_EQ(sheet(3).title, sheet(2).title + ", copy");
    EXPECT_EQ(sheet(3).tiles.size(), sheet(2).tiles.size());
    EXPECT_NE(sheet(3).tiles[0].id, sheet(2).tiles[0].id);
    const std::string copy = sheet(3).id, first = sheet(0).id;
    tabs->moveTab(3, 0);
    EXPECT_EQ(sheet(0).id, copy);
    EXPECT_EQ(sheet(1).id, first);
    EXPECT_EQ(tabs->tabText(0).toStdString(), sheet(0).title);
    EXPECT_EQ(desk.bench().sheet(), 0); // the one that was shown still is
    EXPECT_EQ(tabs->currentIndex(), 0);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(sheet(0).id, first);
    EXPECT_EQ(sheet(3).id, copy);
    EXPECT_EQ(desk.bench().sheet(), 3);
}

TEST(Tiles, FillTheirRowAndNeverLieOnEachOther)
{
    Document document;
    const auto add = [&](const char *kind) {
        TileEntry tile;
        tile.kind = kind;
        addTile(document, 0, tile);
    };
    add("traces");
    add("eye");
    const auto &tiles = document.sheets[0].tiles;
    EXPECT_EQ(tiles[0].columnSpan, 2);
    EXPECT_EQ(tiles[1].row, 1);
    EXPECT_EQ(tiles[1].columnSpan, 2); // alone in its row
    add("histogram");
    EXPECT_EQ(tiles[1].columnSpan, 1);
    EXPECT_EQ(tiles[2].row, 1);
    EXPECT_EQ(tiles[2].column, 1);
    add("histogram");
    EXPECT_EQ(tiles[3].row, 2);
    EXPECT_EQ(tiles[3].columnSpan, 2);
    std::vector<TileEntry> piled(4); // a project written by hand: all at the same place
    spreadTiles(piled);
    for (std::size_t i = 0; i < piled.size(); ++i) EXPECT_EQ(piled[i].row, int(i));
}
