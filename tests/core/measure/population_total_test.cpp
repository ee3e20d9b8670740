#include "population_total.h"
#include "signals.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace fulvex {
namespace {

Measured measuredOf(const std::vector<double> &values, double interval = 1e-9)
{
    PopulationBuilder population({0, interval, std::int64_t(10 * values.size())});
    for (std::size_t i = 0; i < values.size(); ++i) population.add(10 * double(i), 1, values[i]);
    Measured measured;
    measured.population = population.take();
    return measured;
}

std::vector<double> valuesOf(std::uint64_t seed, std::size_t count, double mean, double std)
{
    test::Gaussian chance{seed};
    std::vector<double> values;
    for (std::size_t i = 0; i < count; ++i) values.push_back(mean + std * chance());
    return values;
}

/// Captures of unlike lengths, means and spreads.
struct Captures {
    std::vector<double> all;
    std::vector<PopulationTotal> totals;
    explicit Captures(std::size_t count)
    {
        for (std::size_t i = 0; i < count; ++i) {
            const auto values =
                valuesOf(i + 1, 50 + 37 * i, 1e-9 * (1 + 0.01 * double(i % 5)), 1e-12 * double(1 + i % 7));
            all.insert(all.end(), values.begin(), values.end());
            totals.push_back(PopulationTotal::of(measuredOf(values), "capture " + std::to_string(1000 + i)));
        }
    }
    PopulationTotal together() const
    {
        std::vector<const PopulationTotal *> some;
        for (const PopulationTotal &one : totals) some.push_back(&one);
        return PopulationTotal::merged(some);
    }
};

void expectSame(const PopulationTotal &a, const PopulationTotal &b)
{
    EXPECT_EQ(a.records, b.records);
    EXPECT_EQ(a.bins, b.bins);
    EXPECT_EQ(a.counts, b.counts);
    EXPECT_EQ(a.lowest, b.lowest);
    EXPECT_EQ(a.highest, b.highest);
    EXPECT_EQ(a.parts, b.parts);
    EXPECT_EQ(a.statistics().mean, b.statistics().mean);
    EXPECT_EQ(a.statistics().std, b.statistics().std);
    EXPECT_EQ(a.statistics().uncertainty, b.statistics().uncertainty);
}

TEST(PopulationTotal, IsTheSameInAnyOrderAndGrouping)
{
    const Captures captures(23);
    const PopulationTotal all = captures.together();
    std::mt19937 random(7);
    for (int trial = 0; trial < 20; ++trial) {
        std::vector<PopulationTotal> left = captures.totals;
        while (left.size() > 1) { // some of them, anywhere, together
            std::shuffle(left.begin(), left.end(), random);
            const std::size_t some = std::min<std::size_t>(left.size(), 2 + random() % 4);
            std::vector<const PopulationTotal *> together;
            for (std::size_t i = 0; i < some; ++i) together.push_back(&left[i]);
            PopulationTotal one = PopulationTotal::merged(together);
            left.erase(left.begin(), left.begin() + std::ptrdiff_t(some));
            left.push_back(std::move(one));
        }
        expectSame(left.front(), all);
    }
}

TEST(PopulationTotal, TellsWhatAllValuesTogetherTell)
{
    const Captures captures(40);
    const PopulationTotal all = captures.together();
    const Statistics found = all.statistics(), truth = measuredOf(captures.all).statistics();
    EXPECT_EQ(found.count, truth.count);
    EXPECT_EQ(found.min, truth.min);
    EXPECT_EQ(found.max, truth.max);
    EXPECT_EQ(found.last, captures.all.back());
    EXPECT_NEAR(*found.mean / *truth.mean, 1, 1e-12);
    EXPECT_NEAR(*found.std / *truth.std, 1, 1e-9); // digits of the mean go into its squares
    std::vector<double> sorted = captures.all;
    std::sort(sorted.begin(), sorted.end());
    std::uint64_t below = 0; // as many lie below each bin's border as do
    for (std::size_t bin = 0; bin < all.counts.size(); ++bin) {
        const auto first =
            std::lower_bound(sorted.begin(), sorted.end(), all.bins.low() + double(bin) * all.bins.width());
        ASSERT_EQ(below, std::uint64_t(first - sorted.begin()));
        below += all.counts[bin];
    }
    for (std::size_t i = 0; i < PopulationTotal::keptExamples; ++i) {
        EXPECT_EQ(all.lowest[i].value, sorted[i]);
        EXPECT_EQ(all.highest[i].value, sorted[sorted.size() - 1 - i]);
    }
    std::int64_t shown = 0;
    for (const std::int64_t count : all.histogram().counts) shown += count;
    EXPECT_EQ(shown, found.count);
    EXPECT_LE(all.histogram().low, *found.min);
    EXPECT_GE(all.histogram().high, *found.max);
}

TEST(PopulationTotal, ItsUncertaintyHoldsForMeansOfCapturesThatDiffer)
{
    // Each capture's mean is off by ten times what its own values scatter it: their own say too little.
    constexpr int seeds = 300, captures = 25;
    int held = 0;
    for (int seed = 0; seed < seeds; ++seed) {
        test::Gaussian drift{std::uint64_t(9000 + seed)};
        std::vector<PopulationTotal> totals;
        std::vector<const PopulationTotal *> some;
        for (int i = 0; i < captures; ++i)
            totals.push_back(PopulationTotal::of(
                measuredOf(valuesOf(std::uint64_t(seed * 100 + i + 1), 100, 5 + drift(), 1)), std::to_string(i)));
        for (const PopulationTotal &one : totals) some.push_back(&one);
        const Statistics found = PopulationTotal::merged(some).statistics();
        held += std::abs(*found.mean - 5) <= 2 * *found.uncertainty;
    }
    // Student's t of 24 degrees within two: 94.3 %; three standard deviations of the count below that.
    EXPECT_GE(held, int(seeds * 0.943 - 3 * std::sqrt(seeds * 0.943 * 0.057)));
}

TEST(PopulationTotal, HoldsSingleNumbersReasonsAndNothing)
{
    const PopulationTotal one = PopulationTotal::of(Measured::one(3.5, {{"noise", 0.1}}), "a");
    const PopulationTotal two = PopulationTotal::of(Measured::one(4.5, {{"noise", 0.3}}), "b");
    const PopulationTotal none = PopulationTotal::of(Measured::none("no edges"), "c");
    const PopulationTotal all = PopulationTotal::merged({&two, &none, &one});
    EXPECT_TRUE(all.single);
    EXPECT_EQ(all.statistics().count, 2);
    EXPECT_EQ(all.statistics().mean, 4);
    EXPECT_EQ(all.statistics().last, 4.5);
    EXPECT_EQ(all.records.size(), 3u);
    EXPECT_EQ(all.records[2].reason, "no edges");
    ASSERT_EQ(all.parts.size(), 1u);
    EXPECT_EQ(all.parts[0].second, 0.3);
    EXPECT_EQ(none.statistics().count, 0);
    EXPECT_TRUE(none.histogram().counts.empty());
    EXPECT_EQ(PopulationTotal::merged({}).records.size(), 0u);
    const PopulationTotal constant = PopulationTotal::of(measuredOf({7, 7, 7}), "d");
    EXPECT_EQ(constant.statistics().std, 0);
    EXPECT_EQ(constant.counts, std::vector<std::uint64_t>{3});
}

TEST(PopulationTotal, OfOneCaptureMergedManyTimesCountsOn)
{
    const PopulationTotal one = PopulationTotal::of(measuredOf(valuesOf(1, 1000, 1, 0.1)), "a");
    PopulationTotal all = one;
    for (int i = 0; i < 12; ++i) all = PopulationTotal::merged({&all, &all});
    EXPECT_EQ(all.statistics().count, 4096 * 1000);
    EXPECT_NEAR(*all.statistics().mean, *one.statistics().mean, 1e-12);
    EXPECT_EQ(all.bins, one.bins);
}

} // namespace
} // namespace fulvex
