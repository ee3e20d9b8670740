// Clocks as documents ask for them: of several levels, forwarded, and what is said of a wrong one.

#include "clock_project.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

const Finding *findingOf(const ClockResult &clock, const std::string &check, const std::string &level = "")
{
    for (const Finding &one : clock.findings)
        if (one.check == check && (level.empty() || one.level == level)) return &one;
    return nullptr;
}

} // namespace

/// Every quantity of an eye, of each opening by its own levels.
TEST(ClocksOfSeveralLevels, GiveEachOpeningItsOwnNumbers)
{
    for (const std::vector<double> &levels : {std::vector{-0.6, 0.05, 0.55}, {0.0, 0.9, 2.1, 3.3}}) {
        test::DataSpec spec = test::dataSpec(levels.size());
        spec.levels = levels;
        spec.noise = 0.02;
        spec.randomJitter = 0;
        test::ClockProject project;
        project.write(test::makeData(spec), "d");
        std::string rows;
        for (std::size_t opening = 0; opening + 1 < levels.size(); ++opening) {
            for (const char *quantity : {"eye_height", "one_level", "zero_level", "one_noise", "eye_width",
                                         "crossing_level", "q_factor", "eye_jitter_rms"}) {
                const std::string number = std::to_string(opening);
                rows += std::string(rows.empty() ? "" : ",") + R"({"id": ")" + quantity + number +
                        R"(", "quantity": ")" + quantity + R"(", "eye": "e", "opening": )" + number + "}";
            }
        }
        const std::string modulation = std::to_string(levels.size());
        const Results results = project.evaluate(
            R"("clocks": [{"id": "c", "source": "d", "method": "pll", "bandwidth": 1e6, "modulation": )" + modulation +
            R"(}], "eyes": [{"id": "e", "source": "d", "clock": "c"}], "measurements": [)" + rows +
            R"(, {"id": "beyond", "quantity": "eye_height", "eye": "e", "opening": )" +
            std::to_string(levels.size() - 1) + R"(},
               {"id": "error", "quantity": "time_interval_error", "clock": "c"}])");
        const double samples = 20000.0 / double(levels.size()); // of each symbol, one independent of the others each
        for (std::size_t opening = 0; opening + 1 < levels.size(); ++opening) {
            SCOPED_TRACE(modulation + " levels, opening " + std::to_string(opening));
            const auto mean = [&](const char *quantity) {
                const Row &row = test::rowOf(results, quantity + std::to_string(opening));
                EXPECT_EQ(row.reason, "") << quantity;
                return row.statistics.mean.value_or(NAN);
            };
            const double zero = levels[opening], one = levels[opening + 1];
            const double ofMean = 5 * spec.noise / std::sqrt(samples), ofStd = ofMean / std::sqrt(2.0);
            // The middle fifth reaches to 0.4 UI of a transition that is 0.12 UI rms wide: 4e-4 of a step of it.
            const double tails = 4e-4 * (levels.back() - levels.front());
            EXPECT_NEAR(mean("one_level"), one, ofMean + tails);
            EXPECT_NEAR(mean("zero_level"), zero, ofMean + tails);
            EXPECT_NEAR(mean("one_noise"), spec.noise, ofStd + tails);
            EXPECT_NEAR(mean("eye_height"), one - zero - 6 * spec.noise, 2 * ofMean + 6 * ofStd + 8 * tails);
            EXPECT_NEAR(mean("crossing_level"), 50, 2);
            EXPECT_GT(mean("q_factor"), 0);
            // What passes the middle of an opening on its way between others does so early or late by up to
            // where the Gaussian step is at that share.
            const double unit = 11.3e-10;
            EXPECT_NEAR(mean("eye_width"), unit - 6 * mean("eye_jitter_rms"), 1e-15);
            EXPECT_GT(mean("eye_width"), 0.2 * unit);
            EXPECT_LT(mean("eye_width"), unit);
        }
        EXPECT_THAT(test::rowOf(results, "beyond").reason,
                    testing::HasSubstr("has " + std::to_string(levels.size() - 1) + " openings"));
        // Each transition timed where it passes its own middle: no pattern, noise alone.
        const double rise = 0.12 * 11.3e-10 * std::sqrt(2 * 3.14159265), step = levels.size() == 3 ? 0.5 : 0.9;
        EXPECT_LT(*test::rowOf(results, "error").statistics.std, 1.1 * rise * spec.noise / step);
        const ClockResult &clock = results.clocks.at(0);
        ASSERT_EQ(clock.levels.size(), levels.size());
        for (std::size_t i = 0; i < levels.size(); ++i) EXPECT_NEAR(clock.levels[i], levels[i], 0.003);
        // All transitions occur, each as often as any: 5 sigma of a binomial count.
        const double expected = 20000.0 / double(levels.size() * levels.size());
        for (std::size_t i = 0; i < levels.size(); ++i) {
            for (std::size_t k = 0; k < levels.size(); ++k)
                EXPECT_NEAR(double(clock.transitions[i * levels.size() + k]), i == k ? 0 : expected,
                            i == k ? 0 : 5 * std::sqrt(expected));
        }
        EXPECT_TRUE(clock.findings.empty()) << clock.findings[0].text;
    }
}

