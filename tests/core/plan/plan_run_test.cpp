#include "error.h"
#include "npy_files.h"
#include "plan_json.h"
#include "plan_run.h"
#include "signals.h"
#include "temporary_folder.h"

#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

namespace fulvex {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using State = StepOutcome::State;

/// Data of 0.8 V at 1 GBd in steps of 100 ps, repeating `pattern` symbols, if it is so long.
struct Bench {
    Bench()
    {
        write("good.npy", 127, 1);
        write("again.npy", 127, 2);
        write("other.npy", 31, 3);
        write("random.npy", 1 << 20, 4);
        test::DataSpec brief;
        brief.unitIntervals = 200;
        test::writeNpy(folder / "short.npy", test::makeData(brief).volts);
        folder.write("no.npy", "not an array");
    }
    void write(const char *name, int pattern, std::uint64_t seed) const
    {
        test::Gaussian random(99);
        std::vector<int> bits;
        for (int i = 0; i < pattern; ++i) bits.push_back(random.uniform() < 0.5);
        test::DataSpec spec;
        spec.samplesPerUi = 10;
        spec.seed = seed;
        spec.noise = 0.003;
        spec.bit = [=](std::int64_t n) { return bits[std::size_t((n % pattern + pattern) % pattern)]; };
        test::writeNpy(folder / name, test::makeData(spec).volts);
    }
    StepOutcome step(const SlotFiles &files, const std::set<std::string> &without = {}, std::size_t which = 0)
    {
        Progress progress;
        return doStep(plan, plan.steps[which], files, folder.path(), without, engine, progress);
    }
    test::TemporaryFolder folder;
    Engine engine{FULVEX_SHIPPED_MASKS};
    Plan plan = parsePlan(R"json({"fulvex_plan": 1, "id": "p", "title": "P",
        "setups": [{"id": "plain", "document": {"fulvex": 1,
            "captures": [{"id": "r", "import": {"sample_interval": 1e-10}}],
            "channels": [{"id": "a", "capture": "r"}],
            "levels": [{"id": "default", "kind": "percent", "low": 20, "mid": 50, "high": 80, "states": "histogram"}],
            "clocks": [{"id": "ck", "source": "a"}],
            "eyes": [{"id": "eye", "source": "a", "clock": "ck"}],
            "masks": [{"id": "mask", "eye": "eye", "mask": "ieee-802.3-1000base-x"}],
            "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"},
                             {"id": "amp", "quantity": "amplitude", "source": "a"}]}}],
        "steps": [{"id": "one", "title": "First", "setup": "plain",
            "captures": [{"id": "r", "wants": {"channels": 1, "sample_rate": 1e10, "length": 1e-6, "samples": 10000,
                "level_of": "a", "level_min": 0.7, "level_max": 0.9, "rate_of": "ck", "symbol_rate": 1e9, "ppm": 100,
                "pattern_of": "ck", "pattern_length": 127}}],
            "tests": [{"id": "rise", "of": "tr", "limit": {"max": 1e-9}}, {"id": "swing", "of": "amp",
                "limit": {"min": 0.85}}, {"id": "mask", "of": "mask"}]},
          {"id": "two", "title": "Second", "setup": "plain", "captures": [{"id": "both", "as": "r", "count": 2}],
            "tests": [{"id": "rise", "of": "tr", "limit": {"max": 1e-9}}]}]})json",
                          "p");
};

TEST(PlanRun, AStepIsCheckedMeasuredAndJudged)
{
    Bench bench;
    const StepOutcome outcome = bench.step({{"r", {"good.npy"}}});
    ASSERT_EQ(outcome.state, State::done) << outcome.reason;
    ASSERT_EQ(outcome.captures.size(), 1u);
    EXPECT_EQ(outcome.captures[0].checks.size(), 7u);
    EXPECT_TRUE(fits(outcome.captures[0].checks));
    EXPECT_EQ(outcome.captures[0].sha256.size(), 64u);
    ASSERT_EQ(outcome.tests.size(), 3u);
    EXPECT_EQ(outcome.tests[0].verdict, TestVerdict::pass);
    EXPECT_NEAR(*outcome.tests[0].value, 2 * 0.8416 * 0.12e-9, 1e-12); // a Gaussian step of 0.12 UI, 20 to 80 %
    EXPECT_EQ(outcome.tests[1].verdict, TestVerdict::fail);
    EXPECT_NEAR(*outcome.tests[1].value, 0.8, 0.01);
    EXPECT_EQ(outcome.tests[2].count, outcome.results->masks[0].result->unitIntervals);
    EXPECT_EQ(outcome.verdict(), TestVerdict::fail);
}

TEST(PlanRun, AWrongCaptureIsRefusedWithTheReason)
{
    Bench bench;
    const auto refusalOf = [&](const char *file) {
        const StepOutcome outcome = bench.step({{"r", {file}}});
        EXPECT_EQ(outcome.state, State::refused) << file;
        EXPECT_FALSE(outcome.results);
        std::vector<std::string> refusals;
        for (const CaptureFit &check : outcome.captures[0].checks)
            if (!check.holds) refusals.push_back(check.what + (check.what == "pattern" ? ": " + check.found : ""));
        return refusals;
    };
    EXPECT_THAT(refusalOf("short.npy"), ElementsAre("length", "samples"));
    EXPECT_THAT(refusalOf("other.npy"), ElementsAre("pattern: 31 symbols"));
    EXPECT_THAT(refusalOf("random.npy"), ElementsAre("pattern: none repeats"));
    EXPECT_THAT(refusalOf("no.npy"), ElementsAre("file"));
    EXPECT_THAT(refusalOf("nowhere.npy"), ElementsAre("file"));
}

