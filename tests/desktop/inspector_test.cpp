// The Inspector and the menus: what is set often is set in place, and each change is one undo step.

#include "desktop_support.h"
#include "tile_edits.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

void choose(QComboBox *box, const QString &value)
{
    ASSERT_NE(box, nullptr);
    const int index = box->findData(value);
    ASSERT_GE(index, 0) << value.toStdString();
    box->setCurrentIndex(index);
}

} // namespace

TEST(Inspector, AWrongClockIsMadeALoopAndTheEyeOpens)
{
    Desk desk;
    desk.openDemo();
    const auto failed = [&] {
        return findEntry(desk.bench().results()->masks, "mask_smeared")->result->failedUnitIntervals;
    };
    EXPECT_GT(failed(), 1000);
    desk.bench().select({Selection::Kind::clock, "ideal"});
    choose(desk.find<QComboBox>("method"), "pll");
    test::typeInto(desk.find<QLineEdit>("bandwidth"), "2M");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().clocks, "ideal")->bandwidth, 2e6);
    EXPECT_EQ(failed(), 1);
    EXPECT_EQ(desk.bench().undoStack().count(), 2);
    choose(desk.find<QComboBox>("order"), "1");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().clocks, "ideal")->order, 1);
}

TEST(Inspector, LimitsJudgeAtOnce)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::measurement, "tr"});
    const int row = desk.ledgerRow("rise time, 20–80 %", "link");
    EXPECT_EQ(desk.ledgerCell(row, "verdict"), "✓ pass");
    test::typeInto(desk.find<QLineEdit>("limit_max"), "300 ps");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.ledgerCell(row, "limit"), "< 300 ps");
    EXPECT_EQ(desk.ledgerCell(row, "verdict"), "✕ fail");
    auto *most = desk.find<QLineEdit>("limit_max");
    most->setFocus();
    most->clear();
    QTest::keyClick(most, Qt::Key_Return);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.ledgerCell(row, "verdict"), "—");
}

TEST(Inspector, ARenamedClockIsFollowedAndAnUndoneNameLeavesNoDeadFields)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::clock, "loop2"});
    test::typeInto(desk.find<QLineEdit>("id"), "Camera loop");
    QTest::qWait(10);
    EXPECT_EQ(desk.bench().selection().id, "camera_loop");
    EXPECT_EQ(findEntry(desk.bench().document().eyes, "eye2")->clock, "camera_loop");
    EXPECT_EQ(desk.find<QLineEdit>("id")->text(), "camera_loop");
    desk.bench().undoStack().undo();
    EXPECT_EQ(findEntry(desk.bench().document().eyes, "eye2")->clock, "loop2");
    EXPECT_EQ(desk.find<QLineEdit>("bandwidth"), nullptr); // nobody has the chosen name now
}

TEST(Inspector, AMaskIsExchangedGrownAndRemoved)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::eye, "eye2"});
    const auto pick = [&](const QString &words) { // searches, and takes the first that is left
        auto *search = desk.find<QLineEdit>("maskSearch");
        search->clear();
        QTest::keyClicks(search, words);
        QTest::keyClick(search, Qt::Key_Return);
    };
    EXPECT_EQ(desk.find<QListWidget>("maskList")->currentItem()->text(), "Brackwater camera link, revision B");
    pick("transmitter 1000");
    ASSERT_TRUE(desk.settled());
    const MaskRun *run = findEntry(desk.bench().results()->masks, "mask2");
    EXPECT_EQ(run->definition.id, "ieee-802.3-1000base-x");
    const double margin = *run->result->margin;
    QTest::mouseClick(desk.find<QPushButton>("findMargin"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR(findEntry(desk.bench().document().masks, "mask2")->margin, margin, 1e-3);
    EXPECT_EQ(findEntry(desk.bench().results()->masks, "mask2")->verdict, Verdict::pass);
    test::typeInto(desk.find<QLineEdit>("margin"), "100 %");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().results()->masks, "mask2")->verdict, Verdict::fail);
    QTest::mouseClick(desk.find<QPushButton>("removeMask"), Qt::LeftButton);
    EXPECT_EQ(findEntry(desk.bench().document().masks, "mask2"), nullptr);
    auto *list = desk.find<QListWidget>("maskList");
    ASSERT_EQ(list->count(), 11);
    QImage drawings[3]; // each standard has one of its own
    for (int row = 0; row < 3; ++row) drawings[row] = list->item(row)->icon().pixmap(list->iconSize()).toImage();
    EXPECT_TRUE(drawings[0] != drawings[1] && drawings[1] != drawings[2] && drawings[0] != drawings[2]);
    pick("brackwater");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().results()->masks.back().eye, "eye2");
}

TEST(Inspector, AChannelsScaleAndDelayReachTheNumbers)
{
    Desk desk;
    desk.openDemo();
    const double before = *findEntry(desk.bench().results()->rows, "swing")->statistics.mean;
    for (const char *leg : {"p", "n"}) {
        desk.bench().select({Selection::Kind::channel, leg});
        test::typeInto(desk.find<QLineEdit>("scale"), "24.4140625u"); // twice what the demo has
    }
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR(*findEntry(desk.bench().results()->rows, "swing")->statistics.mean / before, 2, 1e-3);
    desk.bench().select({Selection::Kind::channel, "n"});
    test::typeInto(desk.find<QLineEdit>("delay"), "0");
    EXPECT_EQ(findEntry(desk.bench().document().channels, "n")->delay, 0);
}

TEST(Inspector, AClockGetsItsErrorMeasuredAndDrawn)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::clock, "loop2"});
    const std::size_t rows = desk.bench().document().measurements.size();
    QTest::mouseClick(desk.find<QPushButton>("addTie"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().measurements.size(), rows + 1);
    EXPECT_NE(desk.find<QWidget>("histogramTile"), nullptr);
    EXPECT_EQ(desk.bench().selection().kind, Selection::Kind::measurement);
}

