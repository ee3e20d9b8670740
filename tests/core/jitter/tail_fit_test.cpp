#include "signals.h"
#include "tail_fit.h"
#include "units.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace fulvex {
namespace {

using test::ps;

AmplitudeHistogram valuesOf(std::size_t count, double random, std::uint64_t seed,
                            const std::function<double(test::Gaussian &)> &bounded)
{
    test::Gaussian chance(seed);
    std::vector<double> values;
    for (std::size_t i = 0; i < count; ++i) {
        const double at = bounded(chance);
        values.push_back(at + random * chance());
    }
    return AmplitudeHistogram::of(values);
}

TEST(TailFit, FindsNothingBoundedWhereThereIsNothing)
{
    for (std::uint64_t seed = 1; seed <= 8; ++seed) {
        const TailFit found = fitTails(valuesOf(50000, 3 * ps, seed, [](auto &) { return 0.0; }));
        EXPECT_EQ(found.extent, 0);
        EXPECT_EQ(found.apart, 0);
        EXPECT_NEAR(found.random, 3 * ps, 5 * found.randomUncertainty);
        EXPECT_LT(found.randomUncertainty, 0.02 * ps);
    }
}

TEST(TailFit, FindsTheRandomPartBehindWhatIsBounded)
{
    const auto between = [](double from, double to) {
        return [=](test::Gaussian &chance) { return from + (to - from) * chance.uniform(); };
    };
    const auto twoValues = [](double apart) {
        return [=](test::Gaussian &chance) { return chance.uniform() < 0.5 ? -apart / 2 : apart / 2; };
    };
    const auto sine = [](double extent) {
        return [=](test::Gaussian &chance) { return extent / 2 * std::sin(2 * std::numbers::pi * chance.uniform()); };
    };
    for (std::uint64_t seed = 1; seed <= 3; ++seed) {
        for (const double extent : {12 * ps, 20 * ps}) {
            const TailFit two = fitTails(valuesOf(100000, 3 * ps, seed, twoValues(extent)));
            EXPECT_NEAR(two.random, 3 * ps, 0.05 * 3 * ps);
            EXPECT_NEAR(two.apart, extent, 0.05 * extent);
            EXPECT_NEAR(fitTails(valuesOf(100000, 3 * ps, seed, sine(extent))).random, 3 * ps, 0.1 * 3 * ps);
            EXPECT_NEAR(fitTails(valuesOf(100000, 3 * ps, seed, between(-extent / 2, extent / 2))).random, 3 * ps,
                        0.1 * 3 * ps);
        }
    }
}

TEST(TailFit, SaysHowMuchOfItMayBeBoundedAfterAll)
{
    // Uniform over 1.8 standard deviations: too narrow to be believed mostly, 13 % of the random part all the same.
    int held = 0, believed = 0;
    constexpr int seeds = 40;
    for (std::uint64_t seed = 1; seed <= seeds; ++seed) {
        const TailFit found = fitTails(valuesOf(
            50000, 3 * ps, seed, [](test::Gaussian &chance) { return 1.8 * 3 * ps * (chance.uniform() - 0.5); }));
        believed += found.extent > 0;
        held += std::abs(found.random - 3 * ps) <= 2 * found.uncertainty();
        EXPECT_LT(found.random, 3 * ps * std::sqrt(1 + 1.8 * 1.8 / 12) + 5 * found.randomUncertainty);
        EXPECT_EQ(found.hidden > 0, found.extent == 0);
    }
    EXPECT_LT(believed, seeds / 2);
    // Two uncertainties are to hold in nine of ten: 36, give or take two at a time.
    EXPECT_GE(held, 32);
}

TEST(TailFit, SaysWhatItCannotTell)
{
    EXPECT_NE(fitTails({}).reason, "");
    EXPECT_NE(fitTails(AmplitudeHistogram::of(std::vector<double>(100, 1 * ps))).reason, "");
    const TailFit constant = fitTails(AmplitudeHistogram::of(std::vector<double>(5000, 1 * ps)));
    EXPECT_EQ(constant.reason, "");
    EXPECT_EQ(constant.random, 0);
}

} // namespace
} // namespace fulvex
