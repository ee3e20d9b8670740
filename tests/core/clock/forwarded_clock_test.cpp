// Clocks that come beside the data: what both share is no jitter, and where the clock pauses nothing is told.

#include "edge_finder.h"
#include "forwarded_clock.h"
#include "numbered_edges.h"
#include "signals.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

EdgeList foundEdges(const test::Data &data)
{
    Progress progress;
    const SourcePtr source = data.source();
    ReferenceLevels levels;
    levels.states = {-0.4, 0.4};
    levels.low = -0.32, levels.high = 0.32, levels.mid = 0, levels.hysteresis = 0.08;
    return findEdges(*source, {0, source->axis().count}, levels, EdgeInterpolation::instants, progress);
}

/// A clock waveform of half a period a unit interval, `ratio` unit intervals of the data each, with the data's wander.
test::DataSpec clockBeside(const test::DataSpec &data, int ratio = 1)
{
    test::DataSpec spec = data;
    spec.samplesPerUi = data.samplesPerUi * ratio;
    spec.unitIntervals = data.unitIntervals / ratio;
    spec.seed = data.seed + 50;
    spec.wander = [wander = data.wander, ratio](double n) { return wander(n * ratio) / ratio; };
    spec.bit = [](std::int64_t n) { return int(n & 1); };
    spec.edgeSigma = data.edgeSigma / ratio;
    return spec;
}

double worstOf(const test::Data &data, const UnitIntervalMap &map)
{
    const auto edges = std::make_shared<const EdgeList>(edgesWhereItRuns(foundEdges(data), map));
    double worst = 0;
    for (const double late : NumberedEdges(edges, map).lateness(map)) worst = std::max(worst, std::abs(late));
    return worst;
}

} // namespace

/// Wander of many unit intervals that both have leaves nothing; and every edge its own, so that a jump of the clock is
/// followed at once.
TEST(ForwardedClock, SharedWanderLeavesNone)
{
    for (const int ratio : {1, 2, 5}) {
        for (const double samplesPerUi : {9.0, 12.3, 40.0}) {
            SCOPED_TRACE(std::to_string(ratio) + " unit intervals an edge, " + std::to_string(samplesPerUi));
            test::DataSpec spec;
            spec.samplesPerUi = samplesPerUi;
            spec.unitIntervals = 5000;
            // Straight between the clock's edges, which is what multiplying takes it for.
            spec.wander = [](double n) {
                const double place = std::fmod(n, 1000) / 1000;
                return 8 * (place < 0.5 ? place : 1 - place);
            };
            const test::Data data = test::makeData(spec), clock = test::makeData(clockBeside(spec, ratio));
            const TimeAxis axis = data.source()->axis();
            const ForwardedClock found = forwardedClock(foundEdges(clock), axis, axis, {EdgeChoice::both, ratio, 1, 0});
            ASSERT_TRUE(found.map) << found.reason;
            EXPECT_EQ(found.stops, 0);
            EXPECT_LT(worstOf(data, *found.map), 0.008 * ratio / samplesPerUi + 0.002);
            EXPECT_NEAR(found.map->period(), samplesPerUi, 0.02 * samplesPerUi / 5);
        }
    }
}

TEST(ForwardedClock, OneDirectionDividedMultipliedAndDelayed)
{
    test::DataSpec spec;
    spec.samplesPerUi = 12;
    spec.unitIntervals = 2000;
    const test::Data data = test::makeData(spec), clock = test::makeData(clockBeside(spec));
    const TimeAxis axis = data.source()->axis();
    const EdgeList ticks = foundEdges(clock);
    // Rising edges: every second boundary, the first one boundary 1.
    for (const EdgeChoice edges : {EdgeChoice::rising, EdgeChoice::falling}) {
        const ForwardedClock found = forwardedClock(ticks, axis, axis, {edges, 2, 1, 0});
        EXPECT_NEAR(found.map->period(), 12, 1e-4);
        EXPECT_LT(worstOf(data, *found.map), 0.002);
    }
    const ForwardedClock each = forwardedClock(ticks, axis, axis, {EdgeChoice::both, 6, 6, 0});
    EXPECT_NEAR(each.map->period(), 12, 1e-4);
    EXPECT_LT(worstOf(data, *each.map), 0.002);
    // A quarter of a unit interval later the data are early by that.
    const ForwardedClock later = forwardedClock(ticks, axis, axis, {EdgeChoice::both, 1, 1, 3 * axis.interval});
    const auto edges = std::make_shared<const EdgeList>(foundEdges(data));
    for (const double late : NumberedEdges(edges, *later.map).lateness(*later.map)) EXPECT_NEAR(late, -0.25, 0.002);
    // Nothing is fitted: the mean stays.
    EXPECT_LT(each.rateUncertainty, 1e-6);
}

