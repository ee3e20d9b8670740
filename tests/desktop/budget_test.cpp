// One action from a channel to the budget of its unit interval; its pieces, what is behind them, and what remains
// without a line; the opening at an error ratio.

#include "budget_figure.h"
#include "budget_plot.h"
#include "desktop_support.h"
#include "level_bathtub.h"
#include "number_text.h"
#include "tile_frame.h"

#include <QComboBox>
#include <QListWidget>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

using Kind = JitterBudget::Part::Kind;

struct BudgetDesk : Desk {
    BudgetDesk()
    {
        openDemo();
        EXPECT_TRUE(settled());
        bench().select({Selection::Kind::channel, "link"});
        ask("take the jitter of link apart");
        EXPECT_TRUE(settled());
    }
    const BudgetResult &result() { return bench().results()->budgets.back(); } // the demo has one of its own
    std::size_t part(Kind kind)
    {
        const auto &parts = result().budget.parts;
        for (std::size_t i = 0; i < parts.size(); ++i)
            if (parts[i].kind == kind) return i;
        return parts.size();
    }
    QPoint placeOf(std::size_t part)
    {
        const auto *tile = find<QWidget>("budgetTile");
        const BudgetFigure figure = budgetFigure(*bench().results(), result().id, bench().look());
        return figure.places(test::bodyOf(tile))[part].center().toPoint();
    }
};

} // namespace

TEST(Budgets, OneActionTakesJitterApart)
{
    BudgetDesk desk;
    ASSERT_EQ(desk.bench().selection().kind, Selection::Kind::budget);
    ASSERT_TRUE(desk.find<QWidget>("budgetTile"));
    for (const char *tile : {"bathtubTile", "jitter_histogramTile", "jitter_patternTile", "eyeTile"})
        ASSERT_TRUE(desk.find<QWidget>(tile)) << tile;
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("By the clock"));
    const BudgetResult &result = desk.result();
    ASSERT_EQ(result.reason, "");
    EXPECT_GT(result.found->edges.size(), 10000u);
    EXPECT_LT(desk.part(Kind::random), result.budget.parts.size());
    EXPECT_LT(desk.part(Kind::line), result.budget.parts.size()); // the converter's
    EXPECT_NEAR(result.found->lines[result.budget.parts[desk.part(Kind::line)].line].frequency, 2.2e6, 0.02e6);
    EXPECT_LT(result.budget.total, result.budget.added());
    // Its rows agree with it.
    for (const Row &row : desk.bench().results()->rows) {
        const double mean = row.statistics.mean.value_or(0);
        EXPECT_TRUE(row.quantity != "total_jitter" || std::abs(mean - result.budget.total) < 1e-16) << mean;
        EXPECT_TRUE(row.quantity != "periodic_jitter" || std::abs(mean - result.found->periodic()) < 1e-16) << mean;
    }
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);        // one step
    EXPECT_EQ(desk.bench().document().budgets.size(), 1u); // the demo's
}

TEST(Budgets, OneActionTakesSeveralApartSideBySide)
{
    Desk desk;
    desk.openDemo();
    ASSERT_TRUE(desk.settled());
    const std::size_t there = desk.bench().document().budgets.size();
    desk.whenAsked([](QDialog &dialog) {
        auto *list = dialog.findChild<QListWidget *>("chooseSeveralList");
        for (int row = 0; row < list->count(); ++row) {
            QListWidgetItem *item = list->item(row);
            const bool wanted = item->text() == "link" || item->text() == "link2";
            EXPECT_TRUE(!wanted || item->checkState() == Qt::Checked) << "what has a clock is proposed";
            item->setCheckState(wanted ? Qt::Checked : Qt::Unchecked);
        }
        EXPECT_FALSE(list->item(0)->text().isEmpty());
        dialog.accept();
    });
    desk.ask("take the jitter of several channels apart");
    ASSERT_TRUE(desk.settled());
    const auto &budgets = desk.bench().results()->budgets;
    ASSERT_EQ(budgets.size(), there + 2);
    for (std::size_t i = there; i < budgets.size(); ++i) {
        EXPECT_EQ(budgets[i].reason, "") << budgets[i].id;
        EXPECT_GT(budgets[i].budget.total, 0);
    }
    EXPECT_NE(budgets[there].source, budgets[there + 1].source);
    EXPECT_EQ(desk.window().findChildren<QWidget *>("budgetTile").size(), 2);
    EXPECT_EQ(desk.window().findChildren<QWidget *>("bathtubTile").size(), 2);
    desk.key(Qt::Key_Z, Qt::ControlModifier); // one step
    EXPECT_EQ(desk.bench().document().budgets.size(), there);
}

