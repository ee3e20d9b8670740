#include "amplitude_stats.h"
#include "signals.h"

#include <cmath>

using namespace fulvex;

namespace {

std::vector<double> noisyRamp(std::size_t count)
{
    test::Gaussian random(3);
    std::vector<double> values;
    for (std::size_t i = 0; i < count; ++i) values.push_back(5 + 1e-6 * double(i) + 0.1 * random());
    return values;
}

} // namespace

TEST(AmplitudeStats, AgreesWithTheTwoPassFormulas)
{
    const std::vector<double> values = noisyRamp(300001); // several chunks and a rest
    Progress progress;
    const AmplitudeStats stats = amplitudeStats(*makeMemorySource(values, 1), {0, 300001}, progress);
    const double mean = test::meanOf(values);
    double squares = 0;
    for (const double v : values) squares += (v - mean) * (v - mean);
    EXPECT_EQ(stats.count, 300001);
    EXPECT_NEAR(stats.mean, mean, 1e-12);
    EXPECT_NEAR(stats.squares, squares, 1e-9 * squares);
    EXPECT_NEAR(stats.rms(), test::rmsOf(values), 1e-12);
    EXPECT_EQ(stats.minimum, *std::min_element(values.begin(), values.end()));
    EXPECT_EQ(stats.maximumAt, std::max_element(values.begin(), values.end()) - values.begin());
}

TEST(AmplitudeStats, GapsAreLeftOutAndCounted)
{
    Progress progress;
    const AmplitudeStats stats = amplitudeStats(*makeMemorySource({NAN, 1, NAN, 3, NAN}, 1), {0, 5}, progress);
    EXPECT_EQ(stats.count, 2);
    EXPECT_EQ(stats.gaps, 3);
    EXPECT_EQ(stats.mean, 2);
    EXPECT_EQ(stats.minimum, 1);
    EXPECT_EQ(stats.maximum, 3);
}

TEST(AmplitudeStats, OfGapsOnlyIsEmpty)
{
    Progress progress;
    const AmplitudeStats stats = amplitudeStats(*makeMemorySource({NAN, NAN}, 1), {0, 2}, progress);
    EXPECT_EQ(stats.count, 0);
    EXPECT_EQ(stats.gaps, 2);
}

TEST(AmplitudeStats, MergeOfPartsIsTheWhole)
{
    const std::vector<double> values = noisyRamp(1000);
    Progress progress;
    const SourcePtr source = makeMemorySource(values, 1);
    AmplitudeStats parts = amplitudeStats(*source, {0, 300}, progress);
    parts.merge(amplitudeStats(*source, {300, 1000}, progress));
    const AmplitudeStats whole = amplitudeStats(*source, {0, 1000}, progress);
    EXPECT_EQ(parts.count, whole.count);
    EXPECT_NEAR(parts.mean, whole.mean, 1e-14);
    EXPECT_NEAR(parts.squares, whole.squares, 1e-12 * whole.squares);
    EXPECT_EQ(parts.minimumAt, whole.minimumAt);
}

TEST(AmplitudeStats, ACancelEndsIt)
{
    Progress progress;
    progress.cancel();
    EXPECT_THROW(amplitudeStats(*makeMemorySource({1, 2, 3}, 1), {0, 3}, progress), Cancelled);
}

TEST(AmplitudeHistogram, CountsEverySampleOnce)
{
    const std::vector<double> values = noisyRamp(200000);
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    Progress progress;
    const AmplitudeHistogram histogram =
        amplitudeHistogram(*makeMemorySource(values, 1), {0, 200000}, *low, *high, 1024, progress);
    std::int64_t total = 0;
    double sum = 0;
    for (std::size_t i = 0; i < histogram.counts.size(); ++i) total += histogram.counts[i], sum += histogram.sums[i];
    EXPECT_EQ(total, 200000);
    EXPECT_NEAR(sum / 200000, test::meanOf(values), 1e-10);
}
