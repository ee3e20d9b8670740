#include "edge_finder.h"
#include "signals.h"
#include "transition_finder.h"

#include <cmath>

using namespace fulvex;

namespace {

ReferenceLevels levelsOf(const SourcePtr &source, LevelRule rule = {})
{
    Progress progress;
    const SampleRange all{0, source->axis().count};
    return referenceLevels(surveyAmplitudes(*source, all, progress), rule);
}

EdgeList edgesOf(const SourcePtr &source, EdgeInterpolation interpolation = EdgeInterpolation::automatic)
{
    Progress progress;
    return findEdges(*source, {0, source->axis().count}, levelsOf(source), interpolation, progress);
}

} // namespace

/// The requirement: instants of a noise-free, band-limited, jitter-free data signal to 1e-3 of a sample rms.
TEST(EdgeFinder, BandLimitedDataIsFoundToAThousandthOfASample)
{
    for (const double samplesPerUi : {4.0, 4.37, 5.0, 6.3, 9.1, 16.2, 30.3}) {
        const test::Data data = test::makeBandLimitedData(samplesPerUi, 1500, 5);
        // The symmetric signal's middle is known; what is tested here are the instants.
        ReferenceLevels levels{{-0.4, 0.4}, -0.32, 0, 0.32, 0.08};
        Progress progress;
        const SourcePtr source = data.source();
        const EdgeList found =
            findEdges(*source, {0, source->axis().count}, levels, EdgeInterpolation::instants, progress);
        ASSERT_EQ(found.size(), data.edges.size()) << samplesPerUi;
        std::vector<double> errors;
        for (std::size_t i = 10; i + 10 < found.size(); ++i) errors.push_back(found.positions[i] - data.edges[i]);
        EXPECT_LT(test::rmsOf(errors), 1e-3) << samplesPerUi;
    }
}

TEST(EdgeFinder, SincIsChosenBelowFiveSamplesATransition)
{
    test::DataSpec spec;
    spec.samplesPerUi = 20;
    spec.edgeSigma = 0.15; // 10 to 90 % in 2.563 * 3 = 7.7 samples
    EXPECT_FALSE(edgesOf(test::makeData(spec).source()).interpolatedBySinc);
    spec.edgeSigma = 0.08; // 4.1 samples
    EXPECT_TRUE(edgesOf(test::makeData(spec).source()).interpolatedBySinc);
}

/// White noise of sigma_v moves a crossing by sigma_v over the slope, A / (sigma sqrt(2 pi)) for a Gaussian step.
TEST(EdgeFinder, NoiseMovesInstantsBySigmaOverSlope)
{
    for (const double noise : {0.002, 0.005, 0.01}) {
        test::DataSpec spec;
        spec.samplesPerUi = 40.377; // every phase between the samples
        spec.edgeSigma = 0.2;
        spec.noise = noise;
        spec.unitIntervals = 8000;
        const test::Data data = test::makeData(spec);
        const EdgeList found = edgesOf(data.source());
        ASSERT_EQ(found.size(), data.edges.size());
        std::vector<double> errors;
        for (std::size_t i = 0; i < found.size(); ++i) errors.push_back(found.positions[i] - data.edges[i]);
        const double slope = 0.8 / (0.2 * 40.377 * std::sqrt(2 * M_PI));
        // Between two noisy samples the straight line averages: variance 1/3 + (2/3) of one sample at a random phase.
        const double expected = noise / slope * std::sqrt(2.0 / 3);
        EXPECT_NEAR(test::rmsOf(errors), expected, 0.08 * expected) << noise;
    }
}

TEST(ReferenceLevels, HistogramFindsTheStatesOfNoisyData)
{
    for (const double noise : {0.0, 0.004, 0.02}) {
        test::DataSpec spec;
        spec.noise = noise;
        spec.low = -0.25;
        spec.high = 0.5;
        spec.unitIntervals = 3000;
        const ReferenceLevels levels = levelsOf(test::makeData(spec).source());
        const double tolerance = 0.75 / 1024 + 0.15 * noise; // a bin, and a mode's scatter
        EXPECT_NEAR(levels.states.low, -0.25, tolerance) << noise;
        EXPECT_NEAR(levels.states.high, 0.5, tolerance) << noise;
        EXPECT_NEAR(levels.mid, 0.125, tolerance) << noise;
        EXPECT_NEAR(levels.hysteresis, 0.075, tolerance) << noise;
    }
}

