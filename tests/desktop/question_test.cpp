// Questions by hand: a bar of a histogram, a box in an eye.

#include "desktop_support.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;
using fulvex::test::dragAcross;

namespace {

QString evidenceHeading(Desk &desk)
{
    for (QLabel *label : desk.window().findChildren<QLabel *>("quiet"))
        if (label->toolTip().contains("farthest first") || label->toolTip().contains("pass there"))
            return label->toolTip();
    return {};
}

} // namespace

TEST(Question, ABarLeadsToItsMomentsAndTheHeadToAllOfThem)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    auto *tile = desk.find<QWidget>("histogramTile");
    ASSERT_TRUE(tile);
    auto *evidence = desk.find<QTableView>("evidenceTable");
    QTest::mouseClick(tile, Qt::LeftButton, {}, QPoint(40, 10)); // its head
    const std::string id = desk.bench().selection().id;
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1000; }));
    const Row &row = *findEntry(desk.bench().results()->rows, id);
    const QImage before = tile->grab().toImage();

    // The far right bar holds the largest value, and few others.
    QTest::mouseClick(tile, Qt::LeftButton, {}, QPoint(tile->width() - 18 - 4, tile->height() / 2));
    ASSERT_TRUE(desk.bench().question().values);
    const std::int64_t last = row.histogram.counts.back();
    ASSERT_LT(last, 1000);
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == last; }));
    EXPECT_NE(tile->grab().toImage(), before);
    EXPECT_EQ(evidenceHeading(desk), QString::fromStdString(row.title) +
                                         QString(": %1 of %2, farthest first").arg(last).arg(row.statistics.count));
    EXPECT_EQ(desk.bench().selection().id, id);

    QTest::keyClick(tile, Qt::Key_Left); // the next bar that has any
    const auto values = *desk.bench().question().values;
    EXPECT_LT(values.second, row.histogram.high);
    QTest::keyClick(tile, Qt::Key_Right);
    EXPECT_GT(desk.bench().question().values->second, row.histogram.high);
    QTest::keyClick(tile, Qt::Key_Escape);
    EXPECT_FALSE(desk.bench().question().narrowed());
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1000; }));

    dragAcross(tile, {60, tile->height() / 2}, {tile->width() - 22, tile->height() / 2});
    EXPECT_GT(desk.bench().question().values->second - desk.bench().question().values->first,
              (row.histogram.high - row.histogram.low) / 2);
    // The same row in the Ledger: all of it.
    auto *ledger = desk.find<QTableView>("ledgerTable");
    const QModelIndex current = ledger->currentIndex();
    ASSERT_TRUE(current.isValid());
    QTest::mouseClick(ledger->viewport(), Qt::LeftButton, {}, ledger->visualRect(current).center());
    EXPECT_FALSE(desk.bench().question().narrowed());
}

TEST(Question, ABoxDrawnOverAnEyeLeadsToTheUnitIntervalsThatPass)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    auto *tile = desk.find<QWidget>("eyeTile");
    auto *evidence = desk.find<QTableView>("evidenceTable");
    const QImage before = tile->grab().toImage();
    const QPoint middle = tile->rect().center() + QPoint(28, 10); // the opening
    dragAcross(tile, middle - QPoint(8, 8), middle + QPoint(8, 8));
    const Question open = desk.bench().question();
    ASSERT_TRUE(open.phases && open.values);
    EXPECT_EQ(desk.bench().selection().kind, Selection::Kind::eye);
    EXPECT_NE(tile->grab().toImage(), before);
    // Upwards from there to the top: the ones.
    dragAcross(tile, middle + QPoint(8, 0), middle - QPoint(8, tile->height()));
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1000; }));
    ASSERT_TRUE(test::waitFor([&] { return evidenceHeading(desk).startsWith("unit intervals that pass there: "); }));
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_Down);
    ASSERT_TRUE(desk.bench().moment());
    const RecordSpan first = *desk.bench().moment();
    EXPECT_NEAR(first.to - first.from,
                findEntry(desk.bench().results()->eyes, desk.bench().selection().id)->unitInterval, 1e-13);
    EXPECT_LT(desk.bench().viewFrom(), first.from);
    EXPECT_GT(desk.bench().viewTo(), first.to);
    // A click without a drag asks about the eye as a whole again.
    QTest::mouseClick(tile, Qt::LeftButton, {}, middle);
    EXPECT_FALSE(desk.bench().question().narrowed());
}

