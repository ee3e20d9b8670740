#include "clock_recovery.h"
#include "eye_quantities.h"
#include "signals.h"

#include <cmath>

using namespace fulvex;

namespace {

struct Folded {
    test::Data data;
    SourcePtr source;
    std::shared_ptr<const EdgeList> edges;
    std::shared_ptr<const Clock> clock;
    EyeRule rule;
    EyeFold fold;
    EyeCrossings crossings;
};

Folded folded(const test::DataSpec &spec, int interpolation = 0)
{
    Folded f;
    f.data = test::makeData(spec);
    f.source = f.data.source();
    ReferenceLevels levels{{spec.low, spec.high}, 0, (spec.low + spec.high) / 2, 0, 0.1 * (spec.high - spec.low)};
    levels.low = spec.low + 0.1 * (spec.high - spec.low);
    levels.high = spec.high - 0.1 * (spec.high - spec.low);
    Progress progress;
    f.edges = std::make_shared<EdgeList>(
        findEdges(*f.source, {0, f.source->axis().count}, levels, EdgeInterpolation::automatic, progress));
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(*f.edges, {}, progress));
    f.clock = std::make_shared<Clock>(fixedClock(f.edges, timing, f.source->axis(), {}));
    f.rule = {{levels.mid},
              spec.low - 0.2,
              spec.high + 0.2,
              0,
              f.clock->map.unitIntervals(),
              interpolation ? interpolation : automaticInterpolation(spec.samplesPerUi)};
    f.fold = foldEye(f.source, f.clock->map, f.rule, progress);
    f.crossings = eyeCrossings(f.source, f.clock->map, f.fold.crossing(), levels.hysteresis,
                               EdgeInterpolation::automatic, 0, f.rule.last, progress);
    return f;
}

EyeQuantities quantitiesOf(const Folded &f)
{
    return {f.fold, &f.crossings, f.clock->map.period() * 1e-10};
}

} // namespace

/// With edges of 0.05 UI the middle fifth has settled: one and zero are the states, their noise the noise, and
/// height = swing - 6 sigma. Tolerances: four standard errors.
TEST(Eye, LevelsNoiseAndHeightOfSettledData)
{
    for (const double samplesPerUi : {9.7, 12.5, 33.3}) {
        for (const double noise : {0.005, 0.02}) {
            test::DataSpec spec;
            spec.samplesPerUi = samplesPerUi;
            spec.edgeSigma = 0.05;
            spec.noise = noise;
            spec.low = -0.3;
            spec.high = 0.5;
            spec.unitIntervals = 5000;
            const Folded f = folded(spec);
            const EyeQuantities q = quantitiesOf(f);
            const double n = f.fold.one().count, error = noise / std::sqrt(n);
            EXPECT_NEAR(n, 0.2 * samplesPerUi * 2500, 0.1 * 0.2 * samplesPerUi * 2500);
            EXPECT_NEAR(q.oneLevel().value, 0.5, 4 * error);
            EXPECT_NEAR(q.zeroLevel().value, -0.3, 4 * error);
            EXPECT_NEAR(q.oneNoise().value, noise, 4 * error);
            EXPECT_NEAR(q.height().value, 0.8 - 6 * noise, 4 * *q.height().statistics().uncertainty);
            // Told by 24 stretches, of which 23 are free: 1 / sqrt(46) of it, three times that.
            EXPECT_NEAR(*q.height().statistics().uncertainty / (std::sqrt(11.0) * error), 1, 3 / std::sqrt(46.0));
            EXPECT_NEAR(q.qFactor().value, 0.8 / (2 * noise), 4 * *q.qFactor().statistics().uncertainty);
            EXPECT_NEAR(q.signalToNoise().value, 20 * std::log10(0.8 / (2 * noise)),
                        4 * *q.signalToNoise().statistics().uncertainty);
            EXPECT_NEAR(q.crossingLevel().value, 50, 0.5);
        }
    }
}

