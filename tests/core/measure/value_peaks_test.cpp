#include "paired_values.h"
#include "signals.h"
#include "value_peaks.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

Population populationInTime(const std::vector<double> &values, double step = 10)
{
    TimeAxis axis;
    axis.interval = 1e-9;
    axis.count = std::int64_t(step * double(values.size())) + 1;
    PopulationBuilder found(axis);
    for (std::size_t i = 0; i < values.size(); ++i) found.add(step * double(i), 0, values[i]);
    return found.take();
}

/// Values around each of `centres`, by turns as `shares` say.
std::vector<double> gathered(const std::vector<double> &centres, const std::vector<double> &shares, double spread,
                             std::size_t count, std::uint64_t seed)
{
    test::Gaussian random(seed);
    std::vector<double> values;
    for (std::size_t i = 0; i < count; ++i) {
        double at = random.uniform();
        std::size_t which = 0;
        while (which + 1 < shares.size() && at > shares[which]) at -= shares[which++];
        values.push_back(centres[which] + spread * random());
    }
    return values;
}

} // namespace

TEST(ValuePeaks, OneIsOneHoweverFewValuesThereAre)
{
    for (const std::size_t count : {20u, 100u, 1000u, 30000u}) {
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            const auto peaks = valuePeaks(histogramOf(populationInTime(gathered({5}, {1}, 0.3, count, seed))));
            ASSERT_EQ(peaks.size(), 1u) << count << " values, seed " << seed;
            EXPECT_NEAR(peaks[0].at, 5, 4 * 0.3 / std::sqrt(double(count)) + 0.05);
            EXPECT_EQ(peaks[0].share, 1);
        }
    }
}

TEST(ValuePeaks, SeveralAreToldApartWithTheirShares)
{
    const std::vector<double> centres{1, 2, 4}, shares{0.5, 0.3, 0.2};
    for (const std::size_t count : {2000u, 50000u}) {
        for (std::uint64_t seed = 1; seed <= 10; ++seed) {
            const auto peaks = valuePeaks(histogramOf(populationInTime(gathered(centres, shares, 0.12, count, seed))));
            ASSERT_EQ(peaks.size(), 3u) << count << " values, seed " << seed;
            for (std::size_t i = 0; i < 3; ++i) {
                EXPECT_NEAR(peaks[i].at, centres[i], 0.04);
                // A share strays binomially; the valleys at 4 sigma cost next to nothing.
                EXPECT_NEAR(peaks[i].share, shares[i], 4 * std::sqrt(shares[i] * (1 - shares[i]) / double(count)));
            }
        }
    }
}

TEST(ValuePeaks, TheMedianIsTheMiddleOne)
{
    EXPECT_EQ(medianOf(populationInTime({3, 1, 2})), 2);
    EXPECT_EQ(medianOf(populationInTime({4, 1, 2, 9})), 3);
    EXPECT_EQ(medianOf(populationInTime({7})), 7);
}

TEST(Median, OfManyValuesIsThatOfThemSorted)
{
    test::Gaussian random(8);
    const auto expectMedian = [](std::vector<double> values, const char *what) {
        const double found = medianOf(populationInTime(values));
        std::ranges::sort(values);
        const std::size_t half = values.size() / 2;
        EXPECT_EQ(found, values.size() % 2 ? values[half] : (values[half - 1] + values[half]) / 2) << what;
    };
    for (const std::size_t count : {std::size_t(65'536), std::size_t(65'537), std::size_t(200'000)}) {
        std::vector<double> smooth(count), twoSides(count), steps(count), far(count);
        for (std::size_t i = 0; i < count; ++i) {
            smooth[i] = 1e-9 + 1e-12 * random();
            twoSides[i] = i < count / 2 ? -5 + random() : 5 + random(); // the middle lies between them
            steps[i] = std::floor(3 * random.uniform());
            far[i] = i == 0 ? 1e9 : random();
        }
        expectMedian(smooth, "smooth");
        expectMedian(twoSides, "on two sides");
        expectMedian(steps, "few values");
        expectMedian(far, "one far off");
        expectMedian(std::vector<double>(count, 0.25), "all alike");
    }
}

TEST(PairedValues, EachGoesWithTheNearestInTime)
{
    const Population first = populationInTime({1, 2, 3, 4, 5, 6});
    PopulationBuilder other(first.axis);
    for (const double at : {1.0, 12.0, 31.0, 33.0, 49.0}) other.add(at, 0, 100 + at);
    const PairedValues pairs = pairedValues(first, other.take());
    EXPECT_EQ(pairs.x, (std::vector<double>{1, 2, 4, 6}));
    EXPECT_EQ(pairs.y, (std::vector<double>{101, 112, 131, 149}));
    EXPECT_EQ(pairs.of, (std::vector<std::uint32_t>{0, 1, 3, 5}));
}

TEST(PairedValues, CorrelationIsThatOfTheNumbers)
{
    test::Gaussian random(9);
    std::vector<double> x, y;
    const double truth = 0.6;
    for (int i = 0; i < 20000; ++i) {
        const double shared = random();
        x.push_back(1e-9 * shared);
        y.push_back(3 + truth * shared + std::sqrt(1 - truth * truth) * random());
    }
    const PairedValues pairs = pairedValues(populationInTime(x), populationInTime(y));
    EXPECT_EQ(pairs.x.size(), x.size());
    EXPECT_NEAR(pairs.correlation, truth, 4 * (1 - truth * truth) / std::sqrt(20000.0));
    const PairedValues flat = pairedValues(populationInTime(x), populationInTime(std::vector<double>(x.size(), 2.0)));
    EXPECT_TRUE(std::isnan(flat.correlation));
}
