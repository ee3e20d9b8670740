// Clocks as documents ask for them: of several levels, forwarded, and what is said of a wrong one.

#include "document_json.h"
#include "engine.h"
#include "error.h"
#include "signals.h"
#include "temporary_folder.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

/// Channels d (data) and k (a clock beside them) in files of plain doubles.
struct ClockProject {
    ClockProject() : engine(FULVEX_SHIPPED_MASKS) {}
    void write(const test::Data &data, const char *id)
    {
        folder.write(std::string(id) + ".raw", test::bytesOf(data.volts));
        captures += std::string(captures.empty() ? "" : ",") + R"({"id": "file_)" + id + R"(", "file": ")" + id +
                    R"(.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-10}})";
        channels += std::string(channels.empty() ? "" : ",") + R"({"id": ")" + id + R"(", "capture": "file_)" + id +
                    R"(", "column": 0})";
    }
    Results evaluate(const std::string &more)
    {
        const Document document = parseDocument(R"({"fulvex": 1, "captures": [)" + captures + R"(], "channels": [)" +
                                                    channels + "], " + more + "}",
                                                "test");
        Progress progress;
        return engine.evaluate(document, folder.path(), {}, progress);
    }
    test::TemporaryFolder folder;
    Engine engine;
    std::string captures, channels;
};

test::DataSpec dataSpec(std::uint64_t seed)
{
    test::DataSpec spec;
    spec.samplesPerUi = 11.3;
    spec.unitIntervals = 20000;
    spec.randomJitter = 0.01;
    spec.noise = 0.008;
    spec.seed = seed;
    return spec;
}

const Row &rowOf(const Results &results, const std::string &id)
{
    return *findEntry(results.rows, id);
}

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
        test::DataSpec spec = dataSpec(levels.size());
        spec.levels = levels;
        spec.noise = 0.02;
        spec.randomJitter = 0;
        ClockProject project;
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
                const Row &row = rowOf(results, quantity + std::to_string(opening));
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
        EXPECT_THAT(rowOf(results, "beyond").reason,
                    testing::HasSubstr("has " + std::to_string(levels.size() - 1) + " openings"));
        // Each transition timed where it passes its own middle: no pattern, noise alone.
        const double rise = 0.12 * 11.3e-10 * std::sqrt(2 * 3.14159265), step = levels.size() == 3 ? 0.5 : 0.9;
        EXPECT_LT(*rowOf(results, "error").statistics.std, 1.1 * rise * spec.noise / step);
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
    test::DataSpec spec = dataSpec(3);
    spec.levels = {0, 1, 2};
    ClockProject project;
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
    EXPECT_LT(*rowOf(evaluated(R"("thresholds": [0.5, 1.01])"), "h").statistics.mean, 0.7);
    EXPECT_GT(*rowOf(evaluated(R"("thresholds": [0.5, 1.4])"), "h").statistics.mean, 0.9);
}

TEST(ForwardedClocks, LeaveNoneOfTheWanderThatBothShare)
{
    test::DataSpec spec = dataSpec(5);
    spec.randomJitter = 0;
    spec.wander = [](double n) { return 5 * std::sin(n / 300); };
    test::DataSpec beside = spec;
    beside.noise = 0;
    beside.bit = [](std::int64_t n) { return int(n & 1); };
    ClockProject project;
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
    EXPECT_NEAR(*rowOf(results, "both_error").statistics.std, byNoise, 0.06 * byNoise);
    // Straight between every second boundary: of a sine of 5 UI and 1 / 300 rad a UI the middle is off by 5 / 300² / 2.
    EXPECT_LT(*rowOf(results, "rising_error").statistics.std, std::hypot(byNoise, 5 / 9e4 / 2 * unit) * 1.06);
    EXPECT_GT(*rowOf(results, "slow_error").statistics.std, 0.5 * unit);
    EXPECT_NEAR(*rowOf(results, "rate").statistics.mean, 1 / unit, 1e-3 / unit);
    EXPECT_NEAR(*rowOf(results, "height").statistics.mean, 0.8 - 6 * spec.noise, 0.01);
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
    test::DataSpec spec = dataSpec(6);
    test::DataSpec beside = spec;
    beside.bit = [](std::int64_t n) { return n > 5000 && n < 9000 ? 0 : int(n & 1); };
    test::Data data = test::makeData(spec);
    for (std::size_t k = 6000 * 11; k < 8000 * 11; ++k) data.volts[k] = 0; // right through the mask
    ClockProject project;
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
    EXPECT_NEAR(double(rowOf(results, "error").statistics.count), 8000, 5 * std::sqrt(4000));
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
    ClockProject project;
    project.write(test::makeData(spec), "d");
    project.write(test::makeData(beside), "k");
    return project.evaluate(R"("clocks": [{"id": "c", "source": "d", )" + clock + "}]").clocks.at(0);
}

} // namespace

