// delay, taps, emphasise, resample and interpolate: band-limited signals at other times.

#include "formulas.h"
#include "signals.h"
#include "turn.h"

#include <cmath>
#include <functional>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

constexpr double interval = 1e-10;

/// Of three sines up to 0.3 of the sample rate, which the interpolation has to 1e-4 of each.
double signalAt(double position)
{
    return std::sin(turn * 0.0123 * position + 1) + 0.7 * std::sin(turn * 0.11 * position) +
           0.4 * std::cos(turn * 0.3 * position);
}
constexpr double sineTolerance = 1e-4 * 2.1;

std::vector<double> samples(int count)
{
    std::vector<double> values;
    for (int i = 0; i < count; ++i) values.push_back(signalAt(i));
    return values;
}

SourcePtr made(const std::string &formula, int count = 6000)
{
    return test::made(formula, {{"x", makeMemorySource(samples(count), interval, 5e-6)}});
}

} // namespace

TEST(Delay, GivesWhatWasSoLongBefore)
{
    for (const double by : {0.0, 1.0, 700.0, -3.0, 0.37, 12.5, -250.123}) {
        const SourcePtr source = made("delay(x, " + std::to_string(by * interval * 1e12) + " ps)");
        ASSERT_EQ(source->axis().count, 6000);
        const std::vector<double> found = test::allOf(source);
        for (int i = 0; i < 6000; ++i) {
            const double from = i - by, value = found[std::size_t(i)];
            const bool there = from >= -1e-6 && from <= 5999 + 1e-6;
            ASSERT_EQ(std::isnan(value), !there) << by << " " << i;
            if (from < 24 || from > 5999 - 24) continue; // where the kernel lacks what lies beyond
            ASSERT_NEAR(value, signalAt(from), by == std::round(by) ? 1e-9 : sineTolerance) << by << " " << i;
        }
    }
}

TEST(Taps, AreASumOfDelayedSignals)
{
    const std::vector<double> found = test::allOf(made("taps(x, 250 ps, 1.2, -0.25, 0, 0.1)"));
    for (int i = 100; i < 5900; ++i)
        ASSERT_NEAR(found[std::size_t(i)], 1.2 * signalAt(i) - 0.25 * signalAt(i - 2.5) + 0.1 * signalAt(i - 7.5),
                    1.6 * sineTolerance)
            << i;
    EXPECT_TRUE(std::isnan(found[7]));
    EXPECT_FALSE(std::isnan(found[8]));
    const std::vector<double> one = test::allOf(made("taps(x, 1 ns, 2)"));
    for (int i = 0; i < 6000; ++i) ASSERT_EQ(one[std::size_t(i)], 2 * signalAt(i));
}

/// 3.5 dB: what changed within a unit interval is 1.496 times what stays.
TEST(Emphasise, LiftsWhatChanged)
{
    std::vector<double> bits;
    for (const int bit : {0, 0, 0, 1, 1, 1, 0, 1, 0, 0}) bits.insert(bits.end(), 10, bit ? 0.5 : -0.5);
    const double ratio = std::pow(10, 3.5 / 20);
    for (const std::string written : {"3.5 dB", "1.4962357"}) {
        const auto found = test::madeOf("emphasise(x, 10, " + written + ")", bits);
        for (std::size_t i = 10; i < bits.size(); ++i) {
            const bool changed = bits[i] != bits[i - 10];
            ASSERT_NEAR(found[i], bits[i] * (changed ? ratio : 1), 1e-7) << i;
        }
    }
}

TEST(Resample, GivesTheSameSignalAtAnotherRate)
{
    for (const double rate : {10e9, 12.5e9, 31.7e9, 9.1e9}) { // 0.3 of 10 G lies below 0.4 of each
        const SourcePtr source = made("resample(x, " + std::to_string(rate / 1e9) + "G)");
        const TimeAxis &axis = source->axis();
        EXPECT_NEAR(axis.interval * rate, 1, 1e-12);
        EXPECT_LE(axis.timeOf(double(axis.count - 1)), 5e-6 + 5999.0001 * interval);
        EXPECT_GT(axis.timeOf(double(axis.count)), 5e-6 + 5999 * interval);
        const std::vector<double> found = test::allOf(source);
        for (std::int64_t k = 0; k < axis.count; ++k) {
            const double from = double(k) / rate / interval;
            if (from < 60 || from > 5940) continue;
            ASSERT_NEAR(found[std::size_t(k)], signalAt(from), sineTolerance + (rate < 10e9 ? 2.1e-3 : 0))
                << rate << " " << k; // 60 dB
        }
    }
}

/// What lies beyond half the new rate is gone, not folded back.
TEST(Resample, ToALowerRateKeepsOutWhatItCannotHold)
{
    const std::vector<double> found = test::allOf(made("resample(x, 1G)", 60000));
    for (std::size_t k = 100; k + 100 < found.size(); ++k)
        ASSERT_NEAR(found[k], std::sin(turn * 0.0123 * 10 * double(k) + 1), 2.5e-3) << k; // 60 dB each
}

TEST(Interpolate, KeepsTheSamplesAndAddsBetween)
{
    const SourcePtr source = made("interpolate(x, 5)");
    EXPECT_EQ(source->axis().count, 5999 * 5 + 1);
    const std::vector<double> found = test::allOf(source);
    for (std::int64_t k = 0; k < source->axis().count; ++k) {
        if (k % 5 != 0 && (k < 150 || k > 29800)) continue; // where the kernel lacks what lies beyond
        ASSERT_NEAR(found[std::size_t(k)], signalAt(double(k) / 5), k % 5 == 0 ? 0 : sineTolerance) << k;
    }
}

/// What stands beside a resampled channel is laid on the grid that is named first.
TEST(Resample, MakesTheGridOfWhatIsNamedAfterIt)
{
    EXPECT_EQ(made("resample(x, 2.5G) - x")->axis().interval, 4e-10);
    EXPECT_EQ(made("x - resample(x, 2.5G)")->axis().interval, 1e-10);
    EXPECT_EQ(made("2 * abs(interpolate(x, 2))")->axis().interval, 5e-11);
    EXPECT_EQ(made("lowpass(resample(x, 2.5G), 100M)")->axis().interval, 4e-10);
}

TEST(OtherTimes, SayWhatIsWrong)
{
    test::expectRefused({{"delay(x, 1)", "character 1", "longer than the record"},
                         {"delay(x, 0 / 0)", "character 1", "no number"},
                         {"taps(x, 0, 1)", "character 1", "not apart"},
                         {"emphasise(x, 1n, -1)", "character 1", "no ratio"},
                         {"emphasise(x, 1n, 2M)", "character 1", "no ratio"},
                         {"resample(x, 1)", "character 1", "a rate of"},
                         {"resample(x, -1)", "character 1", "a rate of"},
                         {"resample(x, 1T * 1000)", "character 1", "a rate of"},
                         {"interpolate(x, 1.5)", "character 1", "no whole number"},
                         {"interpolate(x, 65)", "character 1", "no whole number"}},
                        [](const std::string &formula) { made(formula); });
}
