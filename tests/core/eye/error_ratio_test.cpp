#include "error_ratio.h"
#include "signals.h"
#include "sinc_kernel.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

double beyond(double q)
{
    return 0.5 * std::erfc(q / std::numbers::sqrt2);
}

struct MeasuredRatio {
    EyeErrorRatio ratios;
    std::vector<double> levels;
    double noise;
    /// By the levels and the noise alone, at the middle of unit intervals whose edges are short.
    double truth(double level, std::size_t opening) const
    {
        double sum = 0;
        for (std::size_t symbol = 0; symbol < levels.size(); ++symbol)
            sum +=
                symbol <= opening ? beyond((level - levels[symbol]) / noise) : beyond((levels[symbol] - level) / noise);
        return sum / double(levels.size());
    }
};

MeasuredRatio measure(std::vector<double> levels, double noise, std::int64_t unitIntervals, std::uint64_t seed)
{
    test::DataSpec spec;
    spec.samplesPerUi = 8.1;
    spec.unitIntervals = unitIntervals;
    spec.levels = levels;
    spec.edgeSigma = 0.13; // a sample: less would ring between samples
    spec.noise = noise;
    spec.seed = seed;
    const test::Data data = test::makeData(spec);
    const SourcePtr source = data.source(1e-10);
    EyeRule rule;
    rule.thresholds.clear();
    for (std::size_t i = 1; i < levels.size(); ++i) rule.thresholds.push_back((levels[i - 1] + levels[i]) / 2);
    rule.least = *std::min_element(data.volts.begin(), data.volts.end());
    rule.most = *std::max_element(data.volts.begin(), data.volts.end());
    rule.first = 5;
    rule.last = unitIntervals - 5;
    Progress progress;
    return {
        errorRatios(source, UnitIntervalMap(source->axis(), spec.offset, spec.samplesPerUi), rule, 1 << 22, progress),
        std::move(levels), noise};
}

} // namespace

/// Beside the decision, where what is counted follows from levels and noise: within four standard deviations of the
/// count. Symbols are told by the middle of the same curve, so the decision itself is no test of it.
TEST(EyeErrorRatios, AreCountedWhereTheyAreSeen)
{
    for (const std::vector<double> &levels : {std::vector{-0.4, 0.4}, {0.0, 0.5, 1.0}, {-0.6, -0.2, 0.2, 0.6}}) {
        const double apart = levels[1] - levels[0], noise = apart / 20;
        const MeasuredRatio all = measure(levels, noise, 60000, levels.size());
        EXPECT_GT(all.ratios.unitIntervals, 59900);
        for (std::size_t opening = 0; opening + 1 < levels.size(); ++opening) {
            for (const double sigmas : {1.0, 2.0, 2.8}) {
                for (const double level : {levels[opening] + sigmas * noise, levels[opening + 1] - sigmas * noise}) {
                    const auto found = all.ratios.at(EyeErrorRatio::columns / 2, level, opening);
                    ASSERT_TRUE(found);
                    EXPECT_TRUE(found->measured);
                    const double truth = all.truth(level, opening);
                    // The curve between samples is as noisy as these but for what straight lines take off it; a row is
                    // a tenth of the noise high.
                    EXPECT_NEAR(found->value / truth, 1, 4 / std::sqrt(truth * 60000) + 0.25) << sigmas << " " << level;
                }
            }
        }
    }
}

/// Farther off it is told by the tails. White noise that is interpolated is a little smaller between samples than at
/// them, by the root of the sum of the kernel's squared weights: that is the truth of the curve. The outermost
/// twentieth (1500 of 30000 symbols) tells how fast a tail falls to 1 / sqrt(1500), and with that a level's deviations.
TEST(EyeErrorRatios, AreExtrapolatedWhereTheyAreNot)
{
    const auto ofCurve = [](double sigmas) {
        double sum = 0;
        constexpr int places = 64;
        for (int i = 0; i < places; ++i) {
            double squares = 0;
            for (const double weight : SincKernel::row((i + 0.5) / places)) squares += weight * weight;
            sum += beyond(sigmas / std::sqrt(squares)) / places;
        }
        return sum;
    };
    for (const std::uint64_t seed : {1u, 2u, 3u, 4u, 5u}) {
        const MeasuredRatio all = measure({-0.4, 0.4}, 0.04, 60000, seed);
        for (const double sigmas : {5.0, 6.0, 7.0}) {
            const double level = -0.4 + sigmas * 0.04;
            const auto found = all.ratios.at(EyeErrorRatio::columns / 2, level, 0);
            ASSERT_TRUE(found);
            EXPECT_FALSE(found->measured);
            const double stray = (sigmas - 1.645) / std::sqrt(1500);
            const double decades = std::log10(beyond(sigmas - 4 * stray) / beyond(sigmas));
            EXPECT_NEAR(std::log10(found->value / (ofCurve(sigmas) / 2)), 0, decades) << sigmas << " " << seed;
        }
    }
}

TEST(EyeErrorRatios, ContoursLieInEachOtherAndSayWhichWereMeasured)
{
    const MeasuredRatio all = measure({-0.4, 0.4}, 0.04, 60000, 7);
    const auto height = [&](double ratio) {
        const EyeErrorRatio::Contour contour = all.ratios.contour(ratio, 0);
        double high = 0, low = 0;
        for (const auto &[phase, level] : contour.points) {
            if (std::abs(phase - 0.5) > 0.01) continue;
            high = std::max(high, level);
            low = std::min(low, level);
        }
        EXPECT_EQ(contour.measured, ratio > 1e-4);
        return high - low;
    };
    double before = 0.8;
    for (const double ratio : {1e-2, 1e-3, 1e-6, 1e-9}) {
        const double now = height(ratio);
        EXPECT_GT(now, 0.1);
        EXPECT_LT(now, before) << ratio;
        before = now;
    }
    // 1e-3 of all symbols is 2e-3 of the ones: 2.878 sigma from either level.
    EXPECT_NEAR(height(1e-3), 0.8 - 2 * 2.878 * 0.04, 0.02);
    EXPECT_TRUE(all.ratios.contour(1e-60, 0).points.empty());
    EXPECT_TRUE(all.ratios.contour(1e-3, 1).points.empty()) << "there is one opening";
    EXPECT_FALSE(all.ratios.at(99, 0, 0));
}