TEST(WrongClocks, ARateThatIsNotTheirsIsSaid)
{
    const test::DataSpec spec = dataSpec(8);
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
    test::DataSpec spec = dataSpec(9);
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
        test::DataSpec spec = dataSpec(count);
        spec.levels.clear();
        for (std::size_t i = 0; i < count; ++i) spec.levels.push_back(double(i));
        const ClockResult two = doubtsOf(spec, R"("method": "fixed")");
        const Finding *levels = findingOf(two, "levels");
        if (count % 2) continue; // whose middle level lies on the threshold of two: what is said is another thing
        ASSERT_TRUE(levels && levels->remedy) << count;
        EXPECT_EQ(levels->remedy->settings.at(0).number, double(count));
    }
    // What neighbours leave of each other is no level.
    test::DataSpec blurred = dataSpec(4);
    blurred.edgeSigma = 0.3;
    blurred.noise = 0.002;
    EXPECT_EQ(findingOf(doubtsOf(blurred, R"("method": "fixed")"), "levels"), nullptr);
}

TEST(WrongClocks, AForwardedOneIsDelayedAndMultiplied)
{
    const test::DataSpec spec = dataSpec(10);
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

/// Of a Gaussian step from 20 to 80 %: 2 * 0.8416 sigma, whatever the rate, the levels and their number; noise makes it
/// shorter by its share of the slope, since the first passage counts.
TEST(EyeTransitionTimes, AreThoseOfTheStep)
{
    for (const std::vector<double> &levels : {std::vector{-0.4, 0.4}, {0.0, 0.9, 2.1, 3.3}}) {
        for (const double samplesPerUi : {9.7, 21.0, 48.3}) {
            test::DataSpec spec = dataSpec(3);
            spec.samplesPerUi = samplesPerUi;
            spec.unitIntervals = 6000;
            spec.levels = levels;
            spec.noise = 0;
            spec.dutyDistortion = 0.05;
            ClockProject project;
            project.write(test::makeData(spec), "d");
            std::string rows;
            for (std::size_t opening = 0; opening + 1 < levels.size(); ++opening) {
                const std::string number = std::to_string(opening),
                                  of = levels.size() > 2 ? R"(, "opening": )" + number : "";
                rows += (rows.empty() ? "" : ",") +
                        (R"({"id": "r)" + number + R"(", "quantity": "eye_rise_time", "eye": "e")" + of +
                         R"(}, {"id": "f)" + number + R"(", "quantity": "eye_fall_time", "eye": "e")" + of +
                         R"(}, {"id": "t)" + number +
                         R"(", "quantity": "eye_rise_time", "eye": "e", "levels": "tenth")" + of + "}");
            }
            const Results results = project.evaluate(
                R"("levels": [{"id": "tenth", "kind": "percent", "low": 10, "mid": 50, "high": 90}],
                   "clocks": [{"id": "c", "source": "d", "method": "fixed", "modulation": )" +
                std::to_string(levels.size()) + R"(}], "eyes": [{"id": "e", "source": "d", "clock": "c"}],
                   "measurements": [)" +
                rows + "]");
            const double sigma = spec.edgeSigma * samplesPerUi * 1e-10;
            for (std::size_t opening = 0; opening + 1 < levels.size(); ++opening) {
                const std::string number = std::to_string(opening);
                for (const char *row : {"r", "f"}) {
                    EXPECT_NEAR(*rowOf(results, row + number).statistics.mean, 2 * 0.841621 * sigma, 0.008 * sigma)
                        << samplesPerUi << " " << row << number;
                    EXPECT_EQ(rowOf(results, row + number).statistics.count, 1);
                }
                EXPECT_NEAR(*rowOf(results, "t" + number).statistics.mean, 2 * 1.281552 * sigma, 0.012 * sigma);
            }
        }
    }
}