TEST(ReferenceLevels, ExtremesFixedAndAbsolute)
{
    const SourcePtr source = makeMemorySource({0, 1, 2, 3, 4}, 1);
    LevelRule rule;
    rule.states = LevelRule::States::extremes;
    EXPECT_DOUBLE_EQ(levelsOf(source, rule).high, 3.6);
    rule.states = LevelRule::States::fixed;
    rule.stateLow = 1;
    rule.stateHigh = 3;
    EXPECT_DOUBLE_EQ(levelsOf(source, rule).mid, 2);
    rule.kind = LevelRule::Kind::absolute;
    rule.low = 0.8, rule.mid = 1.65, rule.high = 2.5;
    rule.hysteresis = 0.3;
    EXPECT_EQ(levelsOf(source, rule).mid, 1.65);
    EXPECT_EQ(levelsOf(source, rule).hysteresis, 0.3);
}

/// A linear ramp from 0 to 1 over 100 samples passes 10 and 90 % exactly 80 samples apart.
TEST(Transitions, OfARampAreExact)
{
    std::vector<double> volts;
    for (int pulse = 0; pulse < 20; ++pulse) {
        volts.insert(volts.end(), 150, 0.0);
        for (int i = 0; i < 100; ++i) volts.push_back((i + 0.25) / 100);
        volts.insert(volts.end(), 150, 1.0);
        for (int i = 0; i < 50; ++i) volts.push_back(1 - (i + 0.25) / 50);
    }
    const SourcePtr source = makeMemorySource(volts, 1);
    Progress progress;
    const EdgeList edges = edgesOf(source);
    const auto rising =
        findTransitions(*source, {0, source->axis().count}, edges, levelsOf(source), EdgeChoice::rising, progress);
    const auto falling =
        findTransitions(*source, {0, source->axis().count}, edges, levelsOf(source), EdgeChoice::falling, progress);
    ASSERT_EQ(rising.size(), 20u);
    ASSERT_EQ(falling.size(), 20u);
    for (const double duration : rising.durations) EXPECT_NEAR(duration, 80, 0.1); // levels to a bin of 1/1024
    for (const double duration : falling.durations) EXPECT_NEAR(duration, 40, 0.05);
}

/// A Gaussian step rises from 10 to 90 % in 2 * 1.28155 sigma.
TEST(Transitions, OfGaussianEdgesFollowTheirSigma)
{
    for (const double samplesPerUi : {8.0, 12.0, 25.0, 60.0}) { // with and without sinc
        test::DataSpec spec;
        spec.samplesPerUi = samplesPerUi;
        spec.edgeSigma = 0.1;
        spec.unitIntervals = 2000;
        const test::Data data = test::makeData(spec);
        const SourcePtr source = data.source();
        Progress progress;
        const EdgeList edges = edgesOf(source);
        const auto found =
            findTransitions(*source, {0, source->axis().count}, edges, levelsOf(source), EdgeChoice::both, progress);
        const std::vector<double> durations(found.durations.begin(), found.durations.end());
        const double truth = 2 * 1.2815515655 * 0.1 * samplesPerUi;
        // On straight lines a level at z sigma is passed z / (12 sigma) samples farther out on average, since there
        // v'' / v' = z / sigma and the chord lies v'' / 12 off the curve. By sinc that is gone, but a sigma of 0.8
        // samples is not quite band-limited.
        const double chord = edges.interpolatedBySinc ? 0 : 2 * 1.28155 / (12 * 0.1 * samplesPerUi);
        EXPECT_NEAR(test::meanOf(durations), truth + chord, 0.004 * truth) << samplesPerUi;
        EXPECT_EQ(durations.size(), data.edges.size());
    }
}

TEST(Transitions, ARuntIsNone)
{
    std::vector<double> volts;
    for (const double top : {1.0, 0.3, 1.0}) {
        volts.insert(volts.end(), 50, 0.0);
        for (int i = 0; i <= 10; ++i) volts.push_back(top * i / 10);
        volts.insert(volts.end(), 50, top);
        for (int i = 10; i >= 0; --i) volts.push_back(top * i / 10);
    }
    const SourcePtr source = makeMemorySource(volts, 1);
    Progress progress;
    const auto found = findTransitions(*source, {0, source->axis().count}, edgesOf(source), levelsOf(source),
                                       EdgeChoice::rising, progress);
    EXPECT_EQ(found.size(), 2u);
}
