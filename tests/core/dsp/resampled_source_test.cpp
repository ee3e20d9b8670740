#include "coded_channels.h"
#include "formula.h"
#include "resampled_source.h"
#include "sinc_kernel.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>

using namespace fulvex;

namespace {

std::vector<double> sine(double cyclesPerSample, std::size_t count, double shift = 0)
{
    std::vector<double> values;
    for (std::size_t i = 0; i < count; ++i)
        values.push_back(std::sin(2 * std::numbers::pi * cyclesPerSample * (double(i) + shift) + 0.3));
    return values;
}

std::vector<double> all(const SampleSource &source)
{
    std::vector<double> values(std::size_t(source.axis().count));
    source.read(0, values);
    return values;
}

} // namespace

TEST(SincKernel, WeightsSumToOneAndHitTheSamples)
{
    for (const double fraction : {0.0, 0.25, 0.5, 0.9, 1.0}) {
        double sum = 0;
        for (const double weight : SincKernel::row(fraction)) sum += weight;
        EXPECT_NEAR(sum, 1, 1e-12);
    }
    EXPECT_NEAR(SincKernel::row(0)[SincKernel::before], 1, 1e-12);
    EXPECT_NEAR(SincKernel::row(1)[SincKernel::before + 1], 1, 1e-12);
}

TEST(Resampled, AFractionalDelayOfASineIsExactToTheStopBand)
{
    for (const double frequency : {0.01, 0.1, 0.2, 0.3, 0.37}) {
        for (const double shift : {0.1, 0.32, 0.5, 0.77}) {
            const SourcePtr source = makeMemorySource(sine(frequency, 2000), 1);
            const std::vector<double> moved = all(*resampled(source, {100 + shift, 1, 1000}));
            const std::vector<double> truth = sine(frequency, 1000, 100 + shift);
            for (std::size_t i = 0; i < moved.size(); ++i)
                ASSERT_NEAR(moved[i], truth[i], 2e-4) << frequency << " " << shift;
        }
    }
}

TEST(Resampled, AGridThatIsOffByWholeSamplesIsTheSamplesThemselves)
{
    std::vector<std::int16_t> codes;
    for (int i = 0; i < 1000; ++i) codes.push_back(std::int16_t(i * 37 % 1001 - 500));
    const SourcePtr source = test::codedChannel(codes, 0.25, 3, 1, 1e-9);
    const std::vector<double> values = all(*source);
    for (const std::int64_t by : {1, 17, 400}) {
        TimeAxis axis = source->axis();
        axis.shift += double(by) * axis.interval;
        axis.count = 600;
        const SourcePtr moved = resampled(source, axis);
        EXPECT_EQ(moved->axis(), axis);
        EXPECT_TRUE(std::equal(values.begin() + by, values.begin() + by + 600, all(*moved).begin()));
        EXPECT_FALSE(moved->mayHaveGaps());
        ASSERT_EQ(moved->codeScale(), source->codeScale());
        std::vector<std::int16_t> some(100);
        ASSERT_TRUE(moved->readCodes(450, some));
        EXPECT_TRUE(std::equal(some.begin(), some.end(), codes.begin() + by + 450));
        EXPECT_EQ(moved->codesInPlace(450), source->codesInPlace(450 + by));
        std::vector<Extent> extents(3), should(3);
        moved->extents({0, 30}, 10, extents);
        source->extents({by, by + 30}, 10, should);
        for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(extents[i].low, should[i].low);
    }
    TimeAxis beyond = source->axis(); // which has samples before the first
    beyond.shift -= 5 * beyond.interval;
    EXPECT_TRUE(std::isnan(all(*resampled(source, beyond))[4]));
    EXPECT_EQ(all(*resampled(source, beyond))[5], values[0]);
}