TEST(EyeTransitionTimes, OfSeveralCapturesAreThoseOfAll)
{
    test::DataSpec spec = dataSpec(4);
    spec.unitIntervals = 3000;
    ClockProject project;
    project.write(test::makeData(spec), "d");
    const std::string more = R"("levels": [{"id": "tenth", "kind": "percent", "low": 10, "mid": 50, "high": 90}],
        "clocks": [{"id": "c", "source": "d", "method": "fixed"}], "eyes": [{"id": "e", "source": "d", "clock": "c"}],
        "measurements": [{"id": "r", "quantity": "eye_rise_time", "eye": "e"},
                         {"id": "t", "quantity": "eye_rise_time", "eye": "e", "levels": "tenth"}])";
    const Document document = parseDocument(R"({"fulvex": 1, "captures": [)" + project.captures +
                                                R"(], "channels": [)" + project.channels + "], " + more + "}",
                                            "test");
    Engine::Options options;
    options.mergeable = true;
    Progress progress;
    const Results one = project.engine.evaluate(document, project.folder.path(), options, progress);
    const Results both = accumulated({one, one});
    EXPECT_NEAR(*rowOf(both, "r").statistics.mean, *rowOf(one, "r").statistics.mean, 1e-18);
    EXPECT_THAT(rowOf(both, "t").reason, testing::HasSubstr("20 to 80 % alone"));
}

/// A template at a channel's edges, by the document: state levels, either edge, and what cannot be laid says so.
TEST(Templates, LieAtTheEdgesOfAChannel)
{
    test::DataSpec spec = dataSpec(2);
    spec.unitIntervals = 2000;
    const test::Data data = test::makeData(spec);
    ClockProject project;
    project.write(data, "d");
    const std::string shape = R"(, "areas": [{"name": "before", "kind": "closed",
        "points": [[-9e-10, 0.2], [-9e-10, 0.8], [-5e-10, 0.8], [-5e-10, 0.2]]}]})";
    project.folder.write("rise.mask.json", R"({"fulvex_mask": 1, "id": "rise", "x": "s", "y": "normalised")" + shape);
    project.folder.write("eye.mask.json", R"({"fulvex_mask": 1, "id": "eye", "x": "ui", "y": "normalised", "areas": [
        {"name": "centre", "kind": "closed", "points": [[0.4, 0.4], [0.4, 0.6], [0.6, 0.6], [0.6, 0.4]]}]})");
    const Results results = project.evaluate(R"("masks": [
        {"id": "up", "source": "d", "mask": "rise.mask.json"},
        {"id": "down", "source": "d", "edge": "falling", "mask": "rise.mask.json"},
        {"id": "all", "source": "d", "edge": "both", "mask": "rise.mask.json"}])");
    const auto ups = std::count(data.rising.begin(), data.rising.end(), true);
    const auto all = std::int64_t(data.rising.size());
    EXPECT_EQ(results.masks[0].result->unitIntervals, ups);
    EXPECT_EQ(results.masks[1].result->unitIntervals, all - ups);
    EXPECT_EQ(results.masks[2].result->unitIntervals, all);
    for (const MaskRun &run : results.masks) {
        EXPECT_EQ(run.result->failedUnitIntervals, 0) << run.id; // 0.44 UI before an edge the one before has settled
        EXPECT_EQ(run.verdict, Verdict::pass);
        EXPECT_NEAR(run.zero, -0.4, 0.005);
        EXPECT_NEAR(run.one, 0.4, 0.005);
        EXPECT_EQ(run.source, "d");
    }
    const auto fails = [&](const std::string &mask, const char *words) {
        try {
            project.evaluate(R"("clocks": [{"id": "c", "source": "d", "method": "fixed"}],
                "eyes": [{"id": "e", "source": "d", "clock": "c"}], "masks": [{"id": "m", )" +
                             mask + "}]");
            ADD_FAILURE() << mask;
        } catch (const Error &error) {
            EXPECT_THAT(std::string(error.what()), testing::HasSubstr(words));
        }
    };
    fails(R"("source": "d", "mask": "eye.mask.json")", "cannot be laid at edges");
}

