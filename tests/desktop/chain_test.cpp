// The Chain, by what is done and seen.

#include "chain_view.h"
#include "desktop_support.h"

#include <QPlainTextEdit>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

TEST(Chain, IsWalkedAndEditedByKeyboard)
{
    Desk desk;
    desk.openDemo();
    auto *chain = desk.find<QWidget>("chainRails");
    chain->setFocus();
    for (int i = 0; i < 4; ++i) QTest::keyClick(chain, Qt::Key_Down);
    EXPECT_EQ(desk.bench().selection(), (Selection{Selection::Kind::channel, "link"}));
    QTest::keyClick(chain, Qt::Key_F2);
    auto *editor = desk.find<QPlainTextEdit>("formulaText");
    ASSERT_TRUE(editor->isVisible());
    EXPECT_EQ(editor->toPlainText(), "p - n");
    editor->setPlainText("n - p");
    QTest::keyClick(editor, Qt::Key_Return);
    EXPECT_EQ(findEntry(desk.bench().document().channels, "link")->formula, "n - p");
}

TEST(Chain, ShowsWhatIsSelectedElsewhere)
{
    Desk desk;
    desk.openDemo();
    auto *rails = static_cast<ChainRails *>(desk.find<QWidget>("chainRails"));
    const auto isSeen = [&](const Selection &what) {
        const auto row = std::ranges::find(rails->layoutShown().rows, what, &ChainLayout::Row::what);
        return rails->visibleRegion().contains(row->place(rails->width()).toAlignedRect());
    };
    const Selection last = rails->layoutShown().rows.back().what, first = rails->layoutShown().rows.front().what;
    ASSERT_FALSE(isSeen(last));
    for (int again = 0; again < 2; ++again) { // also after something that the Chain does not show
        desk.bench().select(last);
        EXPECT_TRUE(test::waitFor([&] { return isSeen(last); }));
        desk.bench().select({});
        desk.bench().select(first);
        EXPECT_TRUE(test::waitFor([&] { return isSeen(first); }));
    }
}

TEST(Chain, OnlyRowsThatSaySomethingNewArePainted)
{
    struct Painted final : QObject {
        QRegion region;
        bool eventFilter(QObject *, QEvent *event) override
        {
            if (event->type() == QEvent::Paint) region += static_cast<QPaintEvent *>(event)->region();
            return false;
        }
    } painted;
    Desk desk;
    desk.openDemo();
    auto *chain = desk.find<QWidget>("chainRails");
    chain->installEventFilter(&painted);
    const auto paintedBy = [&](const std::function<void(Document &)> &edit) {
        QTest::qWait(50);
        painted.region = {};
        EXPECT_TRUE(desk.bench().change("edit", edit));
        EXPECT_TRUE(desk.settled());
        QTest::qWait(50);
        return painted.region.boundingRect().height();
    };
    constexpr int row = 34;
    EXPECT_EQ(paintedBy([](Document &d) { d.measurements.front().limit.max = 1; }), 0);
    const int one = paintedBy([](Document &d) { d.channels.front().label = "leg"; });
    EXPECT_GE(one, row);
    EXPECT_LT(one, 2 * row);
    const auto addChannel = [](Document &d) { // its row comes behind the first capture's
        d.channels.insert(d.channels.begin(), d.channels.front());
        d.channels.front().id = "again";
    };
    EXPECT_GT(paintedBy(addChannel), 4 * row); // all behind it move down
}
