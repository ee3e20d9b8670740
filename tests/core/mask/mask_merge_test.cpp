#include "mask_test_run.h"
#include "signals.h"

#include <algorithm>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

MaskResult some(std::uint64_t seed, int failures)
{
    test::Gaussian random(seed);
    MaskResult result;
    result.unitIntervals = 1'000'000'000'000;
    result.areaHits = {failures, 2 * failures};
    result.hits = 3 * failures;
    result.failedUnitIntervals = failures;
    result.margin = -0.5 * random.uniform();
    std::vector<MaskFailure> all;
    for (int i = 0; i < failures; ++i) {
        const auto unit = std::int64_t(1e12 * random.uniform());
        all.push_back({double(unit) * 1e-9, unit, random.uniform(), double(unit) * 1e-9, int(i % 2)});
        result.spread.add(unit);
    }
    std::sort(all.begin(), all.end(), [](auto &a, auto &b) { return a.time < b.time; });
    result.failures = {all.begin(), all.begin() + std::min<std::ptrdiff_t>(failures, MaskResult::keptFailures)};
    std::sort(all.begin(), all.end(), [](auto &a, auto &b) { return a.deepest > b.deepest; });
    result.worst = {all.begin(), all.begin() + std::min<std::ptrdiff_t>(failures, MaskResult::keptFailures)};
    return result;
}

MaskResult merged(std::initializer_list<MaskResult> parts)
{
    MaskResult all;
    for (const MaskResult &part : parts) all.merge(part);
    return all;
}

} // namespace

TEST(MaskMerge, AnyOrderAndGroupingIsTheSameAndNothingGrowsWithoutBound)
{
    const MaskResult a = some(1, 1500), b = some(2, 40), c = some(3, 2500);
    const MaskResult abc = merged({a, b, c});
    for (const MaskResult &other : {merged({c, a, b}), merged({b, merged({c, a})}), merged({merged({a, b}), c})}) {
        EXPECT_EQ(other.hits, abc.hits);
        EXPECT_EQ(other.areaHits, abc.areaHits);
        EXPECT_EQ(other.margin, abc.margin);
        EXPECT_EQ(other.failedUnitIntervals, 4040);
        EXPECT_EQ(other.spread.counts, abc.spread.counts);
        EXPECT_EQ(other.spread.shift, abc.spread.shift);
        ASSERT_EQ(other.failures.size(), MaskResult::keptFailures);
        ASSERT_EQ(other.worst.size(), MaskResult::keptFailures);
        for (std::size_t i = 0; i < MaskResult::keptFailures; ++i) {
            ASSERT_EQ(other.failures[i].time, abc.failures[i].time);
            ASSERT_EQ(other.worst[i].deepest, abc.worst[i].deepest);
        }
    }
    EXPECT_LE(abc.spread.counts.size(), FailureSpread::most);
    std::int64_t counted = 0;
    for (const std::int64_t count : abc.spread.counts) counted += count;
    EXPECT_EQ(counted, 4040);
    EXPECT_TRUE(std::is_sorted(abc.failures.begin(), abc.failures.end(), [](auto &x, auto &y) { return x.time < y.time; }));
}

TEST(MaskMerge, TheSpreadTellsWhereFailuresLie)
{
    FailureSpread spread;
    for (std::int64_t n = 0; n < 100; ++n) spread.add(n);
    EXPECT_EQ(spread.shift, 0);
    EXPECT_EQ(spread.counts, std::vector<std::int64_t>(100, 1));
    spread.add(1'000'000);
    EXPECT_EQ(spread.shift, 8); // 2^8 * 4096 is the first that holds it
    EXPECT_EQ(spread.counts[0], 100);
    EXPECT_EQ(spread.counts[1'000'000 >> 8], 1);
}