/// A mask that the project holds itself, in unit intervals or seconds, fitted to the levels or not: the same place, the
/// same hits; and where so many failures end it.
TEST(OwnMasks, LieOnAnEyeInAnyScale)
{
    test::DataSpec spec = dataSpec(2);
    spec.unitIntervals = 20000;
    spec.randomJitter = 0.12; // so that the eye closes here and there
    const test::Data data = test::makeData(spec);
    ClockProject project;
    project.write(data, "d");
    const double ui = spec.samplesPerUi * 1e-10;
    const auto points = [&](double across, double up, double base) {
        std::string text;
        for (const MaskPoint p : {MaskPoint{0.3, 0.5}, {0.5, 0.7}, {0.7, 0.5}, {0.5, 0.3}})
            text += (text.empty() ? "[" : ", [") + std::to_string(p.x * across * 1e12) + "e-12, " +
                    std::to_string((base + p.y * up) * 1e6) + "e-6]";
        return R"("areas": [{"name": "a", "kind": "closed", "points": [)" + text + "]}]";
    };
    const auto evaluate = [&](const std::string &masks) {
        return project.evaluate(R"("clocks": [{"id": "c", "source": "d", "method": "fixed"}],
            "eyes": [{"id": "e", "source": "d", "clock": "c"}], "masks": [)" +
                                masks + "]");
    };
    const Results fitted = evaluate(R"({"id": "m", "eye": "e", )" + points(1, 1, 0) + "}");
    const MaskRun &run = fitted.masks[0];
    ASSERT_TRUE(run.result) << run.reason;
    EXPECT_GT(run.result->failedUnitIntervals, 20);
    EXPECT_LT(run.result->failedUnitIntervals, 5000);
    // Its period is what was found: a millionth of the rate, and digits of the text, move no mask by a hit or two.
    const Results fixed = evaluate(R"({"id": "m", "eye": "e", "x": "s", "y": "V", )" +
                                   points(run.lasts, run.one - run.zero, run.zero) + "}");
    ASSERT_TRUE(fixed.masks[0].result) << fixed.masks[0].reason;
    EXPECT_NEAR(run.lasts, ui, 1e-5 * ui);
    EXPECT_NEAR(double(fixed.masks[0].result->failedUnitIntervals), double(run.result->failedUnitIntervals), 2);
    const Results stopped = evaluate(R"({"id": "m", "eye": "e", "stop_at": 3, )" + points(1, 1, 0) + "}");
    EXPECT_TRUE(stopped.masks[0].result->stopped);
    EXPECT_EQ(stopped.masks[0].result->failedUnitIntervals, 3);
    EXPECT_EQ(stopped.masks[0].verdict, Verdict::fail);
    for (std::size_t i = 0; i < 3; ++i)
        EXPECT_EQ(stopped.masks[0].result->failures[i].unitInterval, run.result->failures[i].unitInterval);
}

