#include "population.h"
#include "pulse_populations.h"
#include "signals.h"

#include <cmath>
#include <numeric>

using namespace fulvex;

namespace {

Population populationOf(const std::vector<double> &values)
{
    PopulationBuilder population;
    for (const double v : values) population.add(double(population.size()), 1, v);
    return population.take();
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
            PopulationBuilder population;
            double v = random() / std::sqrt(1 - memory * memory);
            for (int i = 0; i < 10000; ++i) {
                v = memory * v + random();
                population.add(i, 0, v);
            }
            const Statistics s = statisticsOf(population.take());
            means.push_back(*s.mean);
            claims.push_back(*s.uncertainty);
        }
        EXPECT_NEAR(test::meanOf(claims) / test::rmsOf(means), 1, 0.2)
            << memory; // 200 runs tell a spread to 5 %; batches of 100 see 90 %
    }
}

/// Three widths that come round and round, and two more: their mean is known as well as those two allow.
TEST(Statistics, WholeRoundsDoNotHideAPartOfOne)
{
    for (const int rounds : {16, 17, 80, 401}) {
        PopulationBuilder builder;
        const double widths[] = {250, 600, 1395};
        for (int i = 0; i < 3 * rounds + 2; ++i) builder.add(i, 1, widths[i % 3]);
        const Statistics found = statisticsOf(builder.take());
        EXPECT_LE(std::abs(*found.mean - (250 + 600 + 1395) / 3.0), 2 * *found.uncertainty) << rounds;
    }
}

TEST(Histogram, HoldsEveryValue)
{
    test::Gaussian random(2);
    PopulationBuilder population;
    for (int i = 0; i < 5000; ++i) population.add(i, 0, random());
    const ValueHistogram histogram = histogramOf(population.take());
    EXPECT_EQ(std::accumulate(histogram.counts.begin(), histogram.counts.end(), std::int64_t(0)), 5000);
    EXPECT_EQ(histogramOf(populationOf({4, 4, 4})).counts.size(), 16u);
    EXPECT_TRUE(histogramOf({}).counts.empty());
}

/// Value by value, of lengths around what is counted at a time; beyond the ends, and of what is no number, nothing.
TEST(Histogram, CountsWhatLiesBetweenGivenValues)
{
    test::Gaussian random(8);
    for (const std::size_t count : {1u, 3u, 4095u, 4097u, 70001u}) {
        std::vector<double> values;
        for (std::size_t i = 0; i < count; ++i) values.push_back(random());
        for (const double odd : {-1.0, 1.5, -HUGE_VAL, HUGE_VAL, 1e300, std::nan("")}) values.push_back(odd);
        const ValueHistogram histogram = histogramOf(populationOf(values), 37, -1, 1.5);
        std::vector<std::int64_t> expected(37);
        for (const double v : values)
            if (v >= -1 && v <= 1.5) ++expected[histogram.binOf(v)];
        EXPECT_EQ(histogram.counts, expected) << count;
    }
    // The whole of a description is the same over its extremes, and each value lies in it.
    std::vector<double> values;
    for (int i = 0; i < 9000; ++i) values.push_back(random());
    Measured measured;
    measured.population = populationOf(values);
    EXPECT_EQ(measured.describe().histogram, histogramOf(measured.population));
}

TEST(Pulses, PeriodsWidthsAndDutyOfAKnownTrain)
{
    Progress progress;
    EdgeList list;
    for (int i = 0; i < 10; ++i) {
        list.positions.insert(list.positions.end(), {10.0 * i, 10.0 * i + 3});
        list.flags.insert(list.flags.end(), {EdgeList::rising, 0});
    }
    const auto edges = std::make_shared<const EdgeList>(std::move(list));
    const TimeAxis axis{5, 0.5, 100};
    EXPECT_EQ(periods(edges, axis, EdgeChoice::rising, progress).size(), 9u);
    EXPECT_EQ(periods(edges, axis, EdgeChoice::both, progress).size(), 18u);
    EXPECT_EQ(periods(edges, axis, EdgeChoice::falling, progress).value[0], 5);
    EXPECT_EQ(widths(edges, axis, true, progress).value, Column(std::vector<double>(10, 1.5)));
    EXPECT_EQ(widths(edges, axis, false, progress).value, Column(std::vector<double>(9, 3.5)));
    EXPECT_DOUBLE_EQ(dutyCycles(edges, axis, progress).value[4], 30);
    EXPECT_EQ(periods(edges, axis, EdgeChoice::rising, progress).time(1), 10);
}

TEST(Pulses, NothingReachesAcrossAGap)
{
    Progress progress;
    EdgeList list;
    list.positions = {0, 3, 10, 13, 20, 23};
    list.flags = {1, 0, 1, std::uint8_t(EdgeList::afterGap), 1, 0};
    const auto edges = std::make_shared<const EdgeList>(std::move(list));
    const TimeAxis axis{0, 1, 100};
    EXPECT_EQ(periods(edges, axis, EdgeChoice::rising, progress).size(), 1u); // 0 to 10; the gap lies in 10 to 20
    EXPECT_EQ(widths(edges, axis, true, progress).size(), 2u);
}

