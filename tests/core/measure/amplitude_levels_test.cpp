// Levels that amplitudes gather around, against levels that are known, over noise, counts, and what passes between.

#include "amplitude_levels.h"
#include "amplitude_survey.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// Each level in turn for `hold` samples, `ramp` samples from one to the next, noise on top.
AmplitudeHistogram stepped(const std::vector<double> &levels, int hold, int ramp, double sigma, int count,
                           std::uint64_t seed)
{
    test::Gaussian random(seed);
    std::vector<double> values;
    double last = levels.front();
    for (std::size_t k = 0; int(values.size()) < count; ++k) {
        const double next = levels[(k * 7) % levels.size()];
        for (int i = 1; i <= ramp; ++i) values.push_back(last + (next - last) * i / (ramp + 1) + sigma * random());
        for (int i = 0; i < hold; ++i) values.push_back(next + sigma * random());
        last = next;
    }
    const SourcePtr source = makeMemorySource(values, 1);
    Progress progress;
    return surveyAmplitudes(*source, {0, source->axis().count}, progress, false).histogram;
}

} // namespace

/// A level is told to what the mean of its samples scatters (under the kernel, 1.3 times that), its spread to
/// sigma / sqrt(2 n), both beside the width of a bin.
TEST(AmplitudeLevels, AreWhereTheSamplesGather)
{
    for (const double sigma : {0.0, 0.004, 0.02}) {
        for (const int count : {20000, 300000}) {
            for (const auto &levels :
                 {std::vector<double>{0.2, 1.0}, {-1, -0.3, 0.31, 1}, {0, 0.14, 0.28, 0.43, 0.57, 0.71, 0.86, 1}}) {
                const auto found = amplitudeLevels(stepped(levels, 40, 0, sigma, count, 7));
                ASSERT_EQ(found.size(), levels.size()) << sigma << " " << count;
                const double each = count / double(levels.size()), bin = 2.0 / 1024;
                for (std::size_t i = 0; i < levels.size(); ++i) {
                    EXPECT_NEAR(found[i].at, levels[i], 5 * 1.3 * sigma / std::sqrt(each) + 1e-12) << sigma << " " << i;
                    EXPECT_NEAR(found[i].spread, sigma, 5 * 2 * sigma / std::sqrt(each) + bin / 3);
                    EXPECT_NEAR(found[i].share, 1.0 / double(levels.size()), 0.01);
                }
            }
        }
    }
}

/// Ramps between the levels, half of the time, pass all values alike: they draw no level by more than a hundredth of
/// what they would draw a mean from valley to valley.
TEST(AmplitudeLevels, AreNotDrawnByWhatPassesBetween)
{
    const std::vector<double> levels{0.1, 0.5, 1};
    const auto found = amplitudeLevels(stepped(levels, 40, 40, 0.01, 300000, 3));
    ASSERT_EQ(found.size(), 3u);
    for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(found[i].at, levels[i], 1.5e-3) << i;
}

/// A ramp whose samples fall on the same few values each time: these are passed.
TEST(AmplitudeLevels, AreNoneWhereTheSignalPassesAlways)
{
    const auto found = amplitudeLevels(stepped({0.1, 0.9}, 2000, 5, 0, 300000, 1));
    ASSERT_EQ(found.size(), 2u);
    EXPECT_NEAR(found[0].at, 0.1, 1e-9);
    EXPECT_NEAR(found[1].at, 0.9, 1e-9);
}

TEST(AmplitudeLevels, AreOneOfNoiseAndNoneOfNothing)
{
    EXPECT_EQ(amplitudeLevels(stepped({0.5}, 10, 0, 0.1, 50000, 1)).size(), 1u);
    EXPECT_TRUE(amplitudeLevels({}).empty());
    EXPECT_TRUE(amplitudeLevels(stepped({1}, 3, 0, 0, 3, 1)).empty());
}