/// Bits that were sent wrong in the middle of a PRBS are found where they are, in the record and in a region of it.
TEST(BitErrors, AreCountedWhereTheyWereSent)
{
    for (const auto &[samples, noise] : {std::pair{3.7, 0.02}, {11.3, 0.05}}) {
        test::DataSpec spec = dataSpec(5);
        spec.samplesPerUi = samples;
        spec.noise = noise;
        unsigned state = 1;
        std::vector<int> sent;
        for (std::int64_t n = 0; n <= spec.unitIntervals; ++n) {
            sent.push_back(int(state & 1));
            state = state >> 1 | ((state ^ state >> 4) & 1) << 8; // x^9 + x^5 + 1
        }
        std::vector<std::int64_t> planted;
        for (std::int64_t n = 300; n < spec.unitIntervals - 10; n += 1777) planted.push_back(n);
        for (const std::int64_t n : planted) sent[std::size_t(n)] ^= 1;
        spec.bit = [&](std::int64_t n) {
            return sent[std::size_t(std::clamp<std::int64_t>(n, 0, spec.unitIntervals))];
        };
        ClockProject project;
        project.write(test::makeData(spec), "d");
        const double ui = samples * 1e-10;
        const Results results = project.evaluate(
            R"("clocks": [{"id": "c", "source": "d", "method": "fixed"}],
               "regions": [{"id": "late", "start": )" +
            std::to_string(1e9 * ui * 10000) + R"(e-9, "stop": 1}],
               "measurements": [{"id": "e", "quantity": "bit_errors", "clock": "c"},
                                {"id": "r", "quantity": "bit_error_ratio", "clock": "c", "limit": {"max": 1e-9}},
                                {"id": "l", "quantity": "bit_errors", "clock": "c", "region": "late",
                                 "expected": "prbs9"},
                                {"id": "w", "quantity": "bit_errors", "clock": "c", "expected": "prbs9 inverted"}])");
        const Row &errors = rowOf(results, "e");
        ASSERT_EQ(errors.reason, "") << samples;
        EXPECT_EQ(*errors.statistics.mean, double(planted.size()));
        ASSERT_EQ(errors.measured->population.size(), planted.size());
        for (std::size_t i = 0; i < planted.size(); ++i)
            EXPECT_NEAR(errors.measured->population.time(i), (spec.offset + double(planted[i]) * samples) * 1e-10,
                        0.05 * ui);
        const Row &ratio = rowOf(results, "r");
        const double compared = double(results.clocks[0].clock->map.unitIntervals());
        EXPECT_NEAR(*ratio.statistics.mean, double(planted.size()) / compared, 1e-9);
        EXPECT_NEAR(*ratio.statistics.uncertainty, std::sqrt(double(planted.size())) / compared, 1e-9);
        EXPECT_EQ(ratio.verdict, Verdict::fail);
        EXPECT_EQ(*rowOf(results, "l").statistics.mean,
                  double(std::count_if(planted.begin(), planted.end(), [](auto n) { return n >= 10000; })));
        EXPECT_THAT(rowOf(results, "w").reason, testing::HasSubstr("polarity"));
        EXPECT_EQ(wordsOf(*results.clocks[0].pattern), "PRBS 9");
    }
}

/// Boxes of an eye: the levels at its middle are the states with their noise, the times at its crossing the jitter.
TEST(EyeBoxes, GiveTheLevelsAndTimesThatPassThere)
{
    for (const double samples : {9.7, 22.3}) {
        test::DataSpec spec = dataSpec(11);
        spec.samplesPerUi = samples;
        spec.noise = 0.01;
        spec.randomJitter = 0.012;
        ClockProject project;
        project.write(test::makeData(spec), "d");
        const Results results = project.evaluate(R"("clocks": [{"id": "c", "source": "d", "method": "fixed"}],
            "eyes": [{"id": "e", "source": "d", "clock": "c"}], "measurements": [
            {"id": "v", "quantity": "eye_box_levels", "eye": "e", "above": 0.1, "below": 0.6, "from_phase": 0.45,
             "to_phase": 0.55},
            {"id": "t", "quantity": "eye_box_times", "eye": "e", "above": -0.02, "below": 0.02, "from_phase": -0.3,
             "to_phase": 0.3},
            {"id": "n", "quantity": "eye_box_levels", "eye": "e", "above": 5, "below": 6},
            {"id": "x", "quantity": "eye_box_times", "eye": "e"}])");
        const Statistics &levels = rowOf(results, "v").statistics;
        // Half of the unit intervals, a tenth of the samples of each.
        const double count = 20000 / 2.0 * samples / 10;
        EXPECT_NEAR(double(levels.count), count, 0.05 * count) << samples;
        EXPECT_NEAR(*levels.mean, 0.4, 5 * 0.01 / std::sqrt(count));
        EXPECT_NEAR(*levels.std, 0.01, 5 * 0.01 / std::sqrt(2 * count));
        const Statistics &times = rowOf(results, "t").statistics;
        const double ui = samples * 1e-10;
        // A crossing strays by the jitter and by the noise over the slope: 0.8 V over the edge's Gaussian step.
        const double slope = 0.8 / (0.12 * std::sqrt(2 * std::numbers::pi));
        const double truth = std::hypot(0.012, 0.01 / slope) * ui;
        EXPECT_NEAR(double(times.count), 10000, 400);
        EXPECT_NEAR(*times.std, truth, 0.05 * truth) << samples;
        EXPECT_NEAR(*times.mean, 0, 5 * truth / std::sqrt(1e4));
        EXPECT_THAT(rowOf(results, "n").reason, testing::HasSubstr("no point of the eye"));
        EXPECT_THAT(rowOf(results, "x").reason, testing::HasSubstr("give a box"));
    }
}

/// Symbols by a clock that comes beside the data do not move with the data's levels, but are decided by them: another
/// set of levels is another pattern, though the clock is the same.
TEST(BitErrors, FollowTheLevelsOfAForwardedClocksChannel)
{
    test::DataSpec data = dataSpec(3), beside = dataSpec(3);
    data.unitIntervals = beside.unitIntervals = 3000;
    data.bit = [](std::int64_t n) { return int(n % 5 == 0); };
    beside.bit = [](std::int64_t n) { return int(n % 2); };
    ClockProject project;
    project.write(test::makeData(data), "d");
    project.write(test::makeData(beside), "k");
    const auto patternAt = [&](const char *mid) {
        const Results results = project.evaluate(
            std::string(R"("levels": [{"id": "l", "kind": "absolute", "low": -3, "mid": )") + mid + R"(, "high": 3}],
                "clocks": [{"id": "c", "source": "d", "method": "forwarded", "from": "k", "levels": "l"}])");
        EXPECT_EQ(results.clocks[0].reason, "");
        return results.clocks[0].pattern.value_or(SymbolPattern{});
    };
    EXPECT_EQ(patternAt("0").length, 5);
    EXPECT_EQ(patternAt("1").kind, SymbolPattern::Kind::constant) << "nothing reaches that level";
    EXPECT_EQ(patternAt("0").length, 5);
}