TEST(Budgets, APieceLeadsToItsMomentsAndALineIsSwitchedOff)
{
    BudgetDesk desk;
    const std::size_t line = desk.part(Kind::line);
    auto *tile = desk.find<QWidget>("budgetTile");
    QTest::mouseClick(tile, Qt::LeftButton, {}, desk.placeOf(line));
    EXPECT_EQ(desk.bench().question().part, line);
    auto *evidence = desk.find<QTableView>("evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() > 20; }));
    // At a crest the line is at its amplitude.
    const JitterMakeUp &found = *desk.result().found;
    const double amplitude = found.lines[desk.result().budget.parts[line].line].amplitude;
    EXPECT_GT(amplitude, 1e-12);

    const double before = desk.result().budget.total;
    ASSERT_TRUE(desk.result().budget.parts[line].without);
    const double expected = *desk.result().budget.parts[line].without;
    QTest::keyClick(tile, Qt::Key_Space);
    ASSERT_TRUE(desk.settled());
    EXPECT_TRUE(desk.result().budget.parts[line].leftOut);
    EXPECT_LT(desk.result().budget.total, before);
    EXPECT_NEAR(desk.result().budget.total, expected, 1e-16);
    EXPECT_NEAR(desk.result().budget.whole, before, 1e-16);
    QTest::keyClick(tile, Qt::Key_Space);
    ASSERT_TRUE(desk.settled());
    EXPECT_FALSE(desk.result().budget.parts[line].leftOut);
    EXPECT_NEAR(desk.result().budget.total, before, 1e-16);
}

TEST(Budgets, APieceThatIsNoLineStaysInAndChosen)
{
    BudgetDesk desk;
    auto *tile = desk.find<QWidget>("budgetTile");
    const std::size_t random = desk.part(Kind::random);
    QTest::mouseClick(tile, Qt::LeftButton, {}, desk.placeOf(random));
    auto *leaves = desk.find<QAbstractButton>("switchLine");
    ASSERT_TRUE(test::waitFor([&] { return leaves && !leaves->isEnabled(); }));
    const int undoable = desk.bench().undoStack().count();
    QTest::keyClick(tile, Qt::Key_Space);
    EXPECT_EQ(desk.bench().question().part, random);
    EXPECT_EQ(desk.bench().undoStack().count(), undoable);
    EXPECT_TRUE(desk.find<QWidget>("messageBar")->isVisible()); // it says why
    QTest::mouseClick(tile, Qt::LeftButton, {}, desk.placeOf(desk.part(Kind::line)));
    EXPECT_TRUE(test::waitFor([&] { return leaves->isEnabled(); }));
}

TEST(Budgets, TheBathtubTellsTheOpeningUnderThePointer)
{
    BudgetDesk desk;
    ASSERT_TRUE(desk.drawn());
    const BudgetPlotFigure figure = budgetPlotFigure(*desk.bench().results(), desk.result().id, BudgetPlot::bathtub);
    const JitterBudget &budget = desk.result().budget;
    const double open = budget.unitInterval - budget.bounded->totalAt(1e-9, budget.random);
    EXPECT_THAT(figure.openingAt(1e-9).toStdString(),
                testing::HasSubstr(fixedText(open / budget.unitInterval, 3) + " UI"));
    const QRectF body(0, 0, 300, 200);
    const QRectF plot = FunctionPlot().plotRect(body);
    const auto middle = figure.ratioAt(body, plot.center().y());
    ASSERT_TRUE(middle);
    EXPECT_NEAR(std::log10(*middle), -7, 0.01); // half way down to a hundredth of the budget's
    EXPECT_FALSE(figure.ratioAt(body, body.bottom() + 1));
    // Wider at the higher ratio.
    EXPECT_GT(open, budget.open());
}

TEST(RatioText, IsShort)
{
    EXPECT_EQ(ratioText(1e-12), "1e-12");
    EXPECT_EQ(ratioText(2.5e-9), "2.5e-9");
    EXPECT_EQ(ratioText(9.99e-7), "1e-6");
    EXPECT_EQ(ratioText(0.01), "0.01");
    EXPECT_EQ(ratioText(1), "1");
}

TEST(Budgets, AClocksTransitionsAreForcedToBeDataAndBack)
{
    Desk desk;
    desk.openDemo();
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::channel, "oscillator"});
    desk.ask("take the jitter of oscillator apart");
    ASSERT_TRUE(desk.settled());
    const auto result = [&]() -> const BudgetResult & { return desk.bench().results()->budgets.back(); };
    ASSERT_EQ(result().reason, "");
    EXPECT_FALSE(result().ofData);
    EXPECT_EQ(result().found->data.pattern, 2); // its two directions
    auto *choice = desk.find<QComboBox>("jitterData");
    ASSERT_TRUE(choice);
    choice->setCurrentIndex(choice->findText("of data"));
    ASSERT_TRUE(desk.settled());
    EXPECT_TRUE(result().ofData);
    EXPECT_TRUE(*desk.bench().document().budgets.back().data);
    desk.Desk::key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_FALSE(result().ofData);
}