TEST(Sheets, AreAddedRenamedFilledAndRemoved)
{
    Desk desk;
    desk.openDemo();
    desk.ask("add sheet");
    auto *tabs = desk.find<QTabBar>("sheetTabs");
    const int last = tabs->count() - 1;
    EXPECT_EQ(last, 10);
    EXPECT_EQ(tabs->currentIndex(), last);
    desk.answer("Mine");
    desk.ask("rename sheet");
    EXPECT_EQ(tabs->tabText(last), "Mine");
    desk.ask("add traces tile");
    ASSERT_NE(desk.find<QWidget>("traceTile"), nullptr);
    auto *tile = desk.find<QWidget>("traceTile");
    tile->setFocus();
    QTest::keyClick(tile, Qt::Key_Delete);
    EXPECT_TRUE(desk.bench().document().sheets[std::size_t(last)].tiles.empty());
    desk.ask("remove sheet");
    EXPECT_EQ(tabs->count(), last);
}

TEST(Sheets, ATileThatComesAndGoesAtOnceIsNoWindowOfItsOwn)
{
    Desk desk;
    desk.openDemo();
    struct Shown final : QObject { // every window that opens, however briefly
        QStringList windows;
        bool eventFilter(QObject *object, QEvent *event) override
        {
            const auto *widget = qobject_cast<QWidget *>(object);
            if (event->type() == QEvent::Show && widget && widget->isWindow())
                windows << widget->metaObject()->className();
            return false;
        }
    } shown;
    qApp->installEventFilter(&shown);
    for (int i = 0; i < 3; ++i) { // within one turn of the event loop, in which a layout still means to show it
        TileEntry tile;
        tile.kind = "traces";
        desk.bench().change("add", [&](Document &document) { addTile(document, 0, tile); });
        desk.bench().undoStack().undo();
    }
    QTest::qWait(50);
    EXPECT_EQ(shown.windows, QStringList());
}

TEST(Ask, FindsByTheBeginningsOfWordsAndSaysWhenNothingFits)
{
    Desk desk;
    desk.openDemo();
    auto *box = desk.find<QLineEdit>("ask");
    desk.key(Qt::Key_Space, Qt::ControlModifier);
    EXPECT_TRUE(box->hasFocus());
    QTest::keyClicks(box, "fall link");
    QListWidget *list = nullptr;
    for (QWidget *widget : QApplication::topLevelWidgets())
        if (widget->objectName() == "askList" && widget->isVisible()) list = qobject_cast<QListWidget *>(widget);
    ASSERT_NE(list, nullptr);
    EXPECT_EQ(list->item(0)->text(), "Measure fall time of link");
    QTest::keyClicks(box, " zzz");
    EXPECT_THAT(list->item(0)->text().toStdString(), testing::StartsWith("Nothing does that"));
    const Document before = desk.bench().document();
    QTest::keyClick(box, Qt::Key_Return);
    EXPECT_EQ(desk.bench().document(), before);
    QTest::keyClick(box, Qt::Key_Escape);
    EXPECT_EQ(box->text(), "");
}

TEST(Notes, AreMadeByDoubleClickWhereTheyArePinned)
{
    Desk desk;
    desk.openDemo();
    auto *trace = desk.find<QWidget>("traceTile");
    desk.answer("look here");
    QTest::mouseDClick(trace, Qt::LeftButton, {}, QPoint(trace->width() / 2, 80));
    ASSERT_EQ(desk.bench().document().notes.size(), 2u);
    const NoteEntry &note = desk.bench().document().notes.back();
    EXPECT_EQ(note.text, "look here");
    EXPECT_EQ(note.channel, "p"); // the topmost lane
    EXPECT_GT(note.time, desk.bench().viewFrom());
    EXPECT_LT(note.time, desk.bench().viewTo());
}

TEST(Inspector, ARowGetsLevelsOfItsOwn)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::measurement, "tf"});
    const auto row = [&](const char *id) { return *findEntry(desk.bench().results()->rows, id)->statistics.mean; };
    const double rise = row("tr"), fall = row("tf");
    QTest::mouseClick(desk.find<QPushButton>("ownLevels"), Qt::LeftButton);
    const std::string own = findEntry(desk.bench().document().measurements, "tf")->levels;
    EXPECT_NE(own, "default");
    test::typeInto(desk.find<QLineEdit>("low"), "10 %");
    test::typeInto(desk.find<QLineEdit>("high"), "90 %");
    ASSERT_TRUE(desk.settled());
    EXPECT_GT(row("tf"), 1.2 * fall); // 10 to 90 % takes longer than 20 to 80 %
    EXPECT_EQ(row("tr"), rise);
    EXPECT_EQ(desk.find<QComboBox>("levels")->currentData().toString().toStdString(), own);
    choose(desk.find<QComboBox>("states"), "fixed");
    ASSERT_NE(desk.find<QLineEdit>("state_low"), nullptr); // with the extremes to begin with
    test::typeInto(desk.find<QLineEdit>("state_low"), "-0.4");
    test::typeInto(desk.find<QLineEdit>("state_high"), "0.4");
    ASSERT_TRUE(desk.settled());
    EXPECT_GT(row("tf"), 1.2 * fall);
    QTest::mouseClick(desk.find<QPushButton>("removeLevels"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().levels, own), nullptr);
    EXPECT_EQ(row("tf"), fall);
    while (desk.bench().undoStack().canUndo()) desk.bench().undoStack().undo();
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().measurements, "tf")->levels, "default");
}