TEST(Pulses, ACancelEndsThem)
{
    EdgeList list;
    for (int i = 0; i < 10; ++i) {
        list.positions.push_back(i);
        list.flags.push_back(i % 2 ? 0 : std::uint8_t(EdgeList::rising));
    }
    const auto edges = std::make_shared<const EdgeList>(std::move(list));
    const TimeAxis axis{0, 1, 100};
    Progress progress;
    progress.cancel();
    EXPECT_THROW(periods(edges, axis, EdgeChoice::rising, progress), Cancelled);
    EXPECT_THROW(widths(edges, axis, true, progress), Cancelled);
    EXPECT_THROW(dutyCycles(edges, axis, progress), Cancelled);
}

TEST(Pulses, JitterOfPeriods)
{
    PopulationBuilder some;
    const double values[] = {10, 11, 9, 10};
    double at = 0;
    for (const double v : values) {
        some.add(at, v, v);
        at += v;
    }
    const Population all = some.take();
    EXPECT_EQ(deviations(all).value, Column({0, 1, -1, 0}));
    EXPECT_EQ(successiveDifferences(all).value, Column({1, -2, 1}));
    EXPECT_DOUBLE_EQ(reciprocal(all).value[0], 0.1);
}

TEST(Column, IsItsOwnOrAViewOfAnothers)
{
    const auto owner = std::make_shared<const std::vector<double>>(std::vector<double>{1, 2, 4, 8, 16, 32, 64});
    const Column all = Column::view(owner, owner->data(), 7), second = Column::view(owner, owner->data() + 1, 3, 2);
    EXPECT_EQ(second, Column({2, 8, 32}));
    EXPECT_EQ(second.times(0.5).times(4), Column({4, 16, 64}));
    EXPECT_EQ(Column::constant(3, 4), Column({3, 3, 3, 3}));
    EXPECT_FALSE(second == all);
    EXPECT_EQ(all.ownBytes() + second.times(2).ownBytes() + Column::constant(1, 1000).ownBytes(), 0u);
    EXPECT_EQ(Column({1, 2, 3}).ownBytes(), 24u);
    EXPECT_EQ(Column({1, 2, 3}).times(2).ownBytes(), 0u);
    for (double limit = 0; limit < 70; limit += 0.5) {
        EXPECT_EQ(all.firstNotBelow(limit),
                  std::size_t(std::lower_bound(owner->begin(), owner->end(), limit) - owner->begin()));
        EXPECT_EQ(all.firstAbove(limit),
                  std::size_t(std::upper_bound(owner->begin(), owner->end(), limit) - owner->begin()));
    }
    double sum = 0;
    second.each(1, 3, [&](double number) { sum += number; });
    EXPECT_EQ(sum, 40);
    EXPECT_EQ(Column().size(), 0u);
    Column kept; // what it is a view of stays as long as it
    {
        kept = Column({5, 6}).times(2);
    }
    EXPECT_EQ(kept, Column({10, 12}));
}

/// Whatever stands between the edges, the positions are those of the edges that were chosen; and what they share with
/// others takes no memory again: ten quantities of a record do not hold ten copies.
TEST(Pulses, SharePlacesWithTheEdgesTheyAreFoundAt)
{
    test::Gaussian random(4);
    for (const bool gaps : {false, true}) {
        EdgeList list;
        double at = 0;
        bool rising = true;
        for (int i = 0; i < 1000; ++i) {
            at += 10 + random();
            const bool gap = gaps && i % 97 == 50;
            if (!gap) rising = !rising; // behind a gap comes any edge
            list.positions.push_back(at);
            list.flags.push_back(std::uint8_t((rising ? EdgeList::rising : 0) | (gap ? EdgeList::afterGap : 0)));
        }
        const auto edges = std::make_shared<const EdgeList>(list);
        const TimeAxis axis{0, 1e-9, 20000};
        Progress progress;
        for (const EdgeChoice choice : {EdgeChoice::rising, EdgeChoice::falling, EdgeChoice::both}) {
            std::vector<double> places, spans;
            for (std::size_t i = 0; i + 2 < list.size(); ++i) {
                if (list.isAfterGap(i + 1) || list.isAfterGap(i + 2) || !chosen(choice, list.isRising(i))) continue;
                places.push_back(list.positions[i]);
                spans.push_back(list.positions[i + 2] - list.positions[i]);
            }
            const Population found = periods(edges, axis, choice, progress);
            EXPECT_EQ(found.position, Column(places)) << gaps;
            EXPECT_EQ(found.span, Column(spans)) << gaps;
            for (std::size_t i = 0; i < spans.size(); ++i) ASSERT_EQ(found.value[i], spans[i] * axis.interval);
            EXPECT_EQ(found.ownBytes(),
                      (gaps ? 16 : 0) * found.size()); // without gaps all of it is a view of the edges
            EXPECT_EQ(reciprocal(found).position, found.position);
        }
        const RawVector<double> instants(list.positions.begin(), list.positions.end());
        const auto transitions = std::make_shared<const Transitions>(
            Transitions{instants, instants, {list.flags.begin(), list.flags.end()}});
        EXPECT_EQ(transitionTimes(transitions, axis).ownBytes(), 0u);
        EXPECT_EQ(slewRates(transitions, axis, 1).ownBytes(), 8 * list.size());
        EXPECT_EQ(slewRates(transitions, axis, 2).value[3],
                  (list.isRising(3) ? 2 : -2) / (list.positions[3] * axis.interval));
    }
}
