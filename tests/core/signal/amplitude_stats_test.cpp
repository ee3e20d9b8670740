#include "amplitude_survey.h"
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

AmplitudeStats statsOf(const std::vector<double> &values)
{
    Progress progress;
    return surveyAmplitudes(*makeMemorySource(values, 1), {0, std::int64_t(values.size())}, progress).stats;
}

} // namespace

TEST(AmplitudeStats, AgreesWithTheTwoPassFormulas)
{
    const std::vector<double> values = noisyRamp(300001); // several chunks and a rest
    const AmplitudeStats stats = statsOf(values);
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
    const AmplitudeStats stats = statsOf({NAN, 1, NAN, 3, NAN});
    EXPECT_EQ(stats.count, 2);
    EXPECT_EQ(stats.gaps, 3);
    EXPECT_EQ(stats.mean, 2);
    EXPECT_EQ(stats.minimum, 1);
    EXPECT_EQ(stats.maximum, 3);
}

TEST(AmplitudeStats, OfGapsOnlyIsEmpty)
{
    const AmplitudeStats stats = statsOf({NAN, NAN});
    EXPECT_EQ(stats.count, 0);
    EXPECT_EQ(stats.gaps, 2);
}

TEST(AmplitudeStats, MergeOfPartsIsTheWhole)
{
    const std::vector<double> values = noisyRamp(1000);
    const SourcePtr source = makeMemorySource(values, 1);
    Progress progress;
    AmplitudeStats parts = surveyAmplitudes(*source, {0, 300}, progress).stats;
    parts.merge(surveyAmplitudes(*source, {300, 1000}, progress).stats);
    const AmplitudeStats whole = surveyAmplitudes(*source, {0, 1000}, progress).stats;
    EXPECT_EQ(parts.count, whole.count);
    EXPECT_NEAR(parts.mean, whole.mean, 1e-14);
    EXPECT_NEAR(parts.squares, whole.squares, 1e-12 * whole.squares);
    EXPECT_EQ(parts.minimumAt, whole.minimumAt);
}