/// Legs of which one is late by whole samples: their difference is codes still.
TEST(Resampled, ADifferenceOfLegsThatAreOffByWholeSamplesIsCodes)
{
    std::vector<std::int16_t> a, b;
    for (int i = 0; i < 5000; ++i) a.push_back(std::int16_t(i % 777)), b.push_back(std::int16_t(-i % 555));
    const SourcePtr p = test::codedChannel(a, 0.5, 0, 1, 1e-9);
    const SourcePtr n = test::codedChannel(b, 0.5, 0, 1, 1e-9, 12e-9);
    Progress progress;
    const SourcePtr link =
        Formula::parse("p - n").evaluate({[&](const std::string &id) { return id == "p" ? p : n; }, {}, {}}, progress);
    ASSERT_TRUE(link->codeScale().has_value());
    EXPECT_EQ(link->axis().count, 5000 - 12);
    const std::vector<double> values = all(*link);
    for (std::size_t i = 0; i < values.size(); ++i) ASSERT_EQ(values[i], 0.5 * (a[i + 12] - b[i]));
}

TEST(Resampled, AnotherIntervalIsInterpolatedToo)
{
    const SourcePtr source = makeMemorySource(sine(0.1, 3000), 1);
    const std::vector<double> found = all(*resampled(source, {50, 0.7313, 2000}));
    for (std::size_t i = 0; i < found.size(); ++i)
        ASSERT_NEAR(found[i], std::sin(2 * std::numbers::pi * 0.1 * (50 + 0.7313 * double(i)) + 0.3), 2e-4);
}

TEST(Resampled, BeyondItsEndsThereAreGaps)
{
    const SourcePtr source = makeMemorySource(sine(0.1, 100), 1);
    const std::vector<double> found = all(*resampled(source, {-2.5, 1, 110}));
    EXPECT_TRUE(std::isnan(found[2]));
    EXPECT_FALSE(std::isnan(found[3]));
    EXPECT_FALSE(std::isnan(found[101]));
    EXPECT_TRUE(std::isnan(found[102]));
}

TEST(Resampled, OntoAMuchCoarserOrFinerGridNoMoreIsReadThanIsUsed)
{
    const SourcePtr source = makeMemorySource(sine(0.1, 100000), 1);
    for (const double step : {23.7, 24.0, 1234.5678, 60000.0}) {
        const auto count = std::int64_t(99000 / step) + 1;
        const std::vector<double> found = all(*resampled(source, {500.25, step, count}));
        for (std::size_t i = 0; i < found.size(); ++i)
            ASSERT_NEAR(found[i], std::sin(2 * std::numbers::pi * 0.1 * (500.25 + step * double(i)) + 0.3), 2e-4)
                << step;
    }
    // Grids that have nothing, or one instant, to do with it.
    for (const TimeAxis &axis :
         {TimeAxis{-1e12 - 7, 1e9, 5000}, TimeAxis{1e12, 1e9, 5000}, TimeAxis{-1e12, 1e27, 5000}}) {
        for (const double value : all(*resampled(source, axis))) ASSERT_TRUE(std::isnan(value));
    }
    const std::vector<double> close = all(*resampled(source, {50, 1e-18, 5000})); // all at sample 50
    for (const double value : close) ASSERT_NEAR(value, sine(0.1, 51)[50], 1e-9);
    const std::vector<double> once = all(*resampled(source, {-1e9, 1e9, 3}));
    EXPECT_TRUE(std::isnan(once[0]) && std::isnan(once[2]));
    EXPECT_NEAR(once[1], sine(0.1, 1)[0], 1e-9);
}

