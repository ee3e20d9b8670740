#include "crest_noise.h"
#include "edge_finder.h"
#include "results_json.h"
#include "signals.h"
#include "suspects.h"
#include "table_project.h"
#include "turn.h"

#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <numbers>

namespace fulvex {
namespace {

/// A clock of 20 ps a sample and 12.3 samples a unit interval, with jitter and a line, in the capture's noise.
std::vector<double> clockSamples(double jitterUi, double noise, std::uint64_t seed, double lineUi = 0)
{
    test::DataSpec spec;
    spec.unitIntervals = 16000;
    spec.edgeSigma = 0.2;
    spec.randomJitter = jitterUi;
    spec.noise = noise;
    spec.seed = seed;
    spec.bit = [](std::int64_t ui) { return int(ui % 2); };
    spec.wander = [lineUi](double ui) { return lineUi * std::sin(turn * ui / 40.3); };
    return test::makeData(spec).volts;
}

constexpr double interval = 20e-12, unit = 12.3 * interval;

PhaseNoiseEntry entryOf(const std::string &channel)
{
    PhaseNoiseEntry entry;
    entry.id = "noise";
    entry.source = channel;
    return entry;
}

TEST(PhaseNoiseResult, OfAChannelAloneIsThatByAFixedClockAndRowsAgree)
{
    test::TableProject project(clockSamples(0.002, 0.001, 3, 0.01), interval);
    Document &document = project.document;
    document.phaseNoise.push_back(entryOf("a"));
    document.clocks.push_back({.id = "line", .source = "a"});
    document.phaseNoise.push_back({.id = "by_clock", .clock = "line"});
    project.measure("integrated_jitter", "a");
    const Results results = project.evaluate();
    const PhaseNoiseResult &found = results.phaseNoise.at(0), &other = results.phaseNoise.at(1);
    ASSERT_EQ(found.reason, "");
    EXPECT_EQ(found.source, "a");
    EXPECT_EQ(other.source, "a");
    EXPECT_NEAR(found.found->carrier, 0.5 / unit, 1e-5 / unit);
    // The capture's noise over the slope is jitter as well: 1 mV on 1.6 V a unit interval.
    EXPECT_NEAR(found.jitter.value, std::hypot(0.002, 0.00063) * unit, 0.03 * 0.002 * unit);
    EXPECT_EQ(found.jitter.value, other.jitter.value);
    EXPECT_EQ(found.jitter.value, *results.rows.at(0).statistics.mean);
    ASSERT_EQ(found.found->lines.size(), 1u);
    EXPECT_NEAR(found.found->lines[0].level, 20 * std::log10(turn * 0.5 * 0.01 / 2), 0.3);
    ASSERT_TRUE(found.stability);
    EXPECT_EQ(found.verdict, Verdict::none); // it has no limit

    document.phaseNoise[0].except = {found.found->lines[0].offset};
    document.phaseNoise[0].from = 10 * found.found->lowest;
    const Results counted = project.evaluate();
    EXPECT_NEAR(counted.phaseNoise[0].jitter.value, std::hypot(0.002, 0.01 / std::numbers::sqrt2) * unit,
                0.02 * 0.01 * unit);
    EXPECT_EQ(counted.phaseNoise[0].found, found.found); // nothing was transformed again
}

TEST(PhaseNoiseResult, ItsFloorIsWhatTheCapturesNoiseMakesOfIt)
{
    for (const double noise : {0.002, 0.008}) {
        for (const std::uint64_t seed : {1, 2}) {
            test::TableProject project(clockSamples(0, noise, seed), interval);
            project.document.phaseNoise.push_back(entryOf("a"));
            const Results results = project.evaluate();
            const PhaseNoiseResult &found = results.phaseNoise.at(0);
            ASSERT_EQ(found.reason, "");
            ASSERT_TRUE(found.floor);
            // There is nothing else in it: what is seen is the floor, far from the carrier.
            EXPECT_NEAR(found.found->at(0.1 / unit)->value, *found.floor, 1) << noise;
            EXPECT_THAT(found.remarks, testing::Contains(testing::HasSubstr("the capture's own noise")));
        }
    }
    test::TableProject noisy(clockSamples(0.01, 0.002, 5), interval);
    noisy.document.phaseNoise.push_back(entryOf("a"));
    EXPECT_THAT(noisy.evaluate().phaseNoise.at(0).remarks,
                testing::Not(testing::Contains(testing::HasSubstr("the capture's own noise"))));
}

TEST(PhaseNoiseResult, LimitsAreJudgedWhereTheyCanBeTestedAndWhatIsWantedIsSaid)
{
    test::TableProject project(clockSamples(0.005, 0.001, 7), interval);
    PhaseNoiseEntry entry = entryOf("a");
    const double level = 10 * std::log10(std::pow(turn * 0.5 * 0.005, 2) * unit); // white
    entry.limitOffsets = {1e6, 1e9};
    entry.limitLevels = {level + 6, level + 6};
    entry.lowest = 1e3;
    project.document.phaseNoise.push_back(entry);
    PhaseNoiseResult found = project.evaluate().phaseNoise.at(0);
    ASSERT_EQ(found.reason, "");
    EXPECT_EQ(found.verdict, Verdict::none); // from 1 MHz on it cannot all be tested
    EXPECT_THAT(found.remarks, testing::Contains(testing::HasSubstr("no verdict")));
    EXPECT_THAT(found.remarks, testing::Contains(testing::HasSubstr("takes a record of 4.00 ms")));
    PhaseNoiseEntry &set = project.document.phaseNoise[0];
    set.lowest.reset();
    set.limitOffsets = {5e6, 1e9};
    found = project.evaluate().phaseNoise.at(0);
    EXPECT_EQ(found.verdict, Verdict::pass);
    ASSERT_TRUE(found.worst);
    EXPECT_NEAR(found.worst->value, 5, 2);
    set.limitLevels[1] = level - 3;
    found = project.evaluate().phaseNoise.at(0);
    EXPECT_EQ(found.verdict, Verdict::fail);
    EXPECT_NEAR(found.worst->offset, 1e9, 0.3e9);
    set.limitOffsets.clear();
    set.limitLevels.clear();
    set.limitJitter = 0.004 * unit;
    const Results failed = project.evaluate();
    EXPECT_EQ(failed.phaseNoise.at(0).verdict, Verdict::fail);
    EXPECT_TRUE(failed.anyFailed());
    set.limitJitter = 0.006 * unit;
    EXPECT_EQ(project.evaluate().phaseNoise.at(0).verdict, Verdict::pass);
}

TEST(PhaseNoiseResult, AnIntegralOfWhatCannotBeToldIsSaidAndNotPassed)
{
    test::TableProject project(clockSamples(0.005, 0.001, 7), interval);
    project.document.phaseNoise.push_back(entryOf("a"));
    PhaseNoiseEntry &set = project.document.phaseNoise[0];
    set.limitJitter = 1; // s: far more than there is
    EXPECT_EQ(project.evaluate().phaseNoise.at(0).verdict, Verdict::pass);
    set.from = 1e3; // the record tells from 1 MHz on
    PhaseNoiseResult found = project.evaluate().phaseNoise.at(0);
    EXPECT_EQ(found.verdict, Verdict::none);
    EXPECT_THAT(found.remarks, testing::Contains(testing::HasSubstr("limit of jitter is not tested")));
    set.limitJitter = 1e-15; // what is told is too much already
    EXPECT_EQ(project.evaluate().phaseNoise.at(0).verdict, Verdict::fail);
    for (const auto &[from, to] : {std::pair(1.0, 10.0), std::pair(1e11, 1e12)}) { // below all of it, above all of it
        set.from = from;
        set.to = to;
        found = project.evaluate().phaseNoise.at(0);
        EXPECT_EQ(found.verdict, Verdict::none);
        EXPECT_NEAR(found.jitter.value, found.found->jitter({}).value, 1e-18);
        EXPECT_THAT(found.remarks, testing::Contains(testing::HasSubstr("Nothing of what is to be integrated")));
    }
}

TEST(PhaseNoiseResult, OfCapturesThatAreUnlikeHasNoVerdictOfTheFirst)
{
    test::TableProject one(clockSamples(0.005, 0.001, 7), interval), other(clockSamples(0.005, 0.001, 8), 3 * interval),
        alike(clockSamples(0.005, 0.001, 9), interval);
    for (test::TableProject *project : {&one, &other, &alike}) {
        project->document.phaseNoise.push_back(entryOf("a"));
        project->document.phaseNoise[0].limitJitter = 1e-15;
    }
    const Results first = one.evaluate();
    ASSERT_EQ(first.phaseNoise.at(0).verdict, Verdict::fail);
    const PhaseNoiseResult unlike = accumulated({first, other.evaluate()}).phaseNoise.at(0);
    EXPECT_FALSE(unlike.found);
    EXPECT_THAT(unlike.reason, testing::HasSubstr("too unlike"));
    EXPECT_EQ(unlike.verdict, Verdict::none);
    EXPECT_TRUE(unlike.remarks.empty());
    const PhaseNoiseResult both = accumulated({first, alike.evaluate()}).phaseNoise.at(0);
    ASSERT_TRUE(both.found);
    EXPECT_EQ(both.found->records, 2);
    EXPECT_EQ(both.verdict, Verdict::fail);
}

TEST(PhaseNoiseResult, WhatCannotBeToldSaysWhyAndWhatHelps)
{
    std::vector<double> begin = clockSamples(0, 0.001, 9);
    begin.resize(1200);
    test::TableProject few(begin, interval);
    few.document.phaseNoise.push_back(entryOf("a"));
    EXPECT_THAT(few.evaluate().phaseNoise.at(0).reason, testing::HasSubstr("take a longer capture"));
    test::TableProject constant(std::vector<double>(1000, 0.5), interval);
    constant.document.phaseNoise.push_back(entryOf("a"));
    EXPECT_NE(constant.evaluate().phaseNoise.at(0).reason, "");
    EXPECT_FALSE(constant.evaluate().phaseNoise.at(0).found);
}

TEST(CrestNoise, OfAClockThatIsAllEdgesIsThatOfItsSamples)
{
    for (const double noise : {0.0005, 0.005, 0.02}) {
        const SourcePtr source = makeMemorySource(clockSamples(0.002, noise, 11), interval);
        Progress progress;
        const EdgeList edges = findLinearEdges(*source, {0, source->axis().count}, crossingLevel(0, 0.1), progress);
        const auto found = crestNoise(source, edges);
        ASSERT_TRUE(found);
        EXPECT_NEAR(*found, noise, 0.15 * noise) << noise; // 1000 places and what a windowed sinc keeps of noise
    }
}

TEST(Suspects, AreLinesThatResultsOfTwoChannelsShare)
{
    // The same line in two clocks, and one more in the second.
    Results results;
    auto document = std::make_shared<Document>();
    results.document = document;
    const auto add = [&](const std::string &id, const std::string &source, std::vector<double> offsets) {
        auto found = std::make_shared<PhaseNoise>();
        PhaseNoise::Piece piece;
        piece.to = 1e9;
        piece.power.step = 1e3;
        found->pieces.push_back(piece);
        for (const double offset : offsets) found->lines.push_back({offset, -60, 1e-6});
        PhaseNoiseResult result;
        result.id = id;
        result.source = source;
        result.found = found;
        results.phaseNoise.push_back(result);
    };
    add("of_link", "link", {1.1e6, 2.2000e6});
    add("of_clock", "clock", {2.2002e6, 5e6});
    add("again", "link", {1.1e6});
    const std::vector<Suspect> shared = suspects(results);
    ASSERT_EQ(shared.size(), 1u); // 1.1 MHz is in two results, but of one channel
    EXPECT_NEAR(shared[0].frequency, 2.2e6, 1e3);
    ASSERT_EQ(shared[0].seen.size(), 2u);
    EXPECT_THAT(seenElsewhere(results, "of_link", 2.2e6),
                testing::AllOf(testing::HasSubstr("of_clock"), testing::HasSubstr("60.0 dBc")));
    EXPECT_EQ(seenElsewhere(results, "of_link", 1.1e6), "");
    EXPECT_EQ(seenElsewhere(results, "of_clock", 5e6), "");
}

TEST(PhaseNoiseResult, IsWrittenWithItsCurveLinesAndSuspects)
{
    test::TableProject project(clockSamples(0.002, 0.001, 3, 0.01), interval);
    project.document.phaseNoise.push_back(entryOf("a"));
    const nlohmann::json json = nlohmann::json::parse(resultsJson(project.evaluate(), {}));
    const nlohmann::json &noise = json.at("phase_noise").at(0);
    EXPECT_EQ(noise.at("id"), "noise");
    EXPECT_GT(noise.at("curve").size(), 40u);
    EXPECT_EQ(noise.at("lines").size(), 1u);
    EXPECT_EQ(noise.at("lines").at(0).at("counts"), false);
    EXPECT_GT(noise.at("accumulated").size(), 10u);
    EXPECT_GT(noise.at("deviations").size(), 10u);
    EXPECT_TRUE(json.at("suspects").empty());
}

} // namespace
} // namespace fulvex
