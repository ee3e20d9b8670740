// The tour of the demo: six steps, each pointing at a control that is there, left at any time.

#include "desktop_support.h"
#include "temporary_folder.h"
#include "tour.h"

#include <QRegularExpression>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

namespace {

Tour *begun(Desk &desk)
{
    QTest::mouseClick(desk.find<QPushButton>("firstTour"), Qt::LeftButton);
    EXPECT_TRUE(test::waitFor([&] { return desk.find<Tour>("tour") != nullptr; }));
    return desk.find<Tour>("tour");
}

} // namespace

TEST(TourOfTheDemo, PointsAtWhatIsThereInSixSteps)
{
    Desk desk;
    Tour *tour = begun(desk);
    ASSERT_TRUE(tour);
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(Tour::steps(), 6);
    std::set<QString> sheets;
    for (int step = 0; step < Tour::steps(); ++step) {
        SCOPED_TRACE(step);
        ASSERT_EQ(tour->step(), step);
        ASSERT_TRUE(test::waitFor([&] { return tour->target() != nullptr; })) << "nothing to point at";
        ASSERT_TRUE(desk.settled());
        QTest::qWait(200); // beside it by now
        const QRect window = desk.window().rect(), card = tour->geometry();
        EXPECT_TRUE(window.contains(card)) << "the words lie outside the window";
        const QWidget *target = tour->target();
        const QRect at(target->mapTo(&desk.window(), QPoint(0, 0)), target->size());
        EXPECT_TRUE(window.intersects(at));
        if (at.width() * at.height() < 300 * 200) {
            EXPECT_FALSE(card.intersects(at)) << "it covers what it points at";
        }
        sheets.insert(desk.find<QTabBar>("sheetTabs")->tabText(desk.bench().sheet()));
        QTest::keyClick(desk.find<QPushButton>("tourNext"), step % 2 ? Qt::Key_Right : Qt::Key_Space);
    }
    EXPECT_TRUE(test::waitFor([&] { return !desk.find<Tour>("tour"); })) << "it ends behind the last step";
    EXPECT_THAT(sheets, testing::IsSupersetOf({QString("The story"), QString("Link eye"), QString("Acceptance")}));
    EXPECT_TRUE(desk.bench().undoStack().isClean()) << "looking changes nothing";
}

TEST(TourOfTheDemo, IsGoneBackInAndLeftAtAnyTime)
{
    Desk desk;
    Tour *tour = begun(desk);
    ASSERT_TRUE(tour);
    auto *next = desk.find<QPushButton>("tourNext");
    QTest::mouseClick(next, Qt::LeftButton);
    QTest::mouseClick(next, Qt::LeftButton);
    EXPECT_EQ(tour->step(), 2);
    // What it points at works while one reads.
    ASSERT_TRUE(test::waitFor([&] { return tour->target() != nullptr; }));
    const double before = findEntry(desk.bench().document().clocks, "loop")->bandwidth;
    static_cast<QSlider *>(tour->target())->setValue(0);
    EXPECT_LT(findEntry(desk.bench().document().clocks, "loop")->bandwidth, before);
    desk.bench().undoStack().undo();
    QTest::keyClick(next, Qt::Key_Left);
    EXPECT_EQ(tour->step(), 1);
    QTest::keyClick(next, Qt::Key_Escape);
    EXPECT_TRUE(test::waitFor([&] { return !desk.find<Tour>("tour"); }));
    desk.ask("tour of the demo"); // the demo is open already
    EXPECT_TRUE(test::waitFor([&] { return desk.find<Tour>("tour") != nullptr; }));
}

TEST(TourOfTheDemo, EndsWithTheDemo)
{
    Desk desk;
    const test::TemporaryFolder folder;
    ASSERT_TRUE(begun(desk));
    folder.write("other.fulvex", R"({"fulvex": 1, "title": "Other"})");
    desk.window().openFiles({QString::fromStdString(folder / "other.fulvex")});
    EXPECT_TRUE(test::waitFor([&] { return desk.bench().document().title == "Other"; }));
    EXPECT_TRUE(test::waitFor([&] { return !desk.find<Tour>("tour"); }));
    // Asked for while another project comes: it walks through the demo or not at all.
    desk.ask("tour of the demo");
    desk.window().openFiles({QString::fromStdString(folder / "other.fulvex")});
    QTest::qWait(500);
    if (const Tour *tour = desk.find<Tour>("tour"); tour && tour->isVisible()) {
        EXPECT_EQ(desk.bench().document().title, "Brackwater: camera link");
    }
}

TEST(TheStory, OpensOnWordsThatLeadToItsSheets)
{
    Desk desk;
    QTest::mouseClick(desk.find<QPushButton>("firstDemo"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.find<QTabBar>("sheetTabs")->tabText(desk.bench().sheet()), "The story");
    // Every link of it is a sheet.
    static const QRegularExpression link("\\]\\(#([^)]+)\\)");
    const auto &sheets = desk.bench().document().sheets;
    int links = 0;
    for (auto each = link.globalMatch(QString::fromStdString(sheets[0].tiles[0].words)); each.hasNext(); ++links)
        EXPECT_TRUE(findEntry(sheets, each.next().captured(1).toStdString()));
    EXPECT_GE(links, 10);
    // The first of them, found by moving over the words as a hand would.
    auto *words = desk.find<QWidget>("wordsTile");
    for (int y = 30; y < words->height() && desk.bench().sheet() == 0; y += 6)
        for (int x = 12; x < words->width() && desk.bench().sheet() == 0; x += 12) {
            QMouseEvent move(QEvent::MouseMove, QPointF(x, y), words->mapToGlobal(QPointF(x, y)), Qt::NoButton,
                             Qt::NoButton, {});
            QApplication::sendEvent(words, &move);
            if (words->cursor().shape() == Qt::PointingHandCursor) QTest::mouseClick(words, Qt::LeftButton, {}, {x, y});
        }
    EXPECT_EQ(desk.find<QTabBar>("sheetTabs")->tabText(desk.bench().sheet()), "Bring-up");
    // The plan's two steps are done, and the comparison has been made.
    desk.showSheet("Acceptance");
    ASSERT_TRUE(test::waitFor(
        [&] {
            const PlanState *plan = desk.bench().planState("brackwater_acceptance");
            return plan && plan->attempts.size() == 2 && std::ranges::all_of(plan->attempts, [](const auto &each) {
                       return each.second.outcome && !each.second.working;
                   });
        },
        60000));
    desk.showSheet("Before and after");
    EXPECT_TRUE(test::waitFor(
        [&] {
            return desk.find<QTableView>("comparedNumbers") &&
                   desk.find<QTableView>("comparedNumbers")->model()->rowCount() > 5;
        },
        60000));
}