/// Jitter of sigma at every crossing: width = UI - 6 sigma. The fitted clock takes up next to nothing of it.
TEST(Eye, WidthFollowsTheJitter)
{
    for (const double jitter : {0.01, 0.03}) {
        test::DataSpec spec;
        spec.randomJitter = jitter;
        spec.unitIntervals = 20000;
        spec.samplesPerUi = 20;
        spec.edgeSigma = 0.1;
        const Folded f = folded(spec);
        const EyeQuantities q = quantitiesOf(f);
        const double unit = 20e-10;
        EXPECT_NEAR(q.width().value, unit * (1 - 6 * jitter), 4 * *q.width().statistics().uncertainty);
        EXPECT_NEAR(q.jitterRms().value, unit * jitter, 4 * *q.jitterRms().statistics().uncertainty);
        EXPECT_GT(q.jitterPeakToPeak().value, 6 * unit * jitter);
    }
}

/// A rising edge late and a falling edge early by d/2 cross at a lower level: both mean traces pass it at the boundary,
/// at the height a Gaussian step has d/2 before its middle.
TEST(Eye, CrossingLevelMovesWithDutyCycleDistortion)
{
    for (const double distortion : {0.04, -0.06}) {
        test::DataSpec spec;
        spec.dutyDistortion = distortion;
        spec.edgeSigma = 0.12;
        spec.samplesPerUi = 31.7;
        const Folded f = folded(spec);
        const EyeQuantities q = quantitiesOf(f);
        const double truth = 100 * 0.5 * std::erfc(distortion / 2 / 0.12 / std::sqrt(2.0));
        EXPECT_NEAR(q.crossingLevel().value, truth, 0.6) << distortion;
    }
}

TEST(Eye, CountsEverySampleOnceAndMergesExactly)
{
    test::DataSpec spec;
    spec.noise = 0.02;
    spec.unitIntervals = 30000; // several chunks
    const Folded f = folded(spec);
    std::uint64_t counted = 0;
    for (const std::uint64_t count : f.fold.picture.counts) counted += count;
    EXPECT_EQ(std::int64_t(counted), f.fold.samples);
    EXPECT_NEAR(double(f.fold.samples), double(f.fold.unitIntervals) * spec.samplesPerUi, spec.samplesPerUi);

    Progress progress;
    EyeRule first = f.rule, second = f.rule;
    first.last = second.first = 11111;
    EyeFold parts = foldEye(f.source, f.clock->map, first, progress);
    parts.merge(foldEye(f.source, f.clock->map, second, progress));
    EXPECT_EQ(parts.picture.counts, f.fold.picture.counts);
    EXPECT_EQ(parts.samples, f.fold.samples);
    EXPECT_EQ(parts.unitIntervals, f.fold.unitIntervals);
    EXPECT_EQ(parts.one().count, f.fold.one().count);
    EXPECT_NEAR(parts.one().mean, f.fold.one().mean, 1e-14);
    EXPECT_NEAR(parts.zero().std(), f.fold.zero().std(), 1e-13);
}

TEST(Eye, FewSamplesAUnitIntervalAreInterpolated)
{
    const test::Data data = test::makeBandLimitedData(4, 4000, 2);
    const SourcePtr source = data.source();
    ReferenceLevels levels{{-0.4, 0.4}, -0.32, 0, 0.32, 0.08};
    Progress progress;
    auto edges = std::make_shared<EdgeList>(
        findEdges(*source, {0, source->axis().count}, levels, EdgeInterpolation::automatic, progress));
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(*edges, {}, progress));
    const Clock clock = fixedClock(edges, timing, source->axis(), {});
    const EyeFold fold = foldEye(source, clock.map, {{0}, -0.6, 0.6, 20, 3980, automaticInterpolation(4)}, progress);
    EXPECT_EQ(fold.interpolation, 4);
    EXPECT_NEAR(double(fold.samples), 3960 * 4, 2); // the capture's own
    // At the middle of a raised-cosine eye every symbol passes exactly through its level; at 0.4 and 0.6 UI it is near.
    EXPECT_NEAR(fold.one().mean, 0.4, 0.02);
    EXPECT_NEAR(fold.zero().mean, -0.4, 0.02);
}

TEST(Eye, WithoutTransitionsSaysWhy)
{
    EyeFold fold;
    EXPECT_THAT((EyeQuantities{fold, nullptr, 1}).oneLevel().reason, testing::HasSubstr("middle fifth"));
    EXPECT_THAT((EyeQuantities{fold, nullptr, 1}).width().reason,
                testing::HasSubstr("no rising and falling transitions"));
}