TEST(Resampled, ReadsTheSameInAnyPieces)
{
    const SourcePtr shifted = resampled(makeMemorySource(sine(0.21, 3000), 1), {10.4, 1, 2500});
    const SourcePtr coarser = resampled(makeMemorySource(sine(0.21, 90000), 1), {-20.4, 30.1, 3000});
    const SourcePtr finer = upsampled(makeMemorySource(sine(0.21, 3000), 1), 3);
    for (const SourcePtr &source : {shifted, coarser, finer}) {
        const std::vector<double> whole = all(*source);
        for (const std::int64_t piece : {1, 2, 7, 64, 1000}) {
            std::vector<double> part(static_cast<std::size_t>(piece));
            for (std::int64_t first = 0; first + piece <= std::int64_t(whole.size()); first += 3 * piece + 1) {
                source->read(first, part);
                for (std::int64_t i = 0; i < piece; ++i)
                    ASSERT_EQ(std::bit_cast<std::uint64_t>(part[std::size_t(i)]),
                              std::bit_cast<std::uint64_t>(whole[std::size_t(first + i)]))
                        << piece;
            }
        }
    }
}

TEST(Upsampled, EveryNthIsASampleAndTheRestLiesBetween)
{
    const std::vector<double> values = sine(0.25, 1000);
    const std::vector<double> found = all(*upsampled(makeMemorySource(values, 1), 4));
    ASSERT_EQ(found.size(), 999u * 4 + 1);
    for (std::size_t i = 0; i < values.size(); ++i) EXPECT_EQ(found[4 * i], values[i]);
    for (std::size_t i = 100; i < 3800; ++i)
        ASSERT_NEAR(found[i], std::sin(2 * std::numbers::pi * 0.25 * double(i) / 4 + 0.3), 2e-4);
}

TEST(Upsampled, IsTheKernelItselfAtEveryFactor)
{
    const std::vector<double> values = sine(0.31, 117);
    const auto sampleAt = [&](std::int64_t at) {
        return values[std::size_t(std::clamp<std::int64_t>(at, 0, std::int64_t(values.size()) - 1))];
    };
    for (int factor = 2; factor <= 11; ++factor) {
        const std::vector<double> found = all(*upsampled(makeMemorySource(values, 1), factor));
        ASSERT_EQ(found.size(), (values.size() - 1) * std::size_t(factor) + 1);
        for (std::size_t i = 0; i < found.size(); ++i) {
            const SincKernel::Row row = SincKernel::row(double(i % std::size_t(factor)) / factor);
            double sum = 0;
            for (int tap = 0; tap < SincKernel::taps; ++tap)
                sum += row[std::size_t(tap)] * sampleAt(std::int64_t(i) / factor - SincKernel::before + tap);
            ASSERT_NEAR(found[i], sum, 1e-14) << factor << " " << i; // 24 products of at most 1, rounded
        }
    }
}

TEST(Upsampled, AGapIsAsWideAsTheKernel)
{
    std::vector<double> values = sine(0.1, 200);
    values[100] = NAN;
    for (const int factor : {2, 4, 5}) {
        const std::vector<double> found = all(*upsampled(makeMemorySource(values, 1), factor));
        for (std::size_t i = 0; i < found.size(); ++i) {
            const auto sample = std::int64_t(i) / factor;
            const bool own = i % std::size_t(factor) == 0;
            const bool touched =
                own ? sample == 100
                    : sample - SincKernel::before <= 100 && 100 < sample - SincKernel::before + SincKernel::taps;
            ASSERT_EQ(std::isnan(found[i]), touched) << factor << " " << i;
        }
    }
}

TEST(CommonAxis, IsTheFirstGridOverTheSpanOfAll)
{
    const TimeAxis axis = commonAxis({{0, 1, 100}, {2.5, 1, 100}, {-5, 2, 40}});
    EXPECT_EQ(axis.timeOf(0), 3);
    EXPECT_EQ(axis.start, 0); // kept as it was: what moves the grid is kept apart
    EXPECT_EQ(axis.interval, 1);
    EXPECT_EQ(axis.count, 71); // 3 … 73, where the third ends
    EXPECT_EQ(commonAxis({{0, 1, 10}, {20, 1, 10}}).count, 0);
    EXPECT_EQ(commonAxis({{0, 1e-18, 10}, {1e12, 1, 10}}).count, 0);
    EXPECT_EQ(commonAxis({{0, 1e-18, 10}, {-1e12, 1, 10}}).count, 0);
}