TEST(ClocksOfSeveralLevels, GivenLevelsAndThresholdsAreTaken)
{
    test::DataSpec spec = test::dataSpec(3);
    spec.levels = {0, 1, 2};
    test::ClockProject project;
    project.write(test::makeData(spec), "d");
    const auto evaluated = [&](const std::string &levels) {
        return project.evaluate(R"("levels": [{"id": "mine", )" + levels + R"(}],
            "clocks": [{"id": "c", "source": "d", "method": "fixed", "modulation": 3, "levels": "mine"}],
            "eyes": [{"id": "e", "source": "d", "clock": "c"}],
            "measurements": [{"id": "h", "quantity": "eye_height", "eye": "e", "opening": 1}])");
    };
    EXPECT_EQ(evaluated(R"("symbol_levels": [0.1, 1.1, 2.1])").clocks.at(0).levels, (std::vector{0.1, 1.1, 2.1}));
    EXPECT_EQ(evaluated(R"("states": "fixed", "state_low": 0, "state_high": 2)").clocks.at(0).levels,
              (std::vector{0.0, 1.0, 2.0}));
    EXPECT_THAT(evaluated(R"("symbol_levels": [0, 1])").clocks.at(0).reason,
                testing::HasSubstr("3 amplitude levels have 3"));
    EXPECT_THAT(evaluated(R"("thresholds": [0.5, 1.5, 3])").clocks.at(0).reason,
                testing::HasSubstr("3 amplitude levels have 2"));
    // Thresholds decide symbols: above 1.9 some of the middle ones' noise is taken for high, and the eye is closed.
    EXPECT_LT(*test::rowOf(evaluated(R"("thresholds": [0.5, 1.01])"), "h").statistics.mean, 0.7);
    EXPECT_GT(*test::rowOf(evaluated(R"("thresholds": [0.5, 1.4])"), "h").statistics.mean, 0.9);
}

TEST(ForwardedClocks, LeaveNoneOfTheWanderThatBothShare)
{
    test::DataSpec spec = test::dataSpec(5);
    spec.randomJitter = 0;
    spec.wander = [](double n) { return 5 * std::sin(n / 300); };
    test::DataSpec beside = spec;
    beside.noise = 0;
    beside.bit = [](std::int64_t n) { return int(n & 1); };
    test::ClockProject project;
    project.write(test::makeData(spec), "d");
    project.write(test::makeData(beside), "k");
    const Results results = project.evaluate(R"("clocks": [
        {"id": "both", "source": "d", "method": "forwarded", "from": "k", "edges": "both"},
        {"id": "rising", "source": "d", "method": "forwarded", "from": "k", "edges": "rising", "multiply": 2},
        {"id": "slow", "source": "d", "method": "pll", "bandwidth": 3e5}],
        "eyes": [{"id": "e", "source": "d", "clock": "both"}],
        "measurements": [{"id": "both_error", "quantity": "time_interval_error", "clock": "both"},
                         {"id": "rising_error", "quantity": "time_interval_error", "clock": "rising"},
                         {"id": "slow_error", "quantity": "time_interval_error", "clock": "slow"},
                         {"id": "rate", "quantity": "symbol_rate", "clock": "both"},
                         {"id": "height", "quantity": "eye_height", "eye": "e"}])");
    const double unit = 11.3e-10, byNoise = 0.12 * unit * std::sqrt(2 * 3.14159265) * spec.noise / 0.8;
    EXPECT_NEAR(*test::rowOf(results, "both_error").statistics.std, byNoise, 0.06 * byNoise);
    // Straight between every second boundary: of a sine of 5 UI and 1 / 300 rad a UI the middle is off by 5 / 300² / 2.
    EXPECT_LT(*test::rowOf(results, "rising_error").statistics.std, std::hypot(byNoise, 5 / 9e4 / 2 * unit) * 1.06);
    EXPECT_GT(*test::rowOf(results, "slow_error").statistics.std, 0.5 * unit);
    EXPECT_NEAR(*test::rowOf(results, "rate").statistics.mean, 1 / unit, 1e-3 / unit);
    EXPECT_NEAR(*test::rowOf(results, "height").statistics.mean, 0.8 - 6 * spec.noise, 0.01);
    const ClockResult &slow = results.clocks.at(2);
    ASSERT_NE(findingOf(slow, "edges_off", "warning"), nullptr);
    EXPECT_THAT(findingOf(slow, "edges_off")->text, testing::HasSubstr("rate, bandwidth, or levels?"));
    const Finding *widen = findingOf(slow, "edges_off", "info");
    ASSERT_TRUE(widen && widen->remedy);
    EXPECT_EQ(widen->remedy->settings.at(0).key, "bandwidth");
    EXPECT_EQ(widen->remedy->settings.at(0).number, 1.2e6);
}

