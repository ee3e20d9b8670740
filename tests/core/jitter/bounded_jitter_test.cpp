#include "bounded_jitter.h"
#include "normal_distribution.h"
#include "units.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace fulvex {
namespace {

using test::ps;

TEST(NormalTail, KnowsItsTableValues)
{
    EXPECT_NEAR(normalTail(0), 0.5, 1e-15);
    EXPECT_NEAR(normalTail(1) / 0.15865525393145705, 1, 1e-12);
    EXPECT_NEAR(normalTail(7.034483825) / 1e-12, 1, 1e-8);
    EXPECT_NEAR(2 * normalQuantile(1e-12), 14.069, 5e-4); // the factor of docs/methods.md
    for (const double part : {0.4, 1e-3, 1e-9, 1e-18}) EXPECT_NEAR(normalTail(normalQuantile(part)) / part, 1, 1e-9);
}

/// Both sides of a distribution of some values joined with a normal one, by their sum, bisected.
double totalOf(const std::vector<double> &values, double random, double ratio)
{
    double sum = 0;
    for (const int side : {1, -1}) {
        double low = -1e-9, high = 1e-9;
        for (int i = 0; i < 200; ++i) {
            const double middle = (low + high) / 2;
            double beyond = 0;
            for (const double value : values)
                beyond += std::erfc((middle - side * value) / random / std::sqrt(2.0)) / 2 / double(values.size());
            (beyond > ratio ? low : high) = middle;
        }
        sum += low;
    }
    return sum;
}

TEST(BoundedJitter, TotalsAreThoseOfTheJoinedDistribution)
{
    std::vector<double> values{-11 * ps, -4 * ps, 3 * ps, 9 * ps};
    std::vector<BoundedJitter::Value> shares;
    for (const double value : values) shares.push_back({value, 0.25});
    PeriodicLine line;
    line.amplitude = 15 * ps;
    std::vector<double> sum;
    for (int phase = 0; phase < 4000; ++phase)
        for (const double value : values)
            sum.push_back(value + line.amplitude * std::sin((phase + 0.5) / 4000 * 2 * std::numbers::pi));
    for (const double random : {1 * ps, 5 * ps, 20 * ps}) {
        const BoundedJitter data(shares, {}, 0), both(shares, {line}, 0);
        for (const double ratio : {1e-3, 1e-6, 1e-12, 1e-18}) {
            // Cells of a 4096th of the extent, shared out so that means stay: what is left is of second order.
            EXPECT_NEAR(data.totalAt(ratio, random), totalOf(values, random, ratio), 0.01 * ps);
            EXPECT_NEAR(both.totalAt(ratio, random), totalOf(sum, random, ratio), 0.03 * ps);
        }
        EXPECT_NEAR(both.extent(), 50 * ps, 0.001 * ps);
    }
}

TEST(BoundedJitter, HarmonicsAreJoinedWithTheirPhases)
{
    PeriodicLine line, third;
    line.amplitude = 10 * ps;
    third.amplitude = 10.0 / 9 * ps;
    third.harmonic = 3;
    third.harmonicOf = 0;
    third.phase = std::numbers::pi; // sin x - sin(3 x) / 9: towards a triangle, higher by a ninth
    EXPECT_NEAR(BoundedJitter({}, {line, third}, 0).extent(), 2 * (10 + 10.0 / 9) * ps, 0.001 * ps);
    third.phase = 0; // flattened: less than the line alone and its harmonic together
    EXPECT_LT(BoundedJitter({}, {line, third}, 0).extent(), 2 * 10 * ps);
    third.harmonicOf = 1; // of its own, whatever its phase
    third.harmonic = 1;
    EXPECT_NEAR(BoundedJitter({}, {line, third}, 0).extent(), 2 * (10 + 10.0 / 9) * ps, 0.001 * ps);
}

TEST(BoundedJitter, WithoutARandomPartTheTotalIsTheExtent)
{
    const BoundedJitter two({{-5 * ps, 0.5}, {5 * ps, 0.5}}, {}, 0);
    EXPECT_NEAR(two.totalAt(1e-12, 0), 10 * ps, 0.01 * ps);
    EXPECT_NEAR(BoundedJitter({}, {}, 10 * ps).totalAt(1e-12, 2 * ps), two.totalAt(1e-12, 2 * ps), 0.01 * ps);
    EXPECT_EQ(BoundedJitter({{3 * ps, 1}}, {}, 0).totalAt(1e-12, 0), 0);
}

} // namespace
} // namespace fulvex
