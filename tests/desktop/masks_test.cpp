// Masks by hand: drawn on the eye, in numbers, undone, saved as a file and taken from it again.

#include "desktop_support.h"
#include "eye_figure.h"
#include "temporary_folder.h"
#include "tile_frame.h"

#include <QListWidget>
#include <QTableWidget>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

struct MaskDesk : Desk {
    MaskDesk()
    {
        openDemo();
        showSheet("Link eye");
        EXPECT_TRUE(settled());
    }
    const MaskEntry &entry() { return *findEntry(bench().document().masks, bench().selection().id); }
    const MaskRun &run() { return *findEntry(bench().results()->masks, bench().selection().id); }
    QWidget *tile() { return find<QWidget>("eyeTile"); }
    /// Where a place of the mask, normalised, lies on the tile.
    QPoint at(double ui, double level)
    {
        const EyeFigure figure = eyeFigure(*bench().results(), "eye");
        const QRectF plot = figure.plotRect(QRectF(tile()->rect()).adjusted(4, TileFrame::headHeight, -4, -4));
        return figure.pointOf(plot, ui, run().zero + level * (run().one - run().zero)).toPoint();
    }
    void key(Qt::Key key) { QTest::keyClick(tile(), key); }
};

} // namespace

TEST(Masks, OneIsDrawnByHandSavedAndLoaded)
{
    MaskDesk desk;
    test::TemporaryFolder folder;
    desk.bench().select({Selection::Kind::eye, "eye"});
    desk.ask("draw a mask on eye");
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.entry().own());
    ASSERT_TRUE(desk.run().result) << desk.run().reason;
    const double before = *desk.run().result->margin;

    // A corner is dragged, and the three that mirror it follow; while the mask grows its margin shrinks.
    const MaskPoint corner = desk.entry().areas[0].points[1];
    test::dragAcross(desk.tile(), desk.at(corner.x, corner.y), desk.at(0.35, 0.8));
    ASSERT_TRUE(desk.settled());
    const auto points = desk.entry().areas[0].points;
    EXPECT_NEAR(points[1].x, 0.35, 0.01); // a pixel is 0.003 UI
    EXPECT_NEAR(points[1].y, 0.8, 0.01);
    EXPECT_NEAR(points[2].x, 1 - points[1].x, 1e-12);
    EXPECT_NEAR(points[5].y, 1 - points[1].y, 1e-12);
    EXPECT_LT(*desk.run().result->margin, before);
    // No mask that crosses itself: the hand goes on, the mask stays as it could.
    test::dragAcross(desk.tile(), desk.at(points[0].x, points[0].y), desk.at(0.9, 0.5));
    ASSERT_TRUE(desk.settled());
    EXPECT_LT(desk.entry().areas[0].points[0].x, desk.entry().areas[0].points[3].x);
    EXPECT_TRUE(desk.run().result);

    // A corner is put on a side, moved by an arrow, taken away; each is one step to undo.
    const std::size_t corners = desk.entry().areas[1].points.size();
    QTest::mouseDClick(desk.tile(), Qt::LeftButton, {}, desk.at(0.25, 1.3));
    EXPECT_EQ(desk.entry().areas[1].points.size(), corners + 2); // its image as well
    EXPECT_EQ(desk.entry().areas[2].points.size(), corners + 2);
    desk.key(Qt::Key_Up);
    EXPECT_NEAR(desk.entry().areas[1].points[1].y, 1.31, 1e-9);
    EXPECT_NEAR(desk.entry().areas[2].points[1].y, -0.31, 1e-9);
    ASSERT_TRUE(desk.settled());
    desk.key(Qt::Key_Delete);
    EXPECT_EQ(desk.entry().areas[1].points.size(), corners);
    for (int i = 0; i < 3; ++i) desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(desk.entry().areas[1].points, (std::vector<MaskPoint>{{0, 1.3}, {1, 1.3}}));
    ASSERT_TRUE(desk.settled());

    // Another area, that is not mirrored, and numbers typed over.
    desk.ask("add an area to mask");
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.entry().areas.size(), 4u);
    auto *table = desk.find<QTableWidget>("maskTable");
    ASSERT_TRUE(table);
    EXPECT_EQ(table->rowCount(), 6 + 2 + 2 + 4);
    table->item(10, 1)->setText("0.4");
    EXPECT_NEAR(desk.entry().areas[3].points[0].x, 0.4, 1e-12);
    EXPECT_NEAR(desk.entry().areas[3].points[2].x, 0.6, 1e-12);
    ASSERT_TRUE(desk.settled());
    table->item(10, 1)->setText("nonsense");
    EXPECT_TRUE(test::waitFor([&] { return table->item(10, 1)->text() == "0.4"; }));
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("stays as it was"));

    // In volts and seconds it lies where it lay.
    const std::int64_t failed = desk.run().result->failedUnitIntervals;
    const double margin = *desk.run().result->margin;
    auto *scale = desk.find<QComboBox>("maskScale");
    scale->setCurrentIndex(2);
    emit scale->activated(2);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.entry().x, "s");
    EXPECT_EQ(desk.entry().y, "V");
    EXPECT_EQ(desk.run().result->failedUnitIntervals, failed);
    EXPECT_NEAR(*desk.run().result->margin, margin, 1e-4);

    // A file of it, laid on the eye in place of what was there.
    const QString path = QString::fromStdString((folder.path() / "mine.mask.json").string());
    desk.answer(path);
    desk.ask("save " + QString::fromStdString(desk.entry().id) + " as a file");
    ASSERT_TRUE(test::waitFor([&] { return std::filesystem::exists(path.toStdString()); }));
    desk.bench().select({Selection::Kind::eye, "eye"});
    desk.ask("test eye against the mask 1000base-x");
    ASSERT_TRUE(desk.settled());
    EXPECT_FALSE(desk.entry().own());
    EXPECT_NE(desk.run().result->margin, margin);
    desk.answer(path);
    QTest::mouseClick(desk.find<QPushButton>("maskFile"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_FALSE(desk.entry().own());
    EXPECT_EQ(desk.run().result->failedUnitIntervals, failed);
    EXPECT_NEAR(*desk.run().result->margin, margin, 1e-4);
    EXPECT_EQ(desk.run().definition.areas.size(), 4u);
}

TEST(Masks, OneStopsAtItsFirstFailure)
{
    MaskDesk desk;
    desk.bench().select({Selection::Kind::mask, "mask_smeared"});
    const std::int64_t all = desk.run().result->failedUnitIntervals;
    ASSERT_GT(all, 5000);
    desk.ask("stop mask_smeared at the first failure");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.run().result->failedUnitIntervals, 1);
    EXPECT_TRUE(desk.run().result->stopped);
    auto *field = desk.find<QLineEdit>("stop_at");
    ASSERT_TRUE(field);
    field->setText("20");
    emit field->editingFinished();
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.run().result->failedUnitIntervals, 20);
    desk.ask("stop mask_smeared at the first failure"); // on or off
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.run().result->failedUnitIntervals, all);
}

