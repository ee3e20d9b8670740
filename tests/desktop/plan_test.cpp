// An acceptance plan worked down: captures into slots, checked at once, tests judged as they come; one refused, one
// repeated, one left out; stopped and gone on with another day.

#include "plan_edits.h"
#include "plan_json.h"
#include "plan_station.h"

#include <QFileDialog>
#include <QInputDialog>
#include <QMimeData>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

using namespace fulvex;
using fulvex::test::Desk;
using fulvex::test::Station;
using fulvex::test::StationDesk;
using testing::HasSubstr;
using State = StepOutcome::State;

TEST(PlanDesk, IsWorkedDownWithOneRefusedOneRepeatedOneLeftOut)
{
    StationDesk desk;
    ASSERT_TRUE(desk.planned());
    EXPECT_EQ(desk.bench().document().title, "Station");
    EXPECT_EQ(desk.says("first", "stepState"), "waits for its capture");
    EXPECT_EQ(desk.says("first", "stepText"), "At 15 degrees.");

    // A wrong capture: said at the step, and the slot stays open.
    desk.dropInto("first", "cold", "short.npy");
    ASSERT_TRUE(desk.comesTo("first", State::refused));
    EXPECT_THAT(desk.says("first", "stepState").toStdString(), HasSubstr("refused"));
    EXPECT_THAT(desk.says("first", "stepChecks").toStdString(), HasSubstr("short.npy: samples is 3"));

    // The right one replaces it.
    desk.dropInto("first", "cold", "slow.npy");
    ASSERT_TRUE(desk.comesTo("first", State::done));
    EXPECT_EQ(desk.bench().document().attempts.size(), 1u);
    EXPECT_EQ(desk.says("first", "stepState"), "1 pass · 1 fails");
    EXPECT_THAT(desk.cell("first", 0, 5).toStdString(), HasSubstr("fail"));
    EXPECT_THAT(desk.cell("first", 1, 5).toStdString(), HasSubstr("pass"));
    EXPECT_EQ(desk.cell("first", 0, 6), "clause 4.2");

    // Repeated with the board changed: what was found before stays.
    desk.click("first", "repeatStep");
    ASSERT_TRUE(desk.comesTo("first", State::open));
    desk.dropInto("first", "cold", "cold.npy");
    ASSERT_TRUE(desk.comesTo("first", State::done));
    EXPECT_EQ(desk.says("first", "stepState"), "✓ all 2 pass");
    EXPECT_EQ(desk.bench().document().attempts.size(), 2u);
    EXPECT_THAT(desk.says("first", "stepEarlier").toStdString(), HasSubstr("1 pass · 1 fails (slow.npy)"));

    // The second is left out with a reason, and counts again.
    desk.answer("no oven today");
    desk.click("second", "skipStep");
    EXPECT_TRUE(desk.comesTo("second", State::skipped));
    EXPECT_EQ(desk.says("second", "stepState"), "left out: no oven today");
    desk.click("second", "skipStep");
    EXPECT_TRUE(desk.comesTo("second", State::open));
}

TEST(PlanDesk, AStepIsLookedAtInAllViews)
{
    StationDesk desk;
    ASSERT_TRUE(desk.planned());
    desk.dropInto("first", "cold", "cold.npy");
    ASSERT_TRUE(desk.comesTo("first", State::done));
    desk.click("first", "lookAtStep");
    ASSERT_TRUE(desk.settled());
    const Document &document = desk.bench().document();
    ASSERT_EQ(document.sheets.size(), 2u) << desk.message().toStdString();
    EXPECT_EQ(document.sheets[1].title, "Trace");
    EXPECT_EQ(document.measurements[0].limit.max, 3e-10);
    EXPECT_EQ(document.plans.size(), 1u);
    EXPECT_EQ(document.attempts.size(), 1u);
    const int row = desk.ledgerRow("rise time, 20–80 %", "a");
    ASSERT_GE(row, 0);
    EXPECT_THAT(desk.ledgerCell(row, "verdict").toStdString(), HasSubstr("pass"));
    EXPECT_TRUE(desk.comesTo("first", State::done)); // nothing was done again
}

