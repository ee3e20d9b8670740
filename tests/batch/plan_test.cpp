// The shipped plans over the simulated captures that come with them.

#include "batch_program.h"
#include "project_file.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace fulvex {
namespace {

namespace fs = std::filesystem;
using test::runBatch;
using testing::HasSubstr;
using testing::StartsWith;

const std::string plans = std::string(FULVEX_SHIPPED_MASKS) + "/../plans/",
                  captures = std::string(FULVEX_DEMO) + "/captures/";

std::string acceptance(const std::string &cold)
{
    const std::string at = captures + "acceptance/";
    return "plan '" + plans + "brackwater-acceptance.fulvexplan' --capture 'idle=" + at +
           "idle.npy' --capture 'cold=" + at + cold + "' --capture 'warm=" + at + "warm.npy'";
}

std::string driver(const std::string &which)
{
    const std::string at = captures + "driver/" + which;
    return "plan '" + plans + "ieee-802.3-xaui-driver.fulvexplan' --capture 'high=" + at +
           "-high-frequency.npy' --capture 'low=" + at + "-low-frequency.npy' --capture 'data=" + at + "-data.npy'";
}

/// The truth about a capture, as its generator wrote it.
nlohmann::json truthOf(const std::string &name)
{
    return nlohmann::json::parse(test::readAll(captures + name + ".truth.json"));
}

TEST(PlanProgram, TheAcceptancePlanFindsTheDentAndWhatCannotBeDecided)
{
    const test::TemporaryFolder folder;
    const auto outcome = runBatch(folder, acceptance("cold-dented.npy") + " --out got --junit got/verdicts.xml");
    ASSERT_EQ(outcome.status, 1) << outcome.err;
    const auto json = nlohmann::json::parse(test::readAll(folder / "got/plan.json"));
    EXPECT_EQ(json.at("verdict"), "fail");
    ASSERT_EQ(json.at("steps").size(), 3u);
    const auto &cold = json.at("steps").at(1), &warm = json.at("steps").at(2);
    EXPECT_EQ(cold.at("verdict"), "fail");
    EXPECT_EQ(cold.at("tests").at(3).at("id"), "mask");
    EXPECT_EQ(cold.at("tests").at(3).at("value"), 1); // the one dented bit
    // A Gaussian edge with a tail behind it; the tail makes it slower than the edge alone.
    EXPECT_GT(cold.at("tests").at(0).at("value"),
              2 * 0.8416 * double(truthOf("acceptance/cold-dented").at("edge_sigma")));
    EXPECT_EQ(warm.at("verdict"), "undecidable");
    EXPECT_THAT(std::string(warm.at("tests").at(2).at("advice")), HasSubstr("would decide it"));
    const auto &rate = json.at("steps").at(0).at("tests").at(0);
    EXPECT_NEAR(rate.at("value"), truthOf("acceptance/idle").at("symbol_rate"), 5 * double(rate.at("uncertainty")));
    EXPECT_THAT(test::readAll(folder / "got/verdicts.xml"), HasSubstr("not decidable"));
}

TEST(PlanProgram, TheDriverPlanPassesTheGoodAndFailsTheBad)
{
    const test::TemporaryFolder folder;
    EXPECT_EQ(runBatch(folder, driver("good") + " --out good").status, 0);
    EXPECT_EQ(runBatch(folder, driver("bad") + " --out bad").status, 1);
    const auto good = nlohmann::json::parse(test::readAll(folder / "good/plan.json")),
               bad = nlohmann::json::parse(test::readAll(folder / "bad/plan.json"));
    EXPECT_EQ(good.at("verdict"), "pass");
    for (const auto &step : bad.at("steps")) EXPECT_EQ(step.at("verdict"), "fail") << step.at("id");
    for (const auto &test : bad.at("steps").at(2).at("tests")) EXPECT_EQ(test.at("verdict"), "fail") << test.at("id");
    // Sinusoidal jitter of 92 ps peak to peak over a unit interval of 320: its two-Dirac part is near that.
    const double deterministic = bad.at("steps").at(2).at("tests").at(3).at("value");
    EXPECT_NEAR(deterministic, truthOf("driver/bad-data").at("ripple_jitter_pp"), 0.1 * 92e-12);
}

TEST(PlanProgram, AWrongCaptureIsRefusedAndTheRestIsJudged)
{
    const test::TemporaryFolder folder;
    const std::string at = captures + "acceptance/";
    const auto outcome =
        runBatch(folder, "plan '" + plans + "brackwater-acceptance.fulvexplan' --capture 'idle=" + at +
                             "cold.npy' --capture 'cold=" + at + "cold.npy' --skip 'picture_warm=no oven'" +
                             " --without picture_cold.total");
    EXPECT_EQ(outcome.status, 1);
    EXPECT_THAT(outcome.out, HasSubstr("Idle pattern: refused"));
    EXPECT_THAT(outcome.out, HasSubstr("pattern is 511 symbols, PRBS 9, wanted: 10 symbols"));
    EXPECT_THAT(outcome.out, HasSubstr("Full picture, cold: pass"));
    EXPECT_THAT(outcome.out, HasSubstr("not wanted"));
    EXPECT_THAT(outcome.out, HasSubstr("Full picture, warm: skipped, no oven"));
    EXPECT_THAT(outcome.out, HasSubstr("Altogether: open"));
}

/// A plan from elsewhere names a program of its own: it does not run, and the step says so.
TEST(PlanProgram, APlanFromElsewhereRunsNothingUnasked)
{
    const test::TemporaryFolder folder;
    folder.write("touch.py", "open('was_here', 'w')\n");
    std::string rows = "a\n";
    for (int i = 0; i < 400; ++i) rows += std::to_string(i % 20 < 10 ? 0.0 : 1.0) + "\n";
    folder.write("a.csv", rows);
    folder.write("p.fulvexplan", R"json({"fulvex_plan": 1, "id": "p", "title": "P",
        "setups": [{"id": "s", "document": {"fulvex": 1, "captures": [{"id": "r", "import": {"sample_interval": 1e-9}}],
            "channels": [{"id": "a", "capture": "r"}, {"id": "b", "formula": "shady(a)"}],
            "programs": [{"id": "shady", "file": "touch.py", "arguments": ["signal"]}],
            "measurements": [{"id": "m", "quantity": "maximum", "source": "b"}]}}],
        "steps": [{"id": "one", "title": "One", "setup": "s", "captures": [{"id": "r"}],
            "tests": [{"id": "t", "of": "m", "limit": {"max": 2}}]}]})json");
    const auto outcome = runBatch(folder, "plan p.fulvexplan --capture r=a.csv");
    EXPECT_EQ(outcome.status, 1) << outcome.err;
    EXPECT_THAT(outcome.out, HasSubstr("program \"shady\": has not been allowed to run here"));
    EXPECT_FALSE(std::filesystem::exists(folder / "was_here"));
}