/// What lies in a pause is not folded, tested, or timed; and the pause is said.
TEST(ForwardedClocks, ThatStopLeaveOutWhatLiesThere)
{
    test::DataSpec spec = test::dataSpec(6);
    test::DataSpec beside = spec;
    beside.bit = [](std::int64_t n) { return n > 5000 && n < 9000 ? 0 : int(n & 1); };
    test::Data data = test::makeData(spec);
    for (std::size_t k = 6000 * 11; k < 8000 * 11; ++k) data.volts[k] = 0; // right through the mask
    test::ClockProject project;
    project.write(data, "d");
    project.write(test::makeData(beside), "k");
    const Results results = project.evaluate(R"("clocks": [
        {"id": "c", "source": "d", "method": "forwarded", "from": "k", "edges": "both"}],
        "eyes": [{"id": "e", "source": "d", "clock": "c"}],
        "masks": [{"id": "m", "eye": "e", "mask": "brackwater-camera-link"}],
        "measurements": [{"id": "error", "quantity": "time_interval_error", "clock": "c"}])");
    EXPECT_EQ(results.masks.at(0).result->failedUnitIntervals, 0);
    EXPECT_NEAR(double(results.masks.at(0).result->unitIntervals), 16000, 3);
    EXPECT_NEAR(double(results.eyes.at(0).fold->unitIntervals), 16000, 3);
    EXPECT_NEAR(double(results.clocks.at(0).clock->map.runningUnitIntervals()), 16000, 3);
    EXPECT_NEAR(double(test::rowOf(results, "error").statistics.count), 8000, 5 * std::sqrt(4000));
    const Finding *pause = findingOf(results.clocks.at(0), "pause");
    ASSERT_NE(pause, nullptr);
    EXPECT_THAT(pause->text, testing::HasSubstr("pauses once"));
    const Results gone = project.evaluate(R"("regions": [{"id": "r", "start": 7e-6, "stop": 8e-6}], "clocks": [
        {"id": "c", "source": "d", "method": "forwarded", "from": "k", "edges": "both"}],
        "eyes": [{"id": "e", "source": "d", "clock": "c", "region": "r"}])");
    EXPECT_THAT(gone.eyes.at(0).reason, testing::HasSubstr("pauses all the time there"));
}

namespace {

/// The doubts of one clock on data of a spec.
ClockResult doubtsOf(const test::DataSpec &spec, const std::string &clock, const test::DataSpec &beside = {})
{
    test::ClockProject project;
    project.write(test::makeData(spec), "d");
    project.write(test::makeData(beside), "k");
    return project.evaluate(R"("clocks": [{"id": "c", "source": "d", )" + clock + "}]").clocks.at(0);
}

} // namespace

