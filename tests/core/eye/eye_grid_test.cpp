// Eyes of unlike captures add up; slow clocks are folded sample by sample to the same eye.

#include "clock_recovery.h"
#include "edge_finder.h"
#include "eye_fold.h"
#include "eye_quantities.h"
#include "signals.h"
#include "sinc_kernel.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

using namespace fulvex;

namespace {

std::uint64_t total(const EyeCounts &counts)
{
    std::uint64_t sum = 0;
    for (const std::uint64_t count : counts.counts) sum += count;
    return sum;
}

EyeFold foldOf(double low, double high, double samplesPerUi, std::uint64_t seed, Room room = Room::laid)
{
    test::DataSpec spec;
    spec.low = low;
    spec.high = high;
    spec.samplesPerUi = samplesPerUi;
    spec.unitIntervals = 800;
    spec.noise = 0.01 * (high - low);
    spec.seed = seed;
    const test::Data data = test::makeData(spec);
    const SourcePtr source = data.source();
    const double mid = (low + high) / 2;
    ReferenceLevels levels{{low, high}, low + 0.1 * (high - low), mid, high - 0.1 * (high - low), 0.1 * (high - low)};
    Progress progress;
    auto edges = std::make_shared<EdgeList>(
        findEdges(*source, {0, source->axis().count}, levels, EdgeInterpolation::linear, progress));
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(*edges, {}, progress));
    const Clock clock = fixedClock(edges, timing, source->axis(), {});
    const auto [least, most] = std::minmax_element(data.volts.begin(), data.volts.end());
    EyeRule rule{{mid}, *least, *most, 0, clock.map.unitIntervals(), automaticInterpolation(samplesPerUi)};
    rule.room = room;
    rule.curves = 300;
    return foldEye(source, clock.map, rule, progress);
}

} // namespace

TEST(EyeGrid, UnlikeCapturesInAnyOrderAndGroupingAreOneRun)
{
    const EyeFold a = foldOf(-0.4, 0.4, 12.3, 1), b = foldOf(-0.02, 0.05, 11.7, 2), c = foldOf(1.0, 4.3, 6.1, 3),
                  d = foldOf(-0.41, 0.39, 12.3, 4);
    const EyeFold all = EyeFold::merged({&a, &b, &c, &d});
    EXPECT_EQ(total(all.picture), total(a.picture) + total(b.picture) + total(c.picture) + total(d.picture));
    EXPECT_EQ(all.unitIntervals, a.unitIntervals + b.unitIntervals + c.unitIntervals + d.unitIntervals);
    const auto same = [&](const EyeFold &other) {
        EXPECT_EQ(other.picture.counts, all.picture.counts);
        EXPECT_EQ(other.picture.rows.exponent, all.picture.rows.exponent);
        EXPECT_EQ(other.picture.rows.first, all.picture.rows.first);
        EXPECT_TRUE((other.sum <=> all.sum) == 0); // to the last bit
        EXPECT_EQ(other.samplesPerUnitInterval, all.samplesPerUnitInterval);
    };
    EyeFold left = d, right = c;
    left.merge(b);
    right.merge(a);
    left.merge(right); // (d b) (c a)
    same(left);
    EyeFold one = b;
    for (const EyeFold *next : {&c, &a, &d}) one.merge(*next);
    same(one);
    // The height of an opening says what it did: each record's levels lie where they were.
    EXPECT_LE(all.picture.rows.low(), -0.41);
    EXPECT_GE(all.picture.rows.high(), 4.3);
}

TEST(EyeGrid, AFinerGridsCellsMakeUpACoarserOnes)
{
    // The same samples on the grid of their own extremes and on that of far wider ones.
    test::Gaussian random(5);
    EyeCounts own = EyeCounts::laidFor(-1, 1, 256), wide = EyeCounts::laidFor(-37, 900, 256);
    for (int i = 0; i < 20000; ++i) {
        const double v = std::clamp(0.4 * random(), -1.0, 1.0);
        const auto place = [&](EyeCounts &grid) {
            const std::int64_t row = grid.rows.binOf(v);
            ++grid.counts[std::size_t(row * grid.columns + i % grid.columns)];
        };
        place(own);
        place(wide);
    }
    EyeCounts empty = EyeCounts::laidFor(-37, 900, 256);
    EXPECT_EQ(EyeCounts::merged({&own, &empty}).counts, wide.counts);
    EXPECT_EQ(EyeCounts::merged({&empty, &own}).counts, wide.counts);
}

TEST(EyeGrid, HasRoomForAllThatInterpolationPutsBeyondTheSamples)
{
    // Of samples within one span of each other a filter makes at most (sum of |weights| - 1) / 2 spans more.
    for (int phase = 0; phase <= 64; ++phase) {
        double sum = 0;
        for (const double weight : SincKernel::row(phase / 64.0)) sum += std::abs(weight);
        EXPECT_LT((sum - 1) / 2, 1) << phase;
    }
    for (const auto &[least, most] :
         {std::pair(-1.0, 1.0), {0.0, 1e-12}, {1e6, 1e6 + 1}, {-3e140, 2e149}, {5.0, 5.0}}) {
        const EyeCounts grid = EyeCounts::laidFor(least, most, 256);
        EXPECT_LE(grid.rows.low(), least - (most - least));
        EXPECT_GT(grid.rows.high(), most + (most - least));
        EXPECT_LE(grid.rows.count, 780);
    }
}

