// One action from a channel to its phase noise; limits of integration dragged, lines in and out of the integral, a
// limit typed, another laid over it, and the line that the link and its reference clock share.

#include "desktop_support.h"
#include "phase_noise_figure.h"
#include "tile_frame.h"

#include <QTableWidget>
#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

struct NoiseDesk : Desk {
    NoiseDesk()
    {
        openDemo();
        EXPECT_TRUE(settled());
        bench().select({Selection::Kind::channel, "oscillator"});
        ask("add the phase noise of oscillator");
        EXPECT_TRUE(settled());
    }
    const PhaseNoiseResult &result() { return bench().results()->phaseNoise.back(); }
    const PhaseNoiseEntry &noise() { return bench().document().phaseNoise.back(); }
    QWidget *tile() { return find<QWidget>("phaseNoiseTile"); }
    QRectF body() { return QRectF(tile()->rect()).adjusted(4, TileFrame::headHeight, -4, -4); }
    QPoint placeOf(double offset)
    {
        const TileEntry *shown = nullptr;
        for (const SheetEntry &sheet : bench().document().sheets)
            for (const TileEntry &one : sheet.tiles)
                if (one.kind == "phase_noise" && one.of.front() == noise().id) shown = &one;
        const PhaseNoiseFigure figure = phaseNoiseFigure(*bench().results(), *shown);
        const QRectF plot = FunctionPlot().plotRect(body());
        return {int(std::lround(plot.left() + figure.view().scale().shareOf(offset) * plot.width())),
                int(plot.center().y())};
    }
};

} // namespace

TEST(PhaseNoiseDesk, OneActionTellsACarrierByItself)
{
    NoiseDesk desk;
    EXPECT_EQ(desk.bench().selection(), (Selection{Selection::Kind::phaseNoise, desk.noise().id}));
    ASSERT_TRUE(desk.tile());
    for (const char *tile : {"accumulated_jitterTile", "time_deviationTile"})
        ASSERT_TRUE(desk.find<QWidget>(tile)) << tile;
    ASSERT_EQ(desk.result().reason, "");
    EXPECT_NEAR(desk.result().found->carrier, 38.4e6, 1e3);
    EXPECT_GE(desk.ledgerRow("integrated jitter", "oscillator"), 0);
    // The converter's line, which the link has too: it is pointed out.
    ASSERT_EQ(desk.result().found->lines.size(), 1u);
    QTest::mouseClick(desk.tile(), Qt::LeftButton, {}, desk.placeOf(desk.result().found->lines[0].offset));
    EXPECT_EQ(desk.bench().question().part, 0u);
    bool told = false;
    for (const QLabel *label : desk.window().findChildren<QLabel *>())
        told |= label->text().contains("also in link_jitter");
    EXPECT_TRUE(told);
    // When it is strongest: in no part much more than in another.
    auto *evidence = desk.find<QTableView>("evidenceTable");
    EXPECT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() > 20; }));
    const std::size_t entries = desk.bench().document().phaseNoise.size();
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier); // one step
    EXPECT_EQ(desk.bench().document().phaseNoise.size(), entries - 1);
}

TEST(PhaseNoiseDesk, DraggingTheLimitsOfTheIntegralTakesTheJitterAlong)
{
    NoiseDesk desk;
    ASSERT_TRUE(desk.drawn());
    const double all = desk.result().jitter.value;
    test::dragAcross(desk.tile(), desk.placeOf(desk.result().found->lowest), desk.placeOf(100e3));
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.noise().from);
    EXPECT_NEAR(std::log10(*desk.noise().from), 5, 0.02); // a pixel is 0.6 %
    EXPECT_FALSE(desk.noise().to);
    const double less = desk.result().jitter.value;
    EXPECT_LT(less, 0.8 * all);
    EXPECT_NEAR(less, desk.result().found->jitter({*desk.noise().from, INFINITY, false, {}}).value, 1e-9 * less);
    test::dragAcross(desk.tile(), desk.placeOf(desk.result().found->highest) - QPoint(1, 0), desk.placeOf(1e6));
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.noise().to);
    EXPECT_LT(desk.result().jitter.value, less);
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier); // each drag is one step
    EXPECT_FALSE(desk.noise().to);
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(desk.noise().from);
}

TEST(PhaseNoiseDesk, ALineIsTakenIntoTheIntegralByATick)
{
    NoiseDesk desk;
    const double without = desk.result().jitter.value;
    auto *lines = desk.find<QTableWidget>("phaseNoiseLines");
    ASSERT_TRUE(lines);
    ASSERT_EQ(lines->rowCount(), 1);
    lines->item(0, 2)->setCheckState(Qt::Checked);
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR(desk.result().jitter.value, std::hypot(without, 6e-12 / std::sqrt(2)), 0.1e-12);
    // And out again by its key on the tile.
    QTest::mouseClick(desk.tile(), Qt::LeftButton, {}, desk.placeOf(desk.result().found->lines[0].offset));
    QTest::keyClick(desk.tile(), Qt::Key_Space);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.result().jitter.value, without);
    EXPECT_EQ(desk.find<QTableWidget>("phaseNoiseLines")->item(0, 2)->checkState(), Qt::Unchecked);
}