TEST(Budgets, SlowJitterByAFixedClockIsSaidAndFollowedByOneButton)
{
    Desk desk;
    desk.openDemo();
    ASSERT_TRUE(desk.settled());
    desk.bench().change("budget",
                        [](Document &document) { document.budgets.push_back({.id = "all_of_it", .clock = "ideal"}); });
    ASSERT_TRUE(desk.settled());
    const auto result = [&]() -> const BudgetResult & { return desk.bench().results()->budgets.back(); };
    const double wide = result().budget.total;
    EXPECT_GT(wide, 0.5 * result().budget.unitInterval); // the oscillator's wander
    EXPECT_THAT(result().remarks, testing::Contains(testing::HasSubstr("a receiver's loop follows")));
    desk.bench().select({Selection::Kind::budget, "all_of_it"});
    auto *button = desk.find<QAbstractButton>("followSlowJitter");
    ASSERT_TRUE(button);
    QTest::mouseClick(button, Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    const ClockEntry *clock = findEntry(desk.bench().document().clocks, "ideal");
    EXPECT_EQ(clock->method, "pll");
    EXPECT_NEAR(clock->bandwidth, 640e6 / 1667, 100);
    EXPECT_LT(result().budget.total, 0.3 * wide);
    EXPECT_THAT(result().remarks, testing::Not(testing::Contains(testing::HasSubstr("a receiver's loop follows"))));
    EXPECT_FALSE(desk.find<QAbstractButton>("followSlowJitter")); // nothing more to offer
}

TEST(Budgets, WhenALineIsStrongAndHowHighAnEyeIsOpenAreTilesOfTheirOwn)
{
    BudgetDesk desk;
    desk.bench().select({Selection::Kind::budget, desk.result().id});
    desk.ask("add when a line of " + QString::fromStdString(desk.result().id) + " is strong");
    ASSERT_TRUE(desk.drawn());
    ASSERT_TRUE(desk.find<QWidget>("line_strengthTile"));
    BudgetPlotFigure figure = budgetPlotFigure(*desk.bench().results(), desk.result().id, BudgetPlot::strength);
    figure.take(std::make_shared<const BudgetDrawing>(BudgetDrawing::of(*figure.drawingFrom())));
    const FunctionPlot shown = figure.plot();
    const auto &along = shown.curves.at(1);
    ASSERT_GT(along.y.size(), 10u);
    const double amplitude = desk.result().found->lines[0].peakToPeak();
    for (const double strength : along.y) EXPECT_NEAR(strength, amplitude, 0.35 * amplitude); // it is always there
    EXPECT_GT(along.x.front(), 0);
    EXPECT_LT(along.x.back(), 1.25e-4);

    desk.bench().select({Selection::Kind::eye, "eye"});
    desk.ask("add the bathtub over level of eye");
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.find<QWidget>("levelBathtubTile"));
    EXPECT_EQ(findEntry(desk.bench().document().eyes, "eye")->shown, "error_ratio");
    const LevelBathtubFigure levels = levelBathtubFigure(*desk.bench().results(), "eye");
    ASSERT_EQ(levels.empty.toStdString(), "");
    ASSERT_EQ(levels.openings.size(), 1u);
    // As the contours of the eye have it.
    const EyeResult *eye = findEntry(desk.bench().results()->eyes, "eye");
    const auto contour = eye->errors->contour(1e-9, 0);
    double low = 1, high = -1;
    for (const auto &[phase, level] : contour.points) {
        if (std::abs(phase - (EyeErrorRatio::columns / 2 + 0.5) / EyeErrorRatio::columns) > 1e-6) continue;
        low = std::min(low, level);
        high = std::max(high, level);
    }
    ASSERT_LT(low, high);
    EXPECT_EQ(levels.openAt(1e-9).toStdString(), "open " + quantityText(high - low, "V", {}, 3) + " at 1e-9");
}

TEST(Budgets, WhatCannotBeToldSaysWhy)
{
    Desk desk;
    desk.openDemo();
    ASSERT_TRUE(desk.settled());
    desk.bench().change("budget", [](Document &document) {
        document.regions.push_back({"short_one", 1e-6, 1.02e-6});
        document.budgets.push_back({.id = "few", .clock = document.clocks.front().id, .region = "short_one"});
    });
    ASSERT_TRUE(desk.settled());
    const BudgetResult &result = desk.bench().results()->budgets.back();
    EXPECT_FALSE(result.found);
    EXPECT_THAT(result.reason, testing::HasSubstr("needs 100"));
}
