// Clocks and eyes by hand: a window along the record, a clock that does not fit, levels told apart.

#include "desktop_support.h"
#include "temporary_folder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

/// Where the Strip shows a moment.
int stripX(Desk &desk, double time)
{
    const auto record = *desk.bench().record();
    const auto *strip = desk.find<QWidget>("strip");
    return 14 + int((time - record.first) / (record.second - record.first) * (strip->width() - 28));
}

const MaskRun &maskOf(Desk &desk, const char *id)
{
    return *findEntry(desk.bench().results()->masks, std::string(id));
}

std::vector<QPushButton *> remedies(Desk &desk)
{
    const auto found = desk.find<QWidget>("inspectorScroll")->findChildren<QPushButton *>("remedy");
    return {found.begin(), found.end()};
}

QString inspectorWords(Desk &desk)
{
    QStringList words;
    for (const QLabel *label : desk.find<QWidget>("inspectorScroll")->findChildren<QLabel *>()) words << label->text();
    return words.join("\n");
}

} // namespace

/// A window of a tenth of the record is dragged by its tab: the eye follows, and its mask fails where the dent is.
TEST(Eyes, AWindowDraggedAlongTheStripFindsWhereTheRecordBreaks)
{
    Desk desk;
    desk.openDemo();
    desk.find<QTabBar>("sheetTabs")->setCurrentIndex(2);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(maskOf(desk, "mask").result->failedUnitIntervals, 1);
    QTest::mouseClick(desk.find<QWidget>("eyeTile"), Qt::LeftButton, {}, QPoint(40, 10));
    desk.key(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().document().regions.size(), 1u);
    const auto window = [&] { return desk.bench().document().regions.front(); };
    const double length = window().stop - window().start;
    EXPECT_NEAR(length, 12.5e-6, 1e-9);
    EXPECT_EQ(findEntry(desk.bench().document().eyes, std::string("eye"))->region, window().id);
    EXPECT_NEAR(double(findEntry(desk.bench().results()->eyes, std::string("eye"))->fold->unitIntervals),
                length * 640e6, 3);

    auto *strip = desk.find<QWidget>("strip");
    const auto at = [&](double time) { return QPoint(stripX(desk, time), 5); };
    QTest::mousePress(strip, Qt::LeftButton, {}, at(window().start + length / 2));
    std::vector<std::int64_t> failed;
    for (const double middle : {20e-6, 50e-6, 80e-6, 107e-6, 118e-6}) {
        QTest::mouseMove(strip, at(middle));
        ASSERT_TRUE(desk.settled());
        EXPECT_NEAR((window().start + window().stop) / 2, middle, 0.3e-6);
        EXPECT_NEAR(window().stop - window().start, length, 1e-12);
        failed.push_back(maskOf(desk, "mask").result->failedUnitIntervals);
    }
    QTest::mouseRelease(strip, Qt::LeftButton, {}, at(118e-6));
    EXPECT_THAT(failed, testing::ElementsAre(0, 0, 0, 1, 0));

    // It stays within the record; its end makes it shorter; one step each way takes it all back.
    QTest::mousePress(strip, Qt::LeftButton, {}, at((window().start + window().stop) / 2));
    QTest::mouseMove(strip, QPoint(strip->width() - 1, 5));
    QTest::mouseRelease(strip, Qt::LeftButton, {}, QPoint(strip->width() - 1, 5));
    EXPECT_NEAR(window().stop, desk.bench().record()->second, 1e-12);
    QTest::mousePress(strip, Qt::LeftButton, {}, at(window().start) + QPoint(1, 0));
    QTest::mouseMove(strip, at(window().start + length / 2));
    QTest::mouseRelease(strip, Qt::LeftButton, {}, at(window().start + length / 2));
    EXPECT_NEAR(window().stop - window().start, length / 2, 0.3e-6);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(window().stop - window().start, length, 1e-12);

    desk.bench().select({Selection::Kind::eye, "eye"});
    desk.ask("fold all of the record");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(maskOf(desk, "mask").result->failedUnitIntervals, 1);
}

