// Eyes as documents ask for them: transitions, templates, masks of one's own, bit errors, boxes.

#include "clock_project.h"
#include "error.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

/// Of a Gaussian step from 20 to 80 %: 2 * 0.8416 sigma, whatever the rate, the levels and their number; noise makes it
/// shorter by its share of the slope, since the first passage counts.
TEST(EyeTransitionTimes, AreThoseOfTheStep)
{
    for (const std::vector<double> &levels : {std::vector{-0.4, 0.4}, {0.0, 0.9, 2.1, 3.3}}) {
        for (const double samplesPerUi : {9.7, 21.0, 48.3}) {
            test::DataSpec spec = test::dataSpec(3);
            spec.samplesPerUi = samplesPerUi;
            spec.unitIntervals = 6000;
            spec.levels = levels;
            spec.noise = 0;
            spec.dutyDistortion = 0.05;
            test::ClockProject project;
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
                    EXPECT_NEAR(*test::rowOf(results, row + number).statistics.mean, 2 * 0.841621 * sigma,
                                0.008 * sigma)
                        << samplesPerUi << " " << row << number;
                    EXPECT_EQ(test::rowOf(results, row + number).statistics.count, 1);
                }
                EXPECT_NEAR(*test::rowOf(results, "t" + number).statistics.mean, 2 * 1.281552 * sigma, 0.012 * sigma);
            }
        }
    }
}

TEST(EyeTransitionTimes, OfSeveralCapturesAreThoseOfAll)
{
    test::DataSpec spec = test::dataSpec(4);
    spec.unitIntervals = 3000;
    test::ClockProject project;
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
    EXPECT_NEAR(*test::rowOf(both, "r").statistics.mean, *test::rowOf(one, "r").statistics.mean, 1e-18);
    EXPECT_THAT(test::rowOf(both, "t").reason, testing::HasSubstr("20 to 80 % alone"));
}

/// A template at a channel's edges, by the document: state levels, either edge, and what cannot be laid says so.
TEST(Templates, LieAtTheEdgesOfAChannel)
{
    test::DataSpec spec = test::dataSpec(2);
    spec.unitIntervals = 2000;
    const test::Data data = test::makeData(spec);
    test::ClockProject project;
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
    test::DataSpec spec = test::dataSpec(2);
    spec.unitIntervals = 20000;
    spec.randomJitter = 0.12; // so that the eye closes here and there
    const test::Data data = test::makeData(spec);
    test::ClockProject project;
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
        test::DataSpec spec = test::dataSpec(5);
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
        test::ClockProject project;
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
        const Row &errors = test::rowOf(results, "e");
        ASSERT_EQ(errors.reason, "") << samples;
        EXPECT_EQ(*errors.statistics.mean, double(planted.size()));
        ASSERT_EQ(errors.measured->population.size(), planted.size());
        for (std::size_t i = 0; i < planted.size(); ++i)
            EXPECT_NEAR(errors.measured->population.time(i), (spec.offset + double(planted[i]) * samples) * 1e-10,
                        0.05 * ui);
        const Row &ratio = test::rowOf(results, "r");
        const double compared = double(results.clocks[0].clock->map.unitIntervals());
        EXPECT_NEAR(*ratio.statistics.mean, double(planted.size()) / compared, 1e-9);
        EXPECT_NEAR(*ratio.statistics.uncertainty, std::sqrt(double(planted.size())) / compared, 1e-9);
        EXPECT_EQ(ratio.verdict, Verdict::fail);
        EXPECT_EQ(*test::rowOf(results, "l").statistics.mean,
                  double(std::count_if(planted.begin(), planted.end(), [](auto n) { return n >= 10000; })));
        EXPECT_THAT(test::rowOf(results, "w").reason, testing::HasSubstr("polarity"));
        EXPECT_EQ(wordsOf(*results.clocks[0].pattern), "PRBS 9");
    }
}

/// Boxes of an eye: the levels at its middle are the states with their noise, the times at its crossing the jitter.
TEST(EyeBoxes, GiveTheLevelsAndTimesThatPassThere)
{
    for (const double samples : {9.7, 22.3}) {
        test::DataSpec spec = test::dataSpec(11);
        spec.samplesPerUi = samples;
        spec.noise = 0.01;
        spec.randomJitter = 0.012;
        test::ClockProject project;
        project.write(test::makeData(spec), "d");
        const Results results = project.evaluate(R"("clocks": [{"id": "c", "source": "d", "method": "fixed"}],
            "eyes": [{"id": "e", "source": "d", "clock": "c"}], "measurements": [
            {"id": "v", "quantity": "eye_box_levels", "eye": "e", "above": 0.1, "below": 0.6, "from_phase": 0.45,
             "to_phase": 0.55},
            {"id": "t", "quantity": "eye_box_times", "eye": "e", "above": -0.02, "below": 0.02, "from_phase": -0.3,
             "to_phase": 0.3},
            {"id": "n", "quantity": "eye_box_levels", "eye": "e", "above": 5, "below": 6},
            {"id": "x", "quantity": "eye_box_times", "eye": "e"}])");
        const Statistics &levels = test::rowOf(results, "v").statistics;
        // Half of the unit intervals, a tenth of the samples of each.
        const double count = 20000 / 2.0 * samples / 10;
        EXPECT_NEAR(double(levels.count), count, 0.05 * count) << samples;
        EXPECT_NEAR(*levels.mean, 0.4, 5 * 0.01 / std::sqrt(count));
        EXPECT_NEAR(*levels.std, 0.01, 5 * 0.01 / std::sqrt(2 * count));
        const Statistics &times = test::rowOf(results, "t").statistics;
        const double ui = samples * 1e-10;
        // A crossing strays by the jitter and by the noise over the slope: 0.8 V over the edge's Gaussian step.
        const double slope = 0.8 / (0.12 * std::sqrt(2 * std::numbers::pi));
        const double truth = std::hypot(0.012, 0.01 / slope) * ui;
        EXPECT_NEAR(double(times.count), 10000, 400);
        EXPECT_NEAR(*times.std, truth, 0.05 * truth) << samples;
        EXPECT_NEAR(*times.mean, 0, 5 * truth / std::sqrt(1e4));
        EXPECT_THAT(test::rowOf(results, "n").reason, testing::HasSubstr("no point of the eye"));
        EXPECT_THAT(test::rowOf(results, "x").reason, testing::HasSubstr("give a box"));
    }
}

/// Symbols by a clock that comes beside the data do not move with the data's levels, but are decided by them: another
/// set of levels is another pattern, though the clock is the same.
TEST(BitErrors, FollowTheLevelsOfAForwardedClocksChannel)
{
    test::DataSpec data = test::dataSpec(3), beside = test::dataSpec(3);
    data.unitIntervals = beside.unitIntervals = 3000;
    data.bit = [](std::int64_t n) { return int(n % 5 == 0); };
    beside.bit = [](std::int64_t n) { return int(n % 2); };
    test::ClockProject project;
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