TEST(PlanProgram, WhatCannotBeUsedIsOneLine)
{
    const test::TemporaryFolder folder;
    folder.write("no.fulvexplan", "{\"fulvex_plan\": 1}");
    const std::string plan = "plan '" + plans + "brackwater-acceptance.fulvexplan' ";
    for (const std::string &arguments :
         {std::string("plan nowhere.fulvexplan"), std::string("plan no.fulvexplan"),
          plan + "--capture idle=nowhere.npy", plan + "--capture lukewarm=no.fulvexplan", plan + "--capture idle",
          plan + "--skip nowhere=x", plan + "--without picture_cold.nothing"}) {
        const auto outcome = runBatch(folder, arguments + " --out made");
        EXPECT_EQ(outcome.status, 2) << arguments;
        EXPECT_EQ(std::count(outcome.err.begin(), outcome.err.end(), '\n'), 1) << outcome.err;
        EXPECT_FALSE(std::filesystem::exists(folder / "made/plan.json")) << arguments;
    }
    EXPECT_THAT(runBatch(folder, plan + "--capture lukewarm=no.fulvexplan").err,
                HasSubstr("the plan has no capture \"lukewarm\"; it has idle, cold, warm"));
}

/// The report of a plan tells each step, is opened again as a project that works it down, and holds when it is done
/// again from its captures, wherever these lie; not with others, and not when a verdict in it is changed.
TEST(PlanProgram, ItsReportHoldsAndIsOpenedAgain)
{
    const test::TemporaryFolder folder;
    fs::create_directories(folder / "in");
    for (const char *name : {"idle", "cold", "warm"})
        fs::copy(captures + "acceptance/" + name + ".npy", folder / ("in/" + std::string(name) + ".npy"));
    const std::string plan =
        "plan '" + plans + "brackwater-acceptance.fulvexplan' --skip 'picture_warm=no oven' --out got ";
    ASSERT_EQ(runBatch(folder, plan + "--capture idle=in/idle.npy --capture cold=in/cold.npy").status, 0);
    const std::string html = test::readAll(folder / "got/report.html");
    for (const char *words : {"2 Full picture, cold", "skipped: no oven", "rise time, 20–80 %", "full picture, 15 °C",
                              "Its captures", "agreement on the camera link"})
        EXPECT_THAT(html, HasSubstr(words));
    for (const char *name : {"report.html", "report.pdf"}) {
        const auto held = runBatch(folder, std::string("check got/") + name);
        EXPECT_EQ(held.status, 0) << held.out << held.err;
        EXPECT_THAT(held.out, HasSubstr("11 of 11 numbers are the same. It holds."));
    }
    Progress progress;
    const OpenedProject again = openProject(folder / "got/report.pdf", progress);
    ASSERT_EQ(again.document.plans.size(), 1u);
    EXPECT_EQ(again.document.plans[0].skipped.at("picture_warm"), "no oven");
    ASSERT_EQ(again.document.attempts.size(), 2u);
    EXPECT_EQ(again.document.attempts[1].sha256.size(), 1u);
    EXPECT_THAT(again.document.attempts[1].found.at("rise"), HasSubstr("pass, "));

    fs::rename(folder / "in", folder / "moved");
    EXPECT_EQ(runBatch(folder, "check got/report.pdf").status, 0); // found by their fingerprints
    EXPECT_EQ(runBatch(folder, "check got/report.pdf --captures moved").status, 0);
    fs::create_directories(folder / "in");
    fs::copy(captures + "acceptance/idle.npy", folder / "in/idle.npy");
    fs::copy(captures + "acceptance/cold-dented.npy", folder / "in/cold.npy");
    const auto other = runBatch(folder, "check got/report.pdf");
    EXPECT_EQ(other.status, 1);
    EXPECT_THAT(other.out, HasSubstr("step picture_cold, test mask: it says pass; its captures give 1 of"));
    std::string changed = html;
    const std::size_t at = changed.find("\"verdict\": \"pass\"");
    ASSERT_NE(at, std::string::npos);
    changed.replace(at, 17, "\"verdict\": \"fail\"");
    folder.write("got/changed.html", changed);
    EXPECT_THAT(runBatch(folder, "check got/changed.html --captures moved").out, HasSubstr("The seal is broken"));
}

} // namespace
} // namespace fulvex
