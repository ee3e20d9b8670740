// Plans made of projects, and what a value's distance from its limits is.

#include "plan_making.h"
#include "plan_verdict.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// Two captures, three channels, a limit, a row without, a mask.
Document looked()
{
    Document document;
    document.title = "Tide gauge 4";
    document.device.name = "gauge";
    document.captures = {{"link", "link.npy", "abc", {}}, {"clock", "clock.npy", "def", {}}};
    document.channels.resize(3);
    const char *ids[] = {"p", "n", "tick"};
    for (int i = 0; i < 3; ++i) {
        document.channels[std::size_t(i)].id = ids[i];
        document.channels[std::size_t(i)].capture = i < 2 ? "link" : "clock";
        document.channels[std::size_t(i)].column = i % 2;
    }
    document.measurements.resize(2);
    document.measurements[0].id = "tr";
    document.measurements[0].quantity = "rise_time";
    document.measurements[0].source = "p";
    document.measurements[0].limit.max = 4e-10;
    document.measurements[1] = document.measurements[0];
    document.measurements[1].id = "tf";
    document.measurements[1].limit = {};
    document.comparisons = {{"beside", "other.fulvex"}};
    NoteEntry note;
    note.id = "note";
    note.channel = "p";
    document.notes.push_back(note);
    SheetEntry sheet;
    sheet.id = "s";
    sheet.tiles.push_back({.id = "t1", .kind = "compared_settings", .of = {"beside"}});
    document.sheets.push_back(sheet);
    return document;
}

} // namespace

TEST(PlanMaking, APlanOfAProjectCanBeWorkedDown)
{
    const Plan plan = planOf(looked());
    EXPECT_EQ(parsePlan(planText(plan), "made"), plan);
    EXPECT_EQ(plan.id, "tide_gauge_4");
    ASSERT_EQ(plan.steps.size(), 1u);
    ASSERT_EQ(plan.steps[0].captures.size(), 2u);
    EXPECT_EQ(plan.steps[0].captures[0].wants.channels, 2);
    EXPECT_EQ(plan.steps[0].captures[1].wants.channels, 1);
    ASSERT_EQ(plan.steps[0].tests.size(), 1u); // of what has a limit
    EXPECT_EQ(plan.steps[0].tests[0].limit.max, 4e-10);
    const Document &setup = plan.setups[0].document;
    EXPECT_EQ(setup.captures[0].file, unfilledFile);
    EXPECT_TRUE(setup.captures[0].sha256.empty());
    EXPECT_TRUE(setup.comparisons.empty());
    EXPECT_TRUE(setup.notes.empty());
    EXPECT_TRUE(setup.sheets.empty());
    EXPECT_EQ(setup.measurements.size(), 2u);
}

TEST(PlanMaking, SlotsAndTestsAreAddedOnceAndTheirNamesAreFree)
{
    const Document document = looked();
    Plan plan = planOf(document);
    PlanStep second;
    second.id = "second";
    second.setup = "setup";
    addSlots(plan, second, document);
    EXPECT_EQ(second.captures[0].id, "link2"); // a slot's name is one of the whole plan
    EXPECT_EQ(second.captures[0].capture(), "link");
    addSlots(plan, second, document);
    EXPECT_EQ(second.captures.size(), 2u);
    addTests(second, document);
    addTests(second, document);
    EXPECT_EQ(second.tests.size(), 1u);
    plan.steps.push_back(second);
    EXPECT_NO_THROW(parsePlan(planText(plan), "made"));
    EXPECT_EQ(freeName({"a", "a2"}, "a"), "a3");
    EXPECT_EQ(freeName({}, "An Odd: name"), "an_odd_name");
}

TEST(PlanVerdicts, MarginIsTheDistanceToTheNearerLimit)
{
    EXPECT_DOUBLE_EQ(marginOf(3, {{}, 4.0}).inside, 1);
    EXPECT_DOUBLE_EQ(*marginOf(3, {{}, 4.0}).share, 0.25);
    EXPECT_DOUBLE_EQ(marginOf(5, {{}, 4.0}).inside, -1);
    EXPECT_DOUBLE_EQ(*marginOf(-5, {-4.0, {}}).share, -0.25);
    EXPECT_DOUBLE_EQ(marginOf(3, {0.0, 4.0}).inside, 1);
    EXPECT_DOUBLE_EQ(*marginOf(3, {0.0, 4.0}).share, 0.5); // of half the span
    EXPECT_DOUBLE_EQ(*marginOf(2, {0.0, 4.0}).share, 1);
    EXPECT_FALSE(marginOf(1, {0.0, {}}).share); // of nothing there is no share
    EXPECT_EQ(marginOf(1, {}).inside, INFINITY);
}