TEST(WrongClocks, ARateThatIsNotTheirsIsSaid)
{
    const test::DataSpec spec = test::dataSpec(8);
    const double rate = 1 / 11.3e-10;
    EXPECT_TRUE(doubtsOf(spec, R"("method": "fixed")").findings.empty());
    EXPECT_TRUE(doubtsOf(spec, R"("method": "pll", "bandwidth": 1e6)").findings.empty());
    const ClockResult wrong = doubtsOf(spec, R"("method": "fixed", "rate": )" + std::to_string(rate * 1.002));
    ASSERT_NE(findingOf(wrong, "edges_off", "warning"), nullptr); // 40 UI of slip: a fifth of the edges
    EXPECT_THAT(findingOf(wrong, "edges_off")->text, testing::StartsWith("20 %"));
    const Finding *find = findingOf(wrong, "edges_off", "info");
    ASSERT_TRUE(find && find->remedy);
    EXPECT_EQ(find->remedy->settings.at(0).key, "rate");
    EXPECT_EQ(find->remedy->settings.at(0).number, std::nullopt);
    const ClockResult twice = doubtsOf(spec, R"("method": "fixed", "rate": )" + std::to_string(rate * 2));
    const Finding *multiples = findingOf(twice, "multiples");
    ASSERT_TRUE(multiples && multiples->remedy);
    EXPECT_THAT(multiples->text, testing::HasSubstr("whole multiples of 2 UI apart"));
    EXPECT_NEAR(*multiples->remedy->settings.at(0).number, rate, 1e-4 * rate);
}

TEST(WrongClocks, WanderThatAFixedOneLeavesAsksForALoop)
{
    test::DataSpec spec = test::dataSpec(9);
    spec.wander = [](double n) { return 2 * std::sin(n / 700); };
    const ClockResult fixed = doubtsOf(spec, R"("method": "fixed")");
    const Finding *follow = findingOf(fixed, "edges_off", "info");
    ASSERT_TRUE(follow && follow->remedy);
    EXPECT_EQ(follow->remedy->settings.at(0).word, "pll");
    EXPECT_NEAR(*follow->remedy->settings.at(1).number, fixed.rate / 1667, 1);
}

TEST(WrongClocks, MoreLevelsThanAreToldApartAreSaid)
{
    for (const std::size_t count : {3u, 4u, 5u}) {
        test::DataSpec spec = test::dataSpec(count);
        spec.levels.clear();
        for (std::size_t i = 0; i < count; ++i) spec.levels.push_back(double(i));
        const ClockResult two = doubtsOf(spec, R"("method": "fixed")");
        const Finding *levels = findingOf(two, "levels");
        if (count % 2) continue; // whose middle level lies on the threshold of two: what is said is another thing
        ASSERT_TRUE(levels && levels->remedy) << count;
        EXPECT_EQ(levels->remedy->settings.at(0).number, double(count));
    }
    // What neighbours leave of each other is no level.
    test::DataSpec blurred = test::dataSpec(4);
    blurred.edgeSigma = 0.3;
    blurred.noise = 0.002;
    EXPECT_EQ(findingOf(doubtsOf(blurred, R"("method": "fixed")"), "levels"), nullptr);
}

TEST(WrongClocks, AForwardedOneIsDelayedAndMultiplied)
{
    const test::DataSpec spec = test::dataSpec(10);
    test::DataSpec beside = spec;
    beside.offset += 0.3 * spec.samplesPerUi;
    beside.bit = [](std::int64_t n) { return int(n & 1); };
    const ClockResult late = doubtsOf(spec, R"("method": "forwarded", "from": "k")", beside);
    const Finding *delay = findingOf(late, "beside");
    ASSERT_TRUE(delay && delay->remedy);
    EXPECT_EQ(delay->remedy->settings.at(0).key, "delay");
    EXPECT_NEAR(*delay->remedy->settings.at(0).number, -0.3 * 11.3e-10, 0.01 * 11.3e-10);
    beside.bit = [](std::int64_t n) { return int(n / 2 & 1); };
    const ClockResult half = doubtsOf(spec, R"("method": "forwarded", "from": "k")", beside);
    const Finding *multiply = findingOf(half, "multiples");
    ASSERT_TRUE(multiply && multiply->remedy);
    EXPECT_EQ(multiply->remedy->settings.at(0).number, 2.0);
    const ClockResult none = doubtsOf(spec, R"("method": "forwarded", "from": "k", "divide": 1000)");
    EXPECT_EQ(none.reason.find("given"), std::string::npos);
}
