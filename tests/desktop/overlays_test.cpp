// Overlays by hand: pulses laid over each other, a template drawn on them, their averaged trace; a pattern's repeats.
// And markers that rest on the peaks of a histogram.

#include "desktop_support.h"
#include "eye_figure.h"
#include "histogram_figure.h"
#include "tile_frame.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

struct OverlayDesk : Desk {
    OverlayDesk()
    {
        openDemo();
        showSheet("Gate latch");
        EXPECT_TRUE(settled());
    }
    QWidget *tile()
    {
        const auto tiles = window().findChildren<QWidget *>("eyeTile");
        return tiles.isEmpty() ? nullptr : tiles.last();
    }
    EyeFigure figure(const std::string &id) { return eyeFigure(*bench().results(), id); }
    QPoint at(const std::string &id, double x, double value)
    {
        const EyeFigure of = figure(id);
        return of.pointOf(of.plotRect(test::bodyOf(tile())), x, value).toPoint();
    }
};

} // namespace

TEST(OverlayTiles, PulsesAreLaidAskedAboutAndAveraged)
{
    OverlayDesk desk;
    desk.bench().select({Selection::Kind::channel, "gate"});
    desk.ask("about the edges of gate");
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().selection().kind, Selection::Kind::eye);
    const std::string id = desk.bench().selection().id;
    ASSERT_TRUE(desk.tile());
    for (const TileEntry &tile : findEntry(desk.bench().document().sheets, std::string("gate_latch"))->tiles)
        EXPECT_LE(tile.column + tile.columnSpan, 2) << tile.kind << ": no column is left empty beside it";
    const EyeFigure figure = desk.figure(id);
    ASSERT_EQ(figure.empty, "");
    EXPECT_EQ(figure.across(), "s");
    EXPECT_LT(figure.left, 0);
    EXPECT_GT(figure.fold->unitIntervals, 30);
    // On the plateau behind the edge every pulse passes, half way up none, but for those too small.
    const double soon = figure.right / 20;
    auto *evidence = desk.find<QTableView>("evidenceTable");
    test::dragAcross(desk.tile(), desk.at(id, soon, 22), desk.at(id, 1.6 * soon, 27));
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().momentsOf() == id; }));
    ASSERT_GT(evidence->model()->rowCount(), 30);
    const auto plateau = desk.bench().moments().size();
    test::dragAcross(desk.tile(), desk.at(id, soon, 14), desk.at(id, 1.6 * soon, 18));
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().moments().size() < plateau; }));

    desk.find<QPushButton>("addAverage")->click();
    ASSERT_TRUE(desk.settled());
    const std::string average = desk.bench().selection().id;
    const ChannelEntry &entry = *findEntry(desk.bench().document().channels, average);
    EXPECT_EQ(entry.formula, "average(gate, " + id + ")");
    const ChannelResult &made = *findEntry(desk.bench().results()->channels, average);
    ASSERT_EQ(made.error, "");
    EXPECT_EQ(made.unit, "V");
    // One step each to undo.
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(findEntry(desk.bench().document().channels, average));
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(findEntry(desk.bench().document().eyes, id));
}

TEST(OverlayTiles, ATemplateIsDrawnOnThem)
{
    OverlayDesk desk;
    desk.bench().select({Selection::Kind::channel, "gate"});
    desk.ask("about the edges of gate");
    ASSERT_TRUE(desk.settled());
    const std::string id = desk.bench().selection().id;
    desk.find<QPushButton>("drawTemplate")->click();
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().selection().kind, Selection::Kind::mask);
    const std::string mask = desk.bench().selection().id;
    const auto entry = [&]() -> const MaskEntry & { return *findEntry(desk.bench().document().masks, mask); };
    const auto run = [&]() -> const MaskRun & { return *findEntry(desk.bench().results()->masks, mask); };
    EXPECT_EQ(entry().x, "s");
    ASSERT_TRUE(run().result) << run().reason;
    EXPECT_TRUE(run().atEdges);
    // Its left corner is dragged half way to the edge; it lies on the middle, and is its own image up and down.
    const MaskPoint corner = entry().areas[0].points[0];
    const auto volts = [&](double level) { return run().zero + level * (run().one - run().zero); };
    const double to = corner.x / 2;
    test::dragAcross(desk.tile(), desk.at(id, corner.x, volts(corner.y)), desk.at(id, to, volts(corner.y)));
    ASSERT_TRUE(desk.settled());
    const EyeFigure figure = desk.figure(id);
    const double pixel = (figure.right - figure.left) / figure.plotRect(test::bodyOf(desk.tile())).width();
    EXPECT_NEAR(entry().areas[0].points[0].x, to, 1.5 * pixel);
    EXPECT_NEAR(entry().areas[0].points[0].y, 0.5, 1e-9);
    EXPECT_EQ(figure.mask, mask);
    EXPECT_EQ(figure.areas.size(), entry().areas.size());
    // What fails it, pulses that end there, is Evidence of the overlay as well.
    const std::int64_t failed = run().result->failedUnitIntervals;
    ASSERT_GT(failed, 0);
    desk.bench().select({Selection::Kind::eye, id});
    ASSERT_TRUE(test::waitFor([&] {
        return desk.find<QTableView>("evidenceTable")->model()->rowCount() == int(std::min<std::int64_t>(failed, 1000));
    }));
}

