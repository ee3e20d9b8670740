#include "alignment.h"
#include "cross_correlation.h"
#include "signals.h"

#include <cmath>
#include <gmock/gmock.h>
#include <numbers>

using namespace fulvex;

namespace {

/// Band-limited noise: a sum of sines within 0.3 of the sample rate, exact at any instant.
struct Sines {
    std::vector<double> frequency, phase;
    explicit Sines(std::uint64_t seed)
    {
        test::Gaussian random(seed);
        for (int i = 0; i < 60; ++i) {
            frequency.push_back(0.005 + 0.295 * random.uniform()); // per sample
            phase.push_back(2 * std::numbers::pi * random.uniform());
        }
    }
    double at(double sample) const
    {
        double sum = 0;
        for (std::size_t i = 0; i < frequency.size(); ++i)
            sum += std::sin(2 * std::numbers::pi * frequency[i] * sample + phase[i]);
        return sum;
    }
    /// Samples every `step` (in units of 1 ns), later by `lag` ns.
    SourcePtr source(std::size_t count, double step, double lag, double gain = 1, double noise = 0) const
    {
        test::Gaussian random(7);
        std::vector<double> values(count);
        for (std::size_t i = 0; i < count; ++i) values[i] = gain * at(double(i) * step - lag) + noise * random();
        return makeMemorySource(values, step * 1e-9);
    }
};

SourcePtr later(const std::vector<double> &volts, std::size_t by, double gain = 1)
{
    std::vector<double> moved(volts.size(), gain * volts[0]);
    for (std::size_t i = by; i < volts.size(); ++i) moved[i] = gain * volts[i - by];
    return makeMemorySource(moved, 1e-10);
}

} // namespace

TEST(CrossCorrelation, IsTheSumOfProductsAtEveryLag)
{
    Progress progress;
    for (const std::size_t n : {1u, 2u, 3u, 17u, 64u}) {
        test::Gaussian random(n);
        std::vector<double> a(n), b(n);
        for (double &v : a) v = random();
        for (double &v : b) v = random();
        const std::vector<double> sums = crossCorrelation(a, b, progress);
        ASSERT_EQ(sums.size(), 2 * n - 1);
        for (std::ptrdiff_t lag = -std::ptrdiff_t(n) + 1; lag < std::ptrdiff_t(n); ++lag) {
            double sum = 0;
            for (std::ptrdiff_t i = 0; i < std::ptrdiff_t(n); ++i) {
                if (i + lag >= 0 && i + lag < std::ptrdiff_t(n)) sum += a[std::size_t(i)] * b[std::size_t(i + lag)];
            }
            EXPECT_NEAR(sums[std::size_t(lag + std::ptrdiff_t(n) - 1)], sum, 1e-13 * double(n)) << n << " " << lag;
        }
    }
}

TEST(Alignment, ByCorrelationFindsALagBetweenSamples)
{
    const Sines sines(3);
    Progress progress;
    for (const double lag : {0.0, 0.25, -3.4, 41.7, -200.1}) {
        const Alignment found = alignByCorrelation(sines.source(8192, 1, 0), sines.source(8192, 1, lag), progress);
        ASSERT_EQ(found.reason, "") << lag;
        // What enters and leaves at the ends moves the maximum: their share of the record is lag / 8192 of the energy,
        // and a sample's move costs 1 - 0.3 of it, so by less than lag / 8192 / 2.
        EXPECT_NEAR(found.lag, lag * 1e-9, (1e-3 + std::abs(lag) / 8192 / 2) * 1e-9) << lag;
        EXPECT_FALSE(found.inverted);
        EXPECT_GT(found.likeness, 0.95);
    }
}

TEST(Alignment, ByCorrelationTakesOtherRatesGainsAndTurnedOverOnes)
{
    const Sines sines(5);
    Progress progress;
    const Alignment found =
        alignByCorrelation(sines.source(8192, 1, 0), sines.source(16384, 0.5, 12.3, -0.2, 0.1), progress);
    ASSERT_EQ(found.reason, "");
    EXPECT_TRUE(found.inverted);
    // Noise of 0.1 on a swing of 0.2 sqrt(30) = 1.1: likeness 1 / sqrt(1 + 1 / 121), lag within 5 sigma of
    // sigma = noise / (slope rms sqrt(n)), slope about 1.1 * 2 pi * 0.17 per sample.
    EXPECT_NEAR(found.lag, 12.3e-9, (5 * 0.1 / (1.1 * 1.07 * 90) + 2e-3) * 1e-9);
    EXPECT_GT(found.likeness, 0.98);
}

TEST(Alignment, ByEdgesIsGoodToTheirJitter)
{
    Progress progress;
    for (const double noise : {0.0, 0.01}) {
        test::DataSpec spec;
        spec.unitIntervals = 2000;
        spec.noise = noise;
        const test::Data data = test::makeData(spec);
        const SourcePtr first = makeMemorySource(data.volts, 1e-10);
        for (const std::size_t by : {0u, 5u, 61u}) { // 61 samples are five unit intervals
            for (const double gain : {1.0, -0.5}) {
                const Alignment found = alignByEdges(first, later(data.volts, by, gain), progress);
                ASSERT_EQ(found.reason, "") << by;
                EXPECT_EQ(found.inverted, gain < 0);
                // The same samples, moved whole: edges are at the same fractions, whatever the noise.
                EXPECT_NEAR(found.lag, double(by) * 1e-10, 1e-13) << by << " " << gain;
                EXPECT_GT(found.edges, 900u);
            }
        }
    }
}

TEST(Alignment, SaysWhyThereIsNone)
{
    Progress progress;
    const Sines sines(1), others(2);
    const SourcePtr one = sines.source(4096, 1, 0);
    EXPECT_THAT(alignByCorrelation(one, others.source(4096, 1, 0), progress).reason,
                testing::HasSubstr("do not resemble each other"));
    EXPECT_EQ(alignByCorrelation(one, makeMemorySource(std::vector<double>(4096, 1.0), 1e-9), progress).reason,
              "one of the two is constant");
    EXPECT_THAT(alignByEdges(one, makeMemorySource(std::vector<double>(4096, 1.0), 1e-9, 1.0), progress).reason,
                testing::HasSubstr("cover no time together"));
    std::vector<double> gaps(4096, NAN);
    EXPECT_NE(alignByEdges(one, makeMemorySource(gaps, 1e-9), progress).reason, "");
    std::vector<double> single{1.0};
    EXPECT_NE(alignByEdges(one, makeMemorySource(single, 1e-9), progress).reason, "");
    // One step in each: correlation does, edges are too few.
    std::vector<double> step(4096, 0.0);
    std::fill(step.begin() + 2000, step.end(), 1.0);
    EXPECT_THAT(alignByEdges(later(step, 0), later(step, 9), progress).reason,
                testing::HasSubstr("align them by correlation"));
}