TEST(PlanDesk, TestsAreTickedAndUntickedByHand)
{
    StationDesk desk;
    ASSERT_TRUE(desk.planned());
    desk.dropInto("first", "cold", "slow.npy");
    ASSERT_TRUE(desk.comesTo("first", State::done));
    auto *table = desk.card("first")->findChild<QTableView *>("stepTests");
    table->model()->setData(table->model()->index(0, 0), Qt::Unchecked, Qt::CheckStateRole);
    ASSERT_TRUE(test::waitFor([&] { return desk.says("first", "stepState") == "✓ all 1 pass"; }));
    EXPECT_EQ(desk.cell("first", 0, 5), "not to be run");
    EXPECT_THAT(desk.bench().document().plans[0].without, testing::ElementsAre("first.rise"));
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(test::waitFor([&] { return desk.says("first", "stepState") == "1 pass · 1 fails"; }));
}

TEST(PlanDesk, NothingIsDoneThatNobodyLooksAtOrWrites)
{
    Station station;
    station.folder.write("other.fulvex", R"json({"fulvex": 1, "captures": [{"id": "r", "file": "cold.npy",
        "import": {"sample_interval": 1e-10}}], "channels": [{"id": "a", "capture": "r"}]})json");
    const QString project = station.file("going.fulvex");
    {
        Desk first;
        first.drop({station.file("station.fulvexplan")});
        ASSERT_TRUE(test::waitFor([&] { return first.bench().planState("station") != nullptr; }));
        fillSlot(first.bench(), "station", "first", "cold", {station.file("cold.npy")});
        first.bench().change("a first page", [&](Document &document) {
            TileEntry words;
            words.id = "words";
            words.kind = "words";
            words.words = "As it was.";
            SheetEntry page;
            page.id = "page";
            page.title = "Page";
            page.tiles = {words};
            document.sheets.insert(document.sheets.begin(), page);
            document.comparisons.push_back({"beside", station.file("other.fulvex").toStdString()});
        });
        first.bench().save(project);
        first.bench().errands().finish();
    }
    struct Later : Desk {
        explicit Later(const QString &project)
        {
            window().openFiles({project});
            EXPECT_TRUE(settled() && test::waitFor([&] { return bench().planState("station") && its("beside"); }));
        }
        const Compared *its(const char *id) { return bench().comparedWith(id); }
        bool done()
        {
            const PlanState *state = bench().planState("station");
            return state->attempts.size() == 1 && state->attempts.begin()->second.outcome &&
                   !state->attempts.begin()->second.working;
        }
        bool compared() { return its("beside")->other != nullptr; }
    };
    {
        Later later(project);
        QTest::qWait(700); // a step takes a tenth
        EXPECT_FALSE(later.done());
        EXPECT_FALSE(later.compared());
        later.bench().showSheet(1); // the plan's
        EXPECT_TRUE(test::waitFor([&] { return later.done(); }));
        QTest::qWait(300);
        EXPECT_FALSE(later.compared());
        later.bench().select({Selection::Kind::comparison, "beside"});
        EXPECT_TRUE(test::waitFor([&] { return later.compared(); })) << later.its("beside")->error;
    }
    {
        Later later(project);
        later.bench().exportReports({station.file("report.html")});
        EXPECT_TRUE(test::waitFor([&] { return QFile::exists(station.file("report.html")); }));
        EXPECT_TRUE(later.done());
        EXPECT_TRUE(later.compared());
        EXPECT_THAT(test::readAll(station.folder / "report.html"), HasSubstr("4.3"));
    }
    Later later(project);
    exportPlan(later.bench(), "station", station.file("plan.json"));
    EXPECT_TRUE(test::waitFor([&] { return QFile::exists(station.file("plan.json")); }));
    EXPECT_TRUE(later.done());
    EXPECT_THAT(test::readAll(station.folder / "plan.json"), HasSubstr("pass"));
}