TEST(PhaseNoiseDesk, ALimitIsTypedAndBecomesRows)
{
    NoiseDesk desk;
    auto *field = desk.find<QLineEdit>("phaseNoiseLimit");
    ASSERT_TRUE(field);
    const auto type = [&](const QString &words) {
        field->setFocus();
        field->selectAll();
        field->insert(words); // as pasted
        QTest::keyClick(field, Qt::Key_Return);
        EXPECT_TRUE(desk.settled());
    };
    type("1M -130; 10k -90\t10M -133");
    EXPECT_THAT(desk.noise().limitOffsets, testing::ElementsAre(1e4, 1e6, 1e7));
    EXPECT_THAT(desk.noise().limitLevels, testing::ElementsAre(-90, -130, -133));
    EXPECT_EQ(desk.result().verdict, Verdict::pass);
    type("10k -90, 1M -140");
    EXPECT_EQ(desk.result().verdict, Verdict::fail);
    type("10k -90, 1M");
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("by turns"));
    EXPECT_EQ(desk.noise().limitOffsets.size(), 2u); // as it was

    const std::size_t rows = desk.bench().document().measurements.size();
    QTest::mouseClick(desk.find<QAbstractButton>("limitRows"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().document().measurements.size(), rows + 2);
    const Row &row = desk.bench().results()->rows.back();
    EXPECT_EQ(row.verdict, Verdict::fail);
    EXPECT_NEAR(*row.statistics.mean, desk.result().found->at(1e6)->value, 1e-9);
    desk.bench().select({Selection::Kind::phaseNoise, desk.noise().id});
    QTest::mouseClick(desk.find<QAbstractButton>("decadeRows"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().measurements.size(), rows + 2 + 4); // 10 kHz to 10 MHz
}

TEST(PhaseNoiseDesk, OthersAreLaidOverItWithTheirDifference)
{
    NoiseDesk desk;
    const std::string first = desk.noise().id;
    desk.addFormula("lowpass(oscillator, 60 MHz)");
    ASSERT_TRUE(desk.settled());
    const std::string filtered = desk.bench().document().channels.back().id;
    PhaseNoiseEntry entry;
    entry.id = "filtered_noise";
    entry.source = filtered;
    desk.bench().change("another", [&](Document &document) { document.phaseNoise.push_back(entry); });
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::phaseNoise, "filtered_noise"});
    desk.ask("lay filtered_noise over");
    ASSERT_TRUE(desk.settled());
    const TileEntry *tile = nullptr;
    for (const TileEntry &one : desk.bench().document().sheets.back().tiles)
        if (one.kind == "phase_noise") tile = &one;
    ASSERT_TRUE(tile);
    EXPECT_THAT(tile->of, testing::ElementsAre(first, "filtered_noise"));
    const PhaseNoiseFigure figure = phaseNoiseFigure(*desk.bench().results(), *tile);
    const auto plots = figure.plots();
    ASSERT_EQ(plots.size(), 3u);
    // Less of the capture's noise passes a lowpass: the difference is below zero, and little.
    const auto &difference = plots[2].curves.at(0);
    double sum = 0;
    int count = 0;
    for (std::size_t i = 0; i < difference.x.size(); ++i)
        if (difference.x[i] > 3e6 && std::isfinite(difference.y[i])) sum += difference.y[i], ++count;
    ASSERT_GT(count, 10);
    EXPECT_LT(sum / count, 0);
    EXPECT_GT(sum / count, -3);
}

TEST(PhaseNoiseDesk, ItClosesAndIsReplacedWithoutAWord)
{
    NoiseDesk desk;
    QTest::mousePress(desk.tile(), Qt::LeftButton, {}, desk.placeOf(desk.result().found->lowest));
    const std::string id = desk.noise().id;
    desk.bench().change("remove it", [&](Document &document) {
        std::erase_if(document.phaseNoise, [&](const PhaseNoiseEntry &entry) { return entry.id == id; });
    });
    QTest::mouseMove(desk.tile(), desk.tile()->rect().center()); // the hand goes on
    ASSERT_TRUE(desk.settled());
    QTest::mouseRelease(desk.tile(), Qt::LeftButton, {}, desk.tile()->rect().center());
    EXPECT_EQ(desk.bench().document().phaseNoise.size(), 1u); // the demo's
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.noise().id, id);
    EXPECT_TRUE(desk.result().found);
}