TEST(OverlayTiles, TheRepeatsOfAPatternAreLaid)
{
    OverlayDesk desk;
    desk.showSheet("Link eye");
    desk.bench().select({Selection::Kind::clock, "loop"});
    desk.ask("repeats of the pattern by loop");
    ASSERT_TRUE(desk.settled());
    const std::string id = desk.bench().selection().id;
    EyeFigure figure = desk.figure(id);
    ASSERT_EQ(figure.empty, "");
    EXPECT_EQ(figure.rule.laps.each, 511) << "PRBS 9";
    EXPECT_THAT(figure.facts.toStdString(), testing::HasSubstr("repeats of 511 UI"));
    // A part of it, typed; what cannot be is refused and changes nothing.
    desk.bench().change("part", [&](Document &document) { findEntry(document.eyes, id)->patternTo = 20; });
    ASSERT_TRUE(desk.settled());
    figure = desk.figure(id);
    EXPECT_EQ(figure.right, 20);
    EXPECT_FALSE(desk.find<QWidget>("eyeTile")->grab().isNull());
    EXPECT_THAT(figure.wordsAt(3.5, 0.1).toStdString(), testing::HasSubstr("3.500 UI"));
}

/// Ctrl+click puts a marker, which comes to rest on a peak that is near; it is dragged off, and taken away by Delete.
TEST(HistogramMarkers, RestOnPeaks)
{
    Desk desk;
    desk.openDemo();
    desk.bench().change("peaks", [](Document &document) {
        TileEntry tile;
        tile.id = "gate_levels";
        tile.kind = "histogram";
        tile.of = {"tie_ideal"};
        document.sheets[0].tiles = {tile};
    });
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.drawn());
    auto *tile = desk.find<QWidget>("histogramTile");
    HistogramFigure figure = histogramFigure(*desk.bench().results(), "tie_ideal");
    figure.take(std::make_shared<const HistogramDrawing>(HistogramDrawing::of(*figure.drawingFrom())));
    const auto &peaks = figure.drawing->rows.front().peaks;
    ASSERT_EQ(peaks.size(), 2u) << "a sinusoid's wander stays longest at its ends";
    const QRectF plot = figure.plotRect(test::bodyOf(tile));
    const auto xOf = [&](double value) {
        return plot.left() +
               (value - figure.histogram.low) / (figure.histogram.high - figure.histogram.low) * plot.width();
    };
    const QPoint beside(int(xOf(peaks[1].at)) + 4, int(plot.center().y()));
    QTest::mouseClick(tile, Qt::LeftButton, Qt::ControlModifier, beside);
    const auto &markers = desk.bench().document().markers;
    ASSERT_FALSE(markers.empty());
    EXPECT_EQ(markers.back().row, "tie_ideal");
    EXPECT_EQ(*markers.back().level, peaks[1].at);
    const std::size_t put = markers.size();
    QTest::keyClick(tile, Qt::Key_Delete); // the marker, not the tile
    EXPECT_EQ(markers.size(), put - 1);
    EXPECT_EQ(desk.bench().document().sheets[0].tiles.size(), 1u);
    QTest::mouseClick(tile, Qt::LeftButton, Qt::ControlModifier, beside);
    ASSERT_EQ(markers.size(), put);
    // Off it, where no peak is; and onto the other one.
    const QPoint on(int(std::lround(xOf(peaks[1].at))), int(plot.center().y()));
    const double between = (peaks[0].at + peaks[1].at) / 2;
    test::dragAcross(tile, on, QPoint(int(xOf(between)), on.y()));
    EXPECT_NEAR(*markers.back().level, between, 2 * (figure.histogram.high - figure.histogram.low) / plot.width());
    test::dragAcross(tile, QPoint(int(std::lround(xOf(*markers.back().level))), on.y()),
                     QPoint(int(xOf(peaks[0].at)) - 3, on.y()));
    EXPECT_EQ(*markers.back().level, peaks[0].at);
    EXPECT_EQ(desk.bench().selection().kind, Selection::Kind::marker);
    const std::size_t count = markers.size();
    QTest::keyClick(tile, Qt::Key_Delete);
    EXPECT_EQ(desk.bench().document().markers.size(), count - 1);
}
