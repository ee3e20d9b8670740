// An acceptance plan worked down: captures into slots, checked at once, tests judged as they come; one refused, one
// repeated, one left out; stopped and gone on with another day.

#include "desktop_support.h"
#include "npy_files.h"
#include "plan_edits.h"
#include "plan_json.h"
#include "plan_tile.h"
#include "temporary_folder.h"

#include <QFileDialog>
#include <QInputDialog>
#include <QMimeData>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

using namespace fulvex;
using fulvex::test::Desk;
using testing::HasSubstr;
using State = StepOutcome::State;

namespace {

/// A plan of two steps over data of 0.8 V at 1 GBd, and captures for it.
struct Station {
    Station()
    {
        write("cold.npy", 4000, 1, 0.12);
        write("slow.npy", 4000, 2, 0.30);
        write("warm.npy", 4000, 3, 0.13);
        write("short.npy", 300, 4, 0.12);
        folder.write("station.fulvexplan",
                     R"json({"fulvex_plan": 1, "id": "station", "title": "Station", "revision": "A",
            "source": "an invented agreement",
            "setups": [{"id": "plain", "document": {"fulvex": 1,
                "captures": [{"id": "r", "import": {"sample_interval": 1e-10}}],
                "channels": [{"id": "a", "capture": "r", "unit": "V"}],
                "levels": [{"id": "default", "kind": "percent", "low": 20, "mid": 50, "high": 80, "states": "histogram"}],
                "clocks": [{"id": "ck", "source": "a"}],
                "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"},
                                 {"id": "amp", "quantity": "amplitude", "source": "a"}],
                "sheets": [{"id": "s", "title": "Trace", "tiles": [{"kind": "traces", "of": ["a"], "row": 0, "column": 0}]}]}}],
            "steps": [{"id": "first", "title": "Cold", "text": "At 15 degrees.", "setup": "plain",
                "captures": [{"id": "cold", "as": "r", "wants": {"samples": 20000, "rate_of": "ck", "symbol_rate": 1e9,
                    "ppm": 200}}],
                "tests": [{"id": "rise", "of": "tr", "limit": {"max": 3e-10}, "clause": "4.2"},
                          {"id": "swing", "of": "amp", "limit": {"min": 0.7}, "clause": "4.3"}]},
              {"id": "second", "title": "Warm", "text": "At 45 degrees.", "setup": "plain",
                "captures": [{"id": "warm", "as": "r"}],
                "tests": [{"id": "rise", "of": "tr", "limit": {"max": 3e-10}}]}]})json");
    }
    void write(const char *name, std::int64_t unitIntervals, std::uint64_t seed, double sigma) const
    {
        test::DataSpec spec;
        spec.samplesPerUi = 10;
        spec.unitIntervals = unitIntervals;
        spec.seed = seed;
        spec.noise = 0.003;
        spec.edgeSigma = sigma;
        test::writeNpy(folder / name, test::makeData(spec).volts);
    }
    QString file(const char *name) const { return QString::fromStdString(folder / name); }
    test::TemporaryFolder folder;
};

struct StationDesk : Station, Desk {
    StationDesk() { drop({file("station.fulvexplan")}); }
    bool planned()
    {
        return test::waitFor([&] { return find<StepCard>("step_second") && card("first")->isVisible(); });
    }
    StepCard *card(const char *step) { return find<StepCard>((std::string("step_") + step).c_str()); }
    QString says(const char *step, const char *label)
    {
        auto *its = card(step)->findChild<QLabel *>(label);
        return its->isVisible() ? its->text() : QString();
    }
    /// Drops a file onto a step's slot, as with a mouse.
    void dropInto(const char *step, const char *slot, const char *name)
    {
        auto *box = card(step)->findChild<SlotBox *>(QString("slot_") + slot);
        ASSERT_TRUE(box && box->isVisible()) << step << " " << slot;
        QMimeData files;
        files.setUrls({QUrl::fromLocalFile(file(name))});
        QDragEnterEvent enter(QPoint(20, 20), Qt::CopyAction, &files, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(box, &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDropEvent drop(QPointF(20, 20), Qt::CopyAction, &files, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(box, &drop);
    }
    bool comesTo(const char *step, State state)
    {
        return test::waitFor([&] {
            const PlanState *known = bench().planState("station");
            if (!known || !known->plan) return false;
            const AttemptEntry *newest = newestAttempt(bench().document(), "station", step);
            if (newest && known->attempts.contains(newest->id) && known->attempts.at(newest->id).working) return false;
            return bench().outcomeOf("station", *known->plan->step(step)).state == state;
        });
    }
    QString cell(const char *step, int row, int column)
    {
        return card(step)->findChild<QTableView *>("stepTests")->model()->index(row, column).data().toString();
    }
    void click(const char *step, const char *button)
    {
        auto *its = card(step)->findChild<QPushButton *>(button);
        ASSERT_TRUE(its && its->isVisible()) << button;
        QTest::mouseClick(its, Qt::LeftButton);
    }
};

} // namespace

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