/// The demo's fixed clock leaves the oscillator's wander in the eye: that is said at the clock, and one click mends it.
TEST(Eyes, AWrongClockIsRecognisedAndMendedByWhatIsOffered)
{
    Desk desk;
    desk.openDemo();
    desk.find<QTabBar>("sheetTabs")->setCurrentIndex(1);
    ASSERT_TRUE(desk.settled());
    const std::int64_t before = maskOf(desk, "mask_smeared").result->failedUnitIntervals;
    EXPECT_GT(before, 5000);
    desk.bench().select({Selection::Kind::clock, "ideal"});
    ASSERT_TRUE(test::waitFor([&] { return inspectorWords(desk).contains("which smears the eye"); }));
    const auto offered = remedies(desk);
    ASSERT_EQ(offered.size(), 1u);
    EXPECT_TRUE(offered[0]->text().startsWith("follow it with a loop of 384")) << offered[0]->text().toStdString();
    QTest::mouseClick(offered[0], Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().clocks, std::string("ideal"))->method, "pll");
    EXPECT_EQ(maskOf(desk, "mask_smeared").result->failedUnitIntervals, 1); // the dent
    ASSERT_TRUE(test::waitFor([&] { return !inspectorWords(desk).contains("smears") && remedies(desk).empty(); }));
    EXPECT_TRUE(desk.find<QWidget>("loopPlot"));
}

/// The three-level line's two openings, and the four-level line's three, each by name in the Ledger; the transitions
/// tell the code.
TEST(Eyes, OpeningsOfSeveralLevelsStandInTheLedger)
{
    Desk desk;
    desk.openDemo();
    desk.find<QTabBar>("sheetTabs")->setCurrentIndex(6);
    ASSERT_TRUE(desk.settled());
    const auto heightOf = [&](const char *opening, const char *eye) {
        return desk.ledgerCell(desk.ledgerRow(QString("eye height, opening ") + opening, eye), "mean");
    };
    EXPECT_TRUE(heightOf("0", "eye_three").startsWith("868")) << heightOf("0", "eye_three").toStdString();
    EXPECT_TRUE(heightOf("1", "eye_three").startsWith("86"));
    EXPECT_TRUE(heightOf("1", "eye_four").startsWith("1.02"));
    EXPECT_TRUE(heightOf("2", "eye_four").startsWith("70"));
    EXPECT_TRUE(desk.ledgerCell(desk.ledgerRow("eye height, opening 2", "eye_four"), "verdict").contains("fail"));

    desk.bench().select({Selection::Kind::clock, "beside_three"});
    auto *transitions = desk.find<QWidget>("transitions");
    ASSERT_TRUE(transitions);
    EXPECT_GT(transitions->height(), 3 * 20);
    const ClockResult &clock = *findEntry(desk.bench().results()->clocks, std::string("beside_three"));
    EXPECT_EQ(clock.transitions[0 * 3 + 2], 0); // never two levels at once
    EXPECT_GT(clock.transitions[0 * 3 + 1], 1000);
    // Told apart as two levels, that is said, and mended.
    auto *levels = desk.find<QComboBox>("modulation");
    ASSERT_TRUE(levels);
    levels->setCurrentIndex(levels->findData("4"));
    levels->activated(levels->currentIndex());
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().clocks, std::string("beside_three"))->modulation, 4);
}

/// One action takes a clock that comes beside a channel; the other channel of its capture is taken for it, and may be
/// exchanged.
TEST(Eyes, AClockBesideTheDataIsTakenInOneStep)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::channel, "four"});
    desk.ask("clock that comes beside");
    ASSERT_TRUE(desk.settled());
    const ClockEntry clock = desk.bench().document().clocks.back();
    EXPECT_EQ(clock.method, "forwarded");
    EXPECT_EQ(clock.from, "tick");
    const ClockResult *result = findEntry(desk.bench().results()->clocks, clock.id);
    ASSERT_TRUE(result && result->clock);
    EXPECT_NEAR(result->rate, 50e6, 100);
    // Two levels of four are told apart: it says so.
    ASSERT_TRUE(test::waitFor([&] { return inspectorWords(desk).contains("4 amplitude levels"); }));
    ASSERT_EQ(remedies(desk).size(), 1u);
    QTest::mouseClick(remedies(desk)[0], Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().clocks.back().modulation, 4);
    ASSERT_TRUE(test::waitFor([&] { return !inspectorWords(desk).contains("told apart"); }));
}