TEST(SlowEye, FoldedSampleBySampleIsTheSameEye)
{
    // 76 800 samples a unit interval go the slow way, the same signal at a hundredth of the rate the fast one: three
    // samples a column.
    test::DataSpec spec;
    spec.unitIntervals = 60;
    spec.noise = 0;
    Progress progress;
    EyeFold folds[2];
    for (const bool slow : {false, true}) {
        spec.samplesPerUi = slow ? 76'800 : 768;
        spec.offset = slow ? 337 : 3.37;
        const test::Data data = test::makeData(spec);
        const SourcePtr source = data.source();
        ReferenceLevels levels{{-0.4, 0.4}, -0.32, 0, 0.32, 0.08};
        auto edges = std::make_shared<EdgeList>(
            findEdges(*source, {0, source->axis().count}, levels, EdgeInterpolation::linear, progress));
        auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(*edges, {}, progress));
        const Clock clock = fixedClock(edges, timing, source->axis(), {});
        folds[slow] = foldEye(source, clock.map, {{0}, -0.4, 0.4, 0, clock.map.unitIntervals(), 1}, progress);
    }
    ASSERT_EQ(folds[0].unitIntervals, folds[1].unitIntervals);
    EXPECT_EQ(std::int64_t(total(folds[1].picture)), folds[1].samples);
    EXPECT_NEAR(folds[1].one().mean, folds[0].one().mean, 1e-6);
    EXPECT_NEAR(folds[1].zero().mean, folds[0].zero().mean, 1e-6);
    EXPECT_NEAR(folds[1].one().count, 100 * folds[0].one().count, 100.0 * 60);
    EXPECT_NEAR(folds[1].crossing(), folds[0].crossing(), 2e-3);
    ASSERT_EQ(folds[0].picture.rows.count, folds[1].picture.rows.count);
    double off = 0;
    for (std::size_t i = 0; i < folds[0].picture.counts.size(); ++i)
        off += std::abs(100.0 * double(folds[0].picture.counts[i]) - double(folds[1].picture.counts[i]));
    // One of three samples a column stands for a hundred that a transition spreads over rows: of some tenth of them
    // all.
    EXPECT_LT(off / double(folds[1].samples), 0.1);
}

TEST(EyeGrid, OnesWithoutEmptyRowsAddUpToTheSame)
{
    const EyeFold a = foldOf(-0.4, 0.4, 12.3, 1), b = foldOf(-0.02, 0.05, 6.1, 2);
    const EyeFold smallA = EyeFold::merged({&a}, Room::none), smallB = EyeFold::merged({&b}, Room::none);
    EXPECT_LT(2 * smallA.picture.counts.size(), a.picture.counts.size()); // two of three thirds are room
    EXPECT_EQ(total(smallA.picture), total(a.picture));
    const EyeFold all = EyeFold::merged({&a, &b});
    for (const auto &some : {std::pair(&smallA, &b), std::pair(&a, &smallB), std::pair(&smallA, &smallB)}) {
        const EyeFold sum = EyeFold::merged({some.first, some.second});
        EXPECT_EQ(sum.picture.rows, all.picture.rows);
        EXPECT_EQ(sum.picture.counts, all.picture.counts);
        EXPECT_EQ(sum.curves.counts.counts, all.curves.counts.counts);
        EXPECT_EQ(sum.parts, all.parts);
        EXPECT_EQ(sum.stretches, all.stretches);
    }
    EXPECT_EQ(EyeFold::merged({&smallA}).picture.counts, a.picture.counts);
    const EyeFold counted = foldOf(-0.4, 0.4, 12.3, 1, Room::none);
    EXPECT_EQ(counted.picture.rows, smallA.picture.rows);
    EXPECT_EQ(counted.picture.counts, smallA.picture.counts);
    EXPECT_LT(2 * counted.curves.counts.counts.size(), a.curves.counts.counts.size());
    const EyeFold laid = EyeFold::merged({&counted});
    EXPECT_EQ(laid.picture.counts, a.picture.counts);
    EXPECT_EQ(laid.curves.counts.counts, a.curves.counts.counts);
    EXPECT_EQ(EyeFold::merged({&smallA, &smallB}, Room::none).picture.counts,
              EyeFold::merged({&all}, Room::none).picture.counts);
    EXPECT_EQ(total(EyeFold::merged({&smallA, &smallA}).picture), 2 * total(a.picture));
    const EyeFold nothing;
    EXPECT_TRUE(EyeFold::merged({&nothing}, Room::none).picture.counts.empty());
    const EyeCounts none = EyeCounts::laidFor(0, 1, 4); // of nothing that was counted
    EXPECT_EQ(EyeCounts::merged({&none}).rows, none.rows);
    const EyeCounts little = EyeCounts::merged({&none}, Room::none);
    EXPECT_EQ(EyeCounts::merged({&little}).counts, none.counts);
}

/// All samples may lie in one cell: its count of 32 bits is emptied before it can be full.
TEST(EyeCounter, LosesNoneOfMoreThanItsCountsHold)
{
    EyeCounts picture = EyeCounts::laidOut(0, 1, 4, 4);
    EyeCounter counter(picture);
    constexpr std::int64_t some = std::int64_t(1) << 31;
    constexpr std::size_t cell = 5;
    for (int turn = 0; turn < 5; ++turn) counter.expect(some)[cell] += std::uint32_t(some);
    picture.keep({0, picture.rows.count});
    counter.addTo(picture, 0);
    EXPECT_EQ(picture.counts[cell], std::uint64_t(5 * some));
    EXPECT_EQ(std::accumulate(picture.counts.begin(), picture.counts.end(), std::uint64_t(0)), std::uint64_t(5 * some));
}
