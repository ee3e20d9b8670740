#include "population.h"
#include "pulse_populations.h"
#include "signals.h"

#include <cmath>
#include <numeric>

using namespace fulvex;

namespace {

Population populationOf(const std::vector<double> &values)
{
    Population population;
    for (const double v : values) population.add(double(population.size()), 1, v);
    return population;
}

} // namespace

TEST(Statistics, AreTheTextbookOnes)
{
    const Statistics s = statisticsOf(populationOf({2, 4, 4, 4, 5, 5, 7, 9}));
    EXPECT_EQ(s.count, 8);
    EXPECT_EQ(*s.mean, 5);
    EXPECT_NEAR(*s.std, std::sqrt(32.0 / 7), 1e-14);
    EXPECT_EQ(*s.min, 2);
    EXPECT_EQ(*s.max, 9);
    EXPECT_EQ(*s.last, 9);
}

TEST(Statistics, WhatCannotBeHadIsEmpty)
{
    EXPECT_FALSE(statisticsOf({}).mean);
    EXPECT_FALSE(statisticsOf(populationOf({3})).std);
    EXPECT_FALSE(statisticsOf(populationOf({3, 4, 5})).uncertainty);
    EXPECT_TRUE(statisticsOf(populationOf({3, 4, 5, 6})).uncertainty);
}

/// To the last bit: of values on a grid most lie on the border of a bar.
TEST(Histogram, ABarsValuesAreThoseCountedInIt)
{
    for (const std::uint64_t seed : {1, 2, 3}) {
        for (const double grid : {0.0, 1e-12 / 3, 0.1e-12}) {
            test::Gaussian random(seed);
            std::vector<double> values;
            for (int i = 0; i < 3000; ++i) {
                const double v = 1.1e-10 + 1e-12 * random();
                values.push_back(grid > 0 ? std::round(v / grid) * grid : v);
            }
            const ValueHistogram histogram = histogramOf(populationOf(values));
            const auto inside = [&](std::size_t first, std::size_t last) {
                const auto [from, to] = histogram.valuesOf(first, last);
                return std::count_if(values.begin(), values.end(), [&](double v) { return v >= from && v < to; });
            };
            const std::size_t bars = histogram.counts.size();
            for (std::size_t bar = 0; bar < bars; ++bar) {
                ASSERT_EQ(inside(bar, bar), histogram.counts[bar]) << seed << " " << grid << " " << bar;
                if (bar == 0) continue;
                ASSERT_EQ(histogram.valuesOf(bar - 1, bar - 1).second, histogram.valuesOf(bar, bar).first);
            }
            EXPECT_EQ(inside(0, bars - 1), 3000);
        }
    }
    const ValueHistogram constant = histogramOf(populationOf({5, 5, 5}));
    const std::size_t bar = constant.binOf(5);
    EXPECT_EQ(constant.counts[bar], 3);
    EXPECT_LE(constant.valuesOf(bar, bar).first, 5);
    EXPECT_GT(constant.valuesOf(bar, bar).second, 5);
}

TEST(Statistics, TinySpreadOnALargeMeanIsKept)
{
    std::vector<double> values;
    for (int i = 0; i < 1000; ++i) values.push_back(1e3 + (i % 2 ? 1e-9 : -1e-9));
    EXPECT_NEAR(*statisticsOf(populationOf(values)).std, 1e-9, 2e-13 + 1e-12);
}

/// Over many populations the scatter of the mean must be what the uncertainty says: for independent values, and for
/// neighbours that hang together (AR(1) with 0.9: the variance of the mean is (1 + 0.9) / (1 - 0.9) = 19 times larger).
TEST(Statistics, UncertaintyCoversCorrelatedNeighbours)
{
    for (const double memory : {0.0, 0.9}) {
        test::Gaussian random(6);
        std::vector<double> means, claims;
        for (int run = 0; run < 200; ++run) {
            Population population;
            double v = random() / std::sqrt(1 - memory * memory);
            for (int i = 0; i < 10000; ++i) {
                v = memory * v + random();
                population.add(i, 0, v);
            }
            const Statistics s = statisticsOf(population);
            means.push_back(*s.mean);
            claims.push_back(*s.uncertainty);
        }
        EXPECT_NEAR(test::meanOf(claims) / test::rmsOf(means), 1, 0.2)
            << memory; // 200 runs tell a spread to 5 %; batches of 100 see 90 %
    }
}