TEST(PlanRun, EachOfItsWishesCanBeMissed)
{
    Bench bench;
    const auto refused = [&](const std::function<void(CaptureWants &)> &change) {
        Bench other;
        change(other.plan.steps[0].captures[0].wants);
        const StepOutcome outcome = other.step({{"r", {"good.npy"}}});
        for (const auto &capture : outcome.captures)
            for (const CaptureFit &check : capture.checks)
                if (!check.holds) return check.what + ": " + check.found;
        return std::string("none");
    };
    EXPECT_EQ(refused([](CaptureWants &) {}), "none");
    EXPECT_THAT(refused([](CaptureWants &w) { w.channels = 2; }), HasSubstr("channels: 1"));
    EXPECT_THAT(refused([](CaptureWants &w) { w.sampleRate = 1.1e10; }), HasSubstr("sample rate: 10.00 GSa/s"));
    EXPECT_THAT(refused([](CaptureWants &w) { w.levelMost = 0.75; }), HasSubstr("amplitude of a"));
    EXPECT_THAT(refused([](CaptureWants &w) { w.levelLeast = 0.81; }), HasSubstr("amplitude of a"));
    EXPECT_THAT(refused([](CaptureWants &w) { w.symbolRate = 1.001e9; }), HasSubstr("symbol rate"));
    EXPECT_EQ(refused([](CaptureWants &w) { w.symbolRate = 1.00005e9; }), "none");
}

TEST(PlanRun, AStepWaitsForWhatItNeeds)
{
    Bench bench;
    const StepOutcome none = bench.step({}), one = bench.step({{"both", {"good.npy"}}}, {}, 1);
    EXPECT_EQ(none.state, State::open);
    EXPECT_EQ(none.reason, "waits for r");
    EXPECT_EQ(none.tests[0].unit, bench.step({{"r", {"good.npy"}}}).tests[0].unit)
        << "limits are read before anything is measured";
    EXPECT_EQ(one.reason, "waits for both (1 of 2)");
    const StepOutcome both = bench.step({{"both", {"good.npy", "again.npy"}}}, {}, 1);
    ASSERT_EQ(both.state, State::done) << both.reason;
    EXPECT_EQ(bench.step({{"both", {"good.npy", "good.npy"}}}, {}, 1).state, State::open); // the same one twice
    EXPECT_GT(both.tests[0].count, 1.9 * double(bench.step({{"r", {"good.npy"}}}).tests[0].count));
    EXPECT_NE(both.captures[0].sha256, both.captures[1].sha256);
    EXPECT_EQ(both.captures[1].sha256.size(), 64u);
}

TEST(PlanRun, TestsMayBeLeftOut)
{
    Bench bench;
    const StepOutcome outcome = bench.step({{"r", {"good.npy"}}}, {"swing", "mask"});
    EXPECT_EQ(outcome.tests[1].verdict, TestVerdict::open);
    EXPECT_FALSE(outcome.tests[1].wanted);
    EXPECT_EQ(outcome.verdict(), TestVerdict::pass);
    EXPECT_TRUE(outcome.results->masks.empty()); // nor is time spent on it
    EXPECT_EQ(outcome.results->rows.size(), 1u);
}

TEST(PlanRun, TheWholeIsWhatItsWorstStepIs)
{
    StepOutcome pass, fail, skipped, open;
    pass.state = fail.state = State::done;
    pass.tests.resize(2);
    for (TestOutcome &test : pass.tests) test.verdict = TestVerdict::pass;
    fail.tests = pass.tests;
    fail.tests[1].verdict = TestVerdict::fail;
    skipped.state = State::skipped;
    EXPECT_EQ(verdictOf({pass, pass}), TestVerdict::pass);
    EXPECT_EQ(verdictOf({pass, skipped}), TestVerdict::pass);
    EXPECT_EQ(verdictOf({pass, open}), TestVerdict::open);
    EXPECT_EQ(verdictOf({open, fail}), TestVerdict::fail);
    pass.tests[0].verdict = TestVerdict::undecidable;
    EXPECT_EQ(verdictOf({pass, open}), TestVerdict::undecidable);
}

TEST(PlanRun, GoesOnAsJsonAndJunit)
{
    Bench bench;
    const std::vector<StepOutcome> steps{bench.step({{"r", {"good.npy"}}}),
                                         openStep(bench.plan, bench.plan.steps[1], {}, {})};
    const auto json = nlohmann::json::parse(planJson(bench.plan, steps, {"ab", "2026-01-01T00:00:00Z"}));
    EXPECT_EQ(json.at("verdict"), "fail");
    const auto &test = json.at("steps").at(0).at("tests").at(1);
    EXPECT_EQ(test.at("id"), "swing");
    EXPECT_EQ(test.at("verdict"), "fail");
    EXPECT_EQ(test.at("limit").at("min"), 0.85);
    EXPECT_TRUE(test.at("limit").at("max").is_null());
    EXPECT_NEAR(test.at("value"), 0.8, 0.01);
    EXPECT_EQ(json.at("steps").at(1).at("state"), "open");
    EXPECT_EQ(json.at("steps").at(0).at("captures").at(0).at("checks").size(), 7u);
    const std::string xml = planJunit(bench.plan, steps);
    EXPECT_THAT(xml, HasSubstr("name=\"P: First\" tests=\"4\" failures=\"1\" errors=\"0\" skipped=\"0\""));
    EXPECT_THAT(xml, HasSubstr("name=\"P: Second\" tests=\"1\" failures=\"0\" errors=\"0\" skipped=\"1\""));
    EXPECT_THAT(planTable(bench.plan, steps), HasSubstr("Altogether: fail"));
}

} // namespace
} // namespace fulvex