TEST(PlanDesk, GoesOnAnotherDayAndTellsTheSameAsBatch)
{
    Station station;
    const QString project = station.file("going.fulvex");
    std::string told;
    {
        Desk first;
        first.drop({station.file("station.fulvexplan")});
        ASSERT_TRUE(test::waitFor([&] { return first.bench().planState("station") != nullptr; }));
        fillSlot(first.bench(), "station", "first", "cold", {station.file("cold.npy")});
        ASSERT_TRUE(test::waitFor([&] {
            const PlanState *state = first.bench().planState("station");
            return state && !state->attempts.empty() && state->attempts.begin()->second.outcome &&
                   state->attempts.begin()->second.outcome->state == State::done;
        }));
        first.bench().save(project);
        first.bench().errands().finish();
        exportPlan(first.bench(), "station", station.file("plan.json"));
        first.bench().errands().finish();
        told = std::string(
            (std::istreambuf_iterator<char>(*std::make_unique<std::ifstream>(station.folder / "plan.json"))), {});
    }
    Desk second;
    second.window().openFiles({project});
    ASSERT_TRUE(second.settled());
    ASSERT_EQ(second.bench().document().attempts.size(), 1u);
    const AttemptEntry &attempt = second.bench().document().attempts[0];
    EXPECT_THAT(attempt.found.at("rise"), HasSubstr("pass, "));
    EXPECT_EQ(attempt.sha256.at(0).size(), 64u);
    EXPECT_EQ(attempt.captures.at(0), "cold=cold.npy"); // beside the project
    ASSERT_TRUE(test::waitFor([&] {
        const PlanState *state = second.bench().planState("station");
        return state && state->plan && second.bench().outcomeOf("station", state->plan->steps[0]).state == State::done;
    }));

    // As batch would do it, but for when.
    const Plan plan = loadPlan(station.folder / "station.fulvexplan");
    Engine engine(FULVEX_SHIPPED_MASKS);
    Progress progress;
    std::vector<StepOutcome> steps;
    const SlotFiles files{{"cold", {station.folder / "cold.npy"}}};
    for (const PlanStep &step : plan.steps)
        steps.push_back(doStep(plan, step, files, station.folder.path(), {}, engine, progress));
    auto here = nlohmann::json::parse(told),
         there = nlohmann::json::parse(planJson(plan, steps, {here["plan"]["sha256"], here["made"]}));
    EXPECT_EQ(here, there);
}

TEST(PlanDesk, WhatIsMissingIsSaidAndNothingIsLost)
{
    StationDesk desk;
    ASSERT_TRUE(desk.planned());
    fillSlot(desk.bench(), "station", "first", "cold", {desk.file("nowhere.npy")});
    ASSERT_TRUE(desk.comesTo("first", State::refused));
    EXPECT_THAT(desk.says("first", "stepChecks").toStdString(), HasSubstr("nowhere.npy"));
    // A plan that is none: the open project stays.
    desk.folder.write("broken.fulvexplan", "{\"fulvex_plan\": 1, \"id\": \"x\"}");
    desk.bench().undoStack().setClean();
    desk.drop({desk.file("broken.fulvexplan")});
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("broken.fulvexplan"));
    EXPECT_EQ(desk.bench().document().plans.size(), 1u);
}

/// Another project is opened while a step is measured: nothing of it comes there.
TEST(PlanDesk, GoesWithItsProject)
{
    StationDesk desk;
    ASSERT_TRUE(desk.planned());
    fillSlot(desk.bench(), "station", "first", "cold", {desk.file("cold.npy")});
    desk.bench().newProject();
    test::waitFor([&] { return desk.bench().planState("station") != nullptr; }, 400);
    EXPECT_EQ(desk.bench().planState("station"), nullptr);
}