TEST(Question, WhatIsAskedGoesWithTheProject)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    auto *tile = desk.find<QWidget>("histogramTile");
    QTest::mouseClick(tile, Qt::LeftButton, {}, QPoint(tile->width() / 2, tile->height() / 2));
    ASSERT_TRUE(desk.bench().question().narrowed());
    desk.bench().newProject();
    EXPECT_EQ(desk.bench().question(), Question{});
    EXPECT_TRUE(test::waitFor([&] { return desk.find<QTableView>("evidenceTable")->model()->rowCount() == 0; }));
}

/// A trend is added by its name, goes along with the traces, and leads to the moments that it shows.
TEST(Question, ATrendLeadsToItsMomentsAndMovesWithTheTraces)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    desk.ask("trend time interval error link loop");
    ASSERT_TRUE(desk.settled());
    auto *tile = desk.find<QWidget>("trendTile");
    ASSERT_TRUE(tile);
    auto *trace = desk.find<QWidget>("traceTile");
    EXPECT_EQ(tile->width(), trace->width());
    EXPECT_EQ(tile->x(), trace->x());

    QTest::keyClick(tile, Qt::Key_F);
    ASSERT_TRUE(desk.drawn());
    Workbench &bench = desk.bench();
    const double whole = bench.viewTo() - bench.viewFrom();
    const QImage before = trace->grab().toImage();
    QTest::keyClick(tile, Qt::Key_Plus);
    EXPECT_NEAR(bench.viewTo() - bench.viewFrom(), whole / 2, whole * 1e-9);
    ASSERT_TRUE(desk.drawn());
    EXPECT_NE(trace->grab().toImage(), before);

    dragAcross(tile, {tile->width() / 2, 60}, {tile->width() / 2 + 60, 60});
    const Question asked = bench.question();
    ASSERT_TRUE(asked.times);
    const double share = 60.0 / (tile->width() - 8 - 72 - 14);
    EXPECT_NEAR(asked.times->second - asked.times->first, share * whole / 2, whole / 1000);
    const Row &row = *findEntry(bench.results()->rows, asked.id);
    EXPECT_EQ(row.quantity, "time_interval_error");
    std::int64_t between = 0;
    for (std::size_t i = 0; i < row.measured->population.size(); ++i) {
        const double time = row.measured->population.time(i);
        between += time >= asked.times->first && time < asked.times->second;
    }
    ASSERT_GT(between, 0);
    auto *evidence = desk.find<QTableView>("evidenceTable");
    EXPECT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == std::min<std::int64_t>(between, 1000); }));
    QTest::keyClick(tile, Qt::Key_Escape);
    EXPECT_FALSE(bench.question().narrowed());

    const QPoint at(tile->width() / 3, 60);
    QTest::mouseClick(tile, Qt::LeftButton, {}, at);
    ASSERT_TRUE(bench.moment());
    EXPECT_EQ(bench.moment()->channel, "link");
    double nearest = INFINITY; // the click was a third across half of the record
    const double clicked = whole / 4 + whole / 2 * (at.x() - 4 - 72) / (tile->width() - 8 - 72 - 14);
    for (std::size_t i = 0; i < row.measured->population.size(); ++i)
        nearest = std::min(nearest, std::abs(row.measured->population.time(i) - clicked));
    EXPECT_NEAR(std::abs(bench.moment()->from - clicked), nearest, 1e-12);

    QTest::keyClick(tile, Qt::Key_Delete);
    QTest::qWait(20);
    EXPECT_FALSE(desk.find<QWidget>("trendTile"));
    bench.undoStack().clear();
}