TEST(Histogram, HoldsEveryValue)
{
    test::Gaussian random(2);
    Population population;
    for (int i = 0; i < 5000; ++i) population.add(i, 0, random());
    const ValueHistogram histogram = histogramOf(population);
    EXPECT_EQ(std::accumulate(histogram.counts.begin(), histogram.counts.end(), std::int64_t(0)), 5000);
    EXPECT_EQ(histogramOf(populationOf({4, 4, 4})).counts.size(), 16u);
    EXPECT_TRUE(histogramOf({}).counts.empty());
}

TEST(Pulses, PeriodsWidthsAndDutyOfAKnownTrain)
{
    Progress progress;
    EdgeList edges;
    for (int i = 0; i < 10; ++i) {
        edges.positions.insert(edges.positions.end(), {10.0 * i, 10.0 * i + 3});
        edges.flags.insert(edges.flags.end(), {EdgeList::rising, 0});
    }
    const TimeAxis axis{5, 0.5, 100};
    EXPECT_EQ(periods(edges, axis, EdgeChoice::rising, progress).size(), 9u);
    EXPECT_EQ(periods(edges, axis, EdgeChoice::both, progress).size(), 18u);
    EXPECT_EQ(periods(edges, axis, EdgeChoice::falling, progress).value[0], 5);
    EXPECT_EQ(widths(edges, axis, true, progress).value, std::vector<double>(10, 1.5));
    EXPECT_EQ(widths(edges, axis, false, progress).value, std::vector<double>(9, 3.5));
    EXPECT_DOUBLE_EQ(dutyCycles(edges, axis, progress).value[4], 30);
    EXPECT_EQ(periods(edges, axis, EdgeChoice::rising, progress).time(1), 10);
}

TEST(Pulses, NothingReachesAcrossAGap)
{
    Progress progress;
    EdgeList edges;
    edges.positions = {0, 3, 10, 13, 20, 23};
    edges.flags = {1, 0, 1, std::uint8_t(EdgeList::afterGap), 1, 0};
    const TimeAxis axis{0, 1, 100};
    EXPECT_EQ(periods(edges, axis, EdgeChoice::rising, progress).size(), 1u); // 0 to 10; the gap lies in 10 to 20
    EXPECT_EQ(widths(edges, axis, true, progress).size(), 2u);
}

TEST(Pulses, ACancelEndsThem)
{
    EdgeList edges;
    for (int i = 0; i < 10; ++i) {
        edges.positions.push_back(i);
        edges.flags.push_back(i % 2 ? 0 : std::uint8_t(EdgeList::rising));
    }
    const TimeAxis axis{0, 1, 100};
    Progress progress;
    progress.cancel();
    EXPECT_THROW(periods(edges, axis, EdgeChoice::rising, progress), Cancelled);
    EXPECT_THROW(widths(edges, axis, true, progress), Cancelled);
    EXPECT_THROW(dutyCycles(edges, axis, progress), Cancelled);
}

TEST(Pulses, JitterOfPeriods)
{
    Population all;
    const double values[] = {10, 11, 9, 10};
    double at = 0;
    for (const double v : values) {
        all.add(at, v, v);
        at += v;
    }
    EXPECT_EQ(deviations(all).value, (std::vector<double>{0, 1, -1, 0}));
    EXPECT_EQ(successiveDifferences(all).value, (std::vector<double>{1, -2, 1}));
    EXPECT_DOUBLE_EQ(reciprocal(all).value[0], 0.1);
}