/// What is shipped is edited as a copy: the project's own from then on.
TEST(Masks, AShippedOneIsEditedAsACopy)
{
    MaskDesk desk;
    desk.bench().select({Selection::Kind::eye, "eye"});
    desk.bench().select({Selection::Kind::mask, "mask"});
    EXPECT_FALSE(desk.entry().own());
    const QImage before = desk.tile()->grab().toImage();
    QTest::mouseClick(desk.find<QPushButton>("editMask"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.entry().own());
    EXPECT_EQ(desk.entry().mask, "brackwater-camera-link");
    EXPECT_EQ(desk.entry().areas, desk.run().definition.areas);
    EXPECT_EQ(desk.run().result->failedUnitIntervals, 1);
    EXPECT_NE(desk.tile()->grab().toImage(), before) << "its corners are seen";
    auto *masks = desk.find<QListWidget>("maskList");
    ASSERT_TRUE(masks);
    EXPECT_EQ(masks->currentRow(), -1);
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(desk.entry().own());
}

TEST(Masks, AMaskFileThatIsOpenedIsLaidOnTheEye)
{
    Desk desk;
    test::TemporaryFolder folder;
    const QString file = QString(FULVEX_SHIPPED_MASKS) + "/ieee-802.3-1000base-x.mask.json";
    desk.drop({file}); // onto an empty window
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("laid on an eye"));
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::eye, "eye"});
    const std::size_t before = desk.bench().document().masks.size();
    desk.drop({file});
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().document().masks.size(), before); // one mask an eye: it takes the place of the one before
    const MaskEntry &laid = desk.bench().document().masks.back();
    EXPECT_EQ(laid.eye, "eye");
    EXPECT_THAT(laid.mask, testing::EndsWith("ieee-802.3-1000base-x.mask.json"));
    const MaskRun *run = findEntry(desk.bench().results()->masks, laid.id);
    ASSERT_TRUE(run && run->result) << (run ? run->reason : "no run");
}
