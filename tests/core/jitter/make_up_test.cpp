#include "jitter_make_up.h"
#include "jitter_signal.h"
#include "units.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace fulvex {
namespace {

using test::JitterSpec;

JitterMakeUp makeUp(const JitterSpec &spec, const JitterRule &rule = {})
{
    Progress progress;
    return makeUpOf(test::makeJitter(spec), rule, progress);
}

using test::ps;

TEST(JitterMakeUp, RandomAloneIsRandom)
{
    for (const double random : {1 * ps, 5 * ps, 20 * ps}) {
        for (const std::int64_t count : {20000, 200000}) {
            JitterSpec spec;
            spec.random = random;
            spec.unitIntervals = count;
            spec.seed = std::uint64_t(count + std::llround(random / ps));
            const JitterMakeUp found = makeUp(spec);
            // The standard deviation of N values scatters by 1 / sqrt(2 N): four times that.
            const double within = 4 * random / std::sqrt(2.0 * double(found.edges.size()));
            EXPECT_NEAR(found.random, random, within);
            EXPECT_GT(found.randomUncertainty, within / 8);
            EXPECT_LT(found.randomUncertainty, within / 2);
            EXPECT_TRUE(found.lines.empty()) << found.lines.front().frequency;
            EXPECT_LT(found.data.peakToPeak, 0.25 * random); // no history tells more than chance
        }
    }
}

TEST(JitterMakeUp, LinesAreFoundWithTheirFrequencyAmplitudeAndPhase)
{
    std::uint64_t seed = 10;
    for (const double frequency : {0.1e6, 2.2313e6, 40e6, 199.7e6, 431e6}) {
        for (const double amplitude : {2 * ps, 25 * ps}) {
            JitterSpec spec;
            spec.random = 3 * ps;
            spec.lines = {{frequency, amplitude}};
            spec.seed = ++seed;
            const JitterMakeUp found = makeUp(spec);
            ASSERT_EQ(found.lines.size(), 1u) << frequency;
            const PeriodicLine &line = found.lines[0];
            // An amplitude of N values scatters by random * sqrt(2 / N), a phase by that over the amplitude.
            const double scatter = spec.random * std::sqrt(2.0 / double(found.edges.size()));
            EXPECT_NEAR(line.amplitude, amplitude, 4 * scatter) << frequency;
            EXPECT_NEAR(line.uncertainty, scatter, 0.1 * scatter);
            EXPECT_NEAR(line.frequency, frequency, 5 * line.frequencyUncertainty);
            const double at = double(found.edges.first) * spec.unitInterval + found.edges.middle() * spec.unitInterval;
            const double phase = 2 * std::numbers::pi * frequency * at + 0.3;
            EXPECT_NEAR(std::remainder(line.phase - phase, 2 * std::numbers::pi), 0, 5 * scatter / amplitude);
            EXPECT_NEAR(found.random, spec.random, 4 * spec.random / std::sqrt(2.0 * double(found.edges.size())));
        }
    }
}

TEST(JitterMakeUp, HarmonicsAreThoseOfALineThatIsNone)
{
    JitterSpec spec;
    spec.random = 1 * ps;
    spec.lines = {{2.0123e6, 8 * ps}, {4.0246e6, 4 * ps}, {8.0492e6, 2 * ps}, {13.3e6, 3 * ps}};
    const JitterMakeUp found = makeUp(spec);
    ASSERT_EQ(found.lines.size(), 4u); // strongest first
    const std::size_t of[] = {0, 0, 2, 0};
    const int harmonic[] = {1, 2, 1, 4};
    for (std::size_t i = 0; i < 4; ++i) {
        EXPECT_EQ(found.lines[i].harmonicOf, of[i]) << i;
        EXPECT_EQ(found.lines[i].harmonic, harmonic[i]) << i;
    }
    EXPECT_NEAR(found.periodic(), 34 * ps, 0.3 * ps);
}

TEST(JitterMakeUp, WhatAPatternDoesIsToldFromWhatIsLeft)
{
    for (const int order : {7, 9, 11}) {
        JitterSpec spec;
        spec.random = 2 * ps;
        spec.unitIntervals = 200000;
        spec.response = {6 * ps, 3 * ps, -1.5 * ps};
        spec.dutyDistortion = 5 * ps;
        spec.symbol = test::prbs(order);
        spec.lines = {{3.7e6, 8 * ps}};
        const JitterMakeUp found = makeUp(spec);
        EXPECT_EQ(found.data.pattern, (1 << order) - 1);
        const double extent = test::dataExtent(spec);
        EXPECT_NEAR(found.data.peakToPeak, extent, std::max(0.3 * ps, 0.03 * extent)) << order;
        ASSERT_EQ(found.lines.size(), 1u);
        EXPECT_NEAR(found.lines[0].amplitude, 8 * ps, 0.1 * ps);
        EXPECT_NEAR(found.random, spec.random, 0.02 * spec.random) << order;
        ASSERT_TRUE(found.dutyCycle());
        EXPECT_NEAR(found.bounded->extent(), extent + 16 * ps, 0.03 * (extent + 16 * ps));
    }
}

TEST(JitterMakeUp, DataThatDoNotRepeatAreToldByTheirHistories)
{
    for (const std::size_t levels : {2u, 3u, 4u}) {
        JitterSpec spec;
        spec.random = 2 * ps;
        spec.unitIntervals = 400000;
        spec.response = {6 * ps, 3 * ps};
        spec.levels = levels;
        const JitterMakeUp found = makeUp(spec);
        EXPECT_EQ(found.data.pattern, 0);
        EXPECT_NEAR(found.data.peakToPeak, test::dataExtent(spec), 0.3 * ps) << levels;
        EXPECT_NEAR(found.random, spec.random, 0.02 * spec.random) << levels;
    }
}

TEST(JitterMakeUp, AClockHasADutyCycleAndNoData)
{
    JitterSpec spec;
    spec.random = 3 * ps;
    spec.dutyDistortion = 7 * ps;
    spec.symbol = [](std::int64_t n) { return int(n % 2); };
    const JitterMakeUp found = makeUp(spec, {false, {}});
    ASSERT_TRUE(found.dutyCycle());
    EXPECT_NEAR(*found.dutyCycle(), 7 * ps, 5 * found.dutyCycleUncertainty());
    EXPECT_NEAR(found.data.peakToPeak, *found.dutyCycle(), 0.01 * ps);
    EXPECT_TRUE(found.lines.empty());
}

TEST(JitterMakeUp, WhatDataDoIsNotToldFromTooLittle)
{
    JitterSpec spec;
    spec.random = 2 * ps;
    spec.unitIntervals = 220;
    EXPECT_NE(makeUp(spec).data.reason, ""); // not even one symbol of history
    spec.unitIntervals = 2000;
    EXPECT_EQ(makeUp(spec).data.reason, "");
    EXPECT_NE(makeUp(spec, {true, 1000}).data.reason, ""); // two repeats
    EXPECT_EQ(makeUp(spec, {true, 100}).data.reason, "");
    EXPECT_EQ(makeUp(spec, {false, {}}).data.reason, "");                         // a clock's
    EXPECT_NEAR(makeUp(spec).random, 2 * ps, 4 * 2 * ps / std::sqrt(2.0 * 1000)); // is told all the same
}

/// Of very many edges lines are looked for in some first, which show neither a weak one nor one that is elsewhere.
TEST(JitterMakeUp, OfVeryManyEdgesAllLinesAreThoseOfAll)
{
    for (const bool data : {true, false}) {
        JitterSpec spec;
        spec.random = 2 * ps;
        spec.unitIntervals = data ? 4'700'000 : 2'400'000; // 2.4 M edges
        spec.dutyDistortion = 5 * ps;
        if (data) spec.response = {6 * ps, 3 * ps};
        spec.symbol = data ? test::prbs(9) : [](std::int64_t n) { return int(n % 2); };
        spec.lines = {{3.7e6, 8 * ps}, {191.3e6, 3 * ps}, {17.3e6, 0.03 * ps}};
        const JitterMakeUp found = makeUp(spec, {data, {}});
        ASSERT_EQ(found.lines.size(), 3u);
        const double scatter = spec.random * std::sqrt(2.0 / double(found.edges.size()));
        const double middle = (double(found.edges.first) + found.edges.middle()) * spec.unitInterval;
        for (std::size_t i = 0; i < 3; ++i) {
            const auto &truth = spec.lines[i];
            EXPECT_NEAR(found.lines[i].amplitude, truth.amplitude, 4 * scatter) << i;
            EXPECT_NEAR(found.lines[i].frequency, truth.frequency, 5 * found.lines[i].frequencyUncertainty) << i;
            const double phase = 2 * std::numbers::pi * truth.frequency * middle + truth.phase;
            EXPECT_NEAR(std::remainder(found.lines[i].phase - phase, 2 * std::numbers::pi), 0,
                        5 * scatter / truth.amplitude)
                << i;
        }
        EXPECT_EQ(found.data.pattern, data ? 511 : 2);
        EXPECT_NEAR(found.data.peakToPeak, test::dataExtent(spec), 0.05 * ps);
        EXPECT_NEAR(found.random, spec.random, 4 * spec.random / std::sqrt(2.0 * double(found.edges.size())));
        EXPECT_EQ(found.rest.size(), found.edges.size());
    }
}

TEST(JitterMakeUp, TooFewEdgesAreSaid)
{
    JitterSpec spec;
    spec.unitIntervals = 100;
    EXPECT_NE(makeUp(spec).reason, "");
    spec.unitIntervals = 0;
    EXPECT_NE(makeUp(spec).reason, "");
}

} // namespace
} // namespace fulvex
