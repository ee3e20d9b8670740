// The symbol's period from the intervals between crossings, and why there is none.

#include "rate_search.h"
#include "symbol_timing.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;

namespace {

/// Crossings at boundaries of random data: after each symbol with the probability of a half, off by a normal deviate.
EdgeList crossings(std::uint64_t seed, std::size_t count, double period, double jitter)
{
    std::mt19937_64 random(seed);
    std::normal_distribution<double> gauss;
    EdgeList edges;
    double boundary = 17.3;
    for (std::size_t i = 0; i < count; ++i) {
        boundary += period;
        while (random() % 2) boundary += period;
        edges.positions.push_back(boundary + jitter * period * gauss(random));
        edges.flags.push_back(std::uint8_t(i % 2));
    }
    return edges;
}

EdgeList at(const std::vector<double> &positions)
{
    EdgeList edges;
    for (const double position : positions) {
        edges.positions.push_back(position);
        edges.flags.push_back(std::uint8_t(edges.flags.size() % 2));
    }
    return edges;
}

/// The grid of rates is 0.6 % of the lowest apart, of which the period's is 1.4 times: within half of that, and what
/// jitter shifts the best rate by. Then the resonance of so many edges tells it to their spread by their number.
TEST(RateSearch, FindsThePeriodOfRandomData)
{
    for (const double period : {2.5, 4.0, 8.37, 41.9, 1000.7}) {
        for (const std::size_t count : {60u, 1000u, 20'000u}) {
            for (const double jitter : {0.0, 0.02, 0.05}) {
                for (const std::uint64_t seed : {1u, 2u, 3u}) {
                    SCOPED_TRACE(testing::Message() << period << " " << count << " " << jitter << " " << seed);
                    const EdgeList edges = crossings(seed, count, period, jitter);
                    const FoundPeriod rough = periodOfIntervals(edges);
                    ASSERT_EQ(rough.reason, "");
                    EXPECT_NEAR(rough.period / period, 1, 0.006 / 1.4 + jitter / 10);
                    const double used = double(std::min<std::size_t>(count, 2916)), span = 2 * used;
                    EXPECT_NEAR(resonantPeriod(edges, rough.period) / period, 1,
                                0.002 / span + 6 * jitter * std::sqrt(12 / used) / span);
                }
            }
        }
    }
}

TEST(RateSearch, SaysWhyThereIsNone)
{
    EXPECT_THAT(periodOfIntervals(at({1, 2})).reason, testing::HasSubstr("too few crossings between gaps"));
    EXPECT_THAT(periodOfIntervals(at(std::vector<double>(50, 7.0))).reason,
                testing::HasSubstr("most crossings lie on one another"));
}

TEST(RateSearch, MoreUnitIntervalsThanCanBeCountedAreRefused)
{
    Progress progress;
    std::vector<double> positions;
    for (int i = 0; i < 100; ++i) positions.push_back(4.0 * i);
    positions.push_back(4.0 * 2.2e9);
    const SymbolTiming timing = findSymbolTiming(at(positions), 4.0, progress);
    EXPECT_FALSE(timing.found());
    EXPECT_THAT(timing.reason, testing::HasSubstr("more unit intervals than can be counted"));
    positions.back() = 4.0 * 2.0e9;
    EXPECT_TRUE(findSymbolTiming(at(positions), 4.0, progress).found());
}

} // namespace