TEST(ForwardedClock, OfAnotherGridIsLaidOnTheData)
{
    test::DataSpec spec;
    spec.samplesPerUi = 12;
    spec.unitIntervals = 800;
    const test::Data data = test::makeData(spec);
    test::DataSpec faster = clockBeside(spec);
    faster.samplesPerUi = 18; // half again as many samples of it
    faster.offset = spec.offset * 1.5 + 30;
    const test::Data clock = test::makeData(faster);
    const TimeAxis axis = data.source()->axis();
    TimeAxis own = clock.source(axis.interval / 1.5)->axis();
    own.start -= 30 * own.interval;
    const ForwardedClock found = forwardedClock(foundEdges(clock), own, axis, {EdgeChoice::both, 1, 1, 0});
    EXPECT_LT(worstOf(data, *found.map), 0.002);
}

/// Between two bursts of the clock nothing is told: neither unit intervals nor edges of the data.
TEST(ForwardedClock, PausesWhereItStops)
{
    test::DataSpec spec;
    spec.samplesPerUi = 10;
    spec.unitIntervals = 3000;
    const test::Data data = test::makeData(spec);
    for (const EdgeChoice edges : {EdgeChoice::both, EdgeChoice::rising}) {
        test::DataSpec clockSpec = clockBeside(spec);
        clockSpec.bit = [](std::int64_t n) {
            const bool stands = (n > 1000 && n < 1400) || n < 100 || n > 2900;
            return stands ? 0 : int(n & 1);
        };
        const TimeAxis axis = data.source()->axis();
        const int multiply = edges == EdgeChoice::both ? 1 : 2;
        const ForwardedClock found =
            forwardedClock(foundEdges(test::makeData(clockSpec)), axis, axis, {edges, multiply, 1, 0});
        ASSERT_TRUE(found.map) << found.reason;
        EXPECT_EQ(found.stops, 1);
        EXPECT_NEAR(found.longestStop, 400 * 10 * axis.interval, 25 * axis.interval);
        EXPECT_NEAR(found.firstStop, axis.timeOf(spec.offset + 1000 * 10), 25 * axis.interval);
        std::int64_t runs = 0;
        for (const SampleRange &run : found.map->running({0, found.map->unitIntervals()})) runs += run.size();
        EXPECT_NEAR(double(runs), 2800 - 400, 6);
        const EdgeList kept = edgesWhereItRuns(foundEdges(data), *found.map);
        std::size_t gaps = 0;
        for (std::size_t i = 0; i < kept.size(); ++i) {
            const double n = (kept.positions[i] - spec.offset) / 10;
            EXPECT_TRUE((n > 98 && n < 1003) || (n > 1397 && n < 2903)) << n;
            gaps += kept.isAfterGap(i);
        }
        EXPECT_EQ(gaps, 1u);
        EXPECT_GT(kept.size(), 1000u);
    }
}

/// An uneven duty cycle is no pause.
TEST(ForwardedClock, MayHaveAnUnevenDutyCycle)
{
    test::DataSpec spec;
    spec.samplesPerUi = 20;
    spec.unitIntervals = 2000;
    test::DataSpec uneven = clockBeside(spec);
    uneven.dutyDistortion = 0.5; // pulses of 10 and 30 samples
    uneven.edgeSigma = 0.06;
    const TimeAxis axis = test::makeData(spec).source()->axis();
    const ForwardedClock found =
        forwardedClock(foundEdges(test::makeData(uneven)), axis, axis, {EdgeChoice::both, 1, 1, 0});
    ASSERT_TRUE(found.map) << found.reason;
    EXPECT_EQ(found.stops, 0);
    EXPECT_NEAR(found.map->period(), 20, 0.02);
}

TEST(ForwardedClock, WithoutEdgesSaysWhy)
{
    const TimeAxis axis = makeMemorySource(std::vector<double>(1000), 1e-9)->axis();
    EXPECT_THAT(forwardedClock({}, axis, axis, {}).reason, testing::HasSubstr("has 0 edges"));
    EdgeList one;
    one.positions.push_back(5);
    one.flags.push_back(EdgeList::rising);
    EXPECT_THAT(forwardedClock(one, axis, axis, {}).reason, testing::HasSubstr("has 1 edge"));
    EdgeList before; // the data begin behind it
    for (int i = 0; i < 10; ++i) {
        before.positions.push_back(-1000 + i);
        before.flags.push_back(i % 2 ? EdgeList::rising : 0);
    }
    EXPECT_THAT(forwardedClock(before, axis, axis, {}).reason, testing::HasSubstr("while the data have no samples"));
}
