#include "clock_stability.h"
#include "jitter_signal.h"
#include "line_strength.h"
#include "turn.h"
#include "units.h"

#include <cmath>
#include <gtest/gtest.h>

namespace fulvex {
namespace {

using test::JitterSpec;

using test::ps;

/// A clock of 1 ns a unit interval whose edges err each by itself, and walk.
JitterSpec clockOf(double white, double walk, std::uint64_t seed, std::int64_t length = 1 << 18)
{
    JitterSpec spec;
    spec.unitIntervals = length;
    spec.random = white;
    spec.seed = seed;
    spec.symbol = [](std::int64_t n) { return int(n % 2); };
    if (walk > 0) spec.other = [walk, at = 0.0](test::Gaussian &step) mutable { return at += walk * step(); };
    return spec;
}

ClockStability stabilityOf(const JitterEdges &edges)
{
    Progress progress;
    return fulvex::stabilityOf(edges, progress);
}

TEST(ClockStability, OfEdgesThatErrEachForItselfTwoErrorsLieInEveryInterval)
{
    for (const double white : {0.3 * ps, 2 * ps, 20 * ps}) {
        const ClockStability found = stabilityOf(test::makeJitter(clockOf(white, 0, 3)));
        EXPECT_NEAR(found.period, 2e-9, 1e-15);
        ASSERT_GT(found.accumulated.size(), 15u);
        EXPECT_EQ(found.accumulated[0].periods, 0.5);
        EXPECT_EQ(found.accumulated[1].periods, 1);
        for (const auto &one : found.accumulated) {
            EXPECT_NEAR(one.rms, std::sqrt(2) * white, 0.01 * white) << one.periods; // 1 / sqrt(2 * 2^18) = 0.14 %
            EXPECT_GT(one.peakToPeak, 7 * one.rms);
            EXPECT_LT(one.peakToPeak, 12 * one.rms);
        }
    }
}

TEST(ClockStability, OfEdgesThatWalkItGrowsAsTheRootOfTheTime)
{
    const double walk = 0.5 * ps;
    const ClockStability found = stabilityOf(test::makeJitter(clockOf(0, walk, 5)));
    for (const auto &one : found.accumulated) {
        const double steps = 2 * one.periods, independent = double(1 << 18) / steps;
        EXPECT_NEAR(one.rms, walk * std::sqrt(steps), 4 * one.rms / std::sqrt(2 * independent)) << one.periods;
    }
}

TEST(ClockStability, ADutyCycleIsNoJitterOfHalfPeriods)
{
    JitterSpec spec = clockOf(1 * ps, 0, 7);
    spec.dutyDistortion = 80 * ps;
    for (const auto &one : stabilityOf(test::makeJitter(spec)).accumulated)
        EXPECT_NEAR(one.rms, std::sqrt(2) * ps, 0.02 * ps) << one.periods;
}

TEST(ClockStability, DeviationsAreThoseOfWhitePhaseAndOfWhiteFrequencyNoise)
{
    // IEEE Std 1139, table B.2: of white phase noise sigma_y^2 = 3 x^2 / tau^2, and TDEV = x sqrt(tau0 / tau); of white
    // frequency noise that walks by w in tau0, sigma_y^2 = w^2 / (tau0 tau).
    const double x = 2 * ps, w = 0.5 * ps, tau0 = 1e-9;
    const ClockStability white = stabilityOf(test::makeJitter(clockOf(x, 0, 9))),
                         walking = stabilityOf(test::makeJitter(clockOf(0, w, 11)));
    ASSERT_GT(white.deviations.size(), 20u);
    for (const auto &one : white.deviations) {
        const double tolerance = 4 / std::sqrt(2 * one.independent) + 0.005;
        EXPECT_NEAR(one.allan / (std::sqrt(3) * x / one.time), 1, tolerance) << one.time;
        if (one.timeDeviation > 0) {
            EXPECT_NEAR(one.timeDeviation / (x * std::sqrt(tau0 / one.time)), 1, tolerance) << one.time;
        }
    }
    for (const auto &one : walking.deviations)
        EXPECT_NEAR(one.allan / (w / std::sqrt(tau0 * one.time)), 1, 4 / std::sqrt(2 * one.independent) + 0.005)
            << one.time;
    Progress progress;
    const ClockStability::Deviation asked = deviationAt(test::makeJitter(clockOf(x, 0, 9)), 100.4e-9, progress);
    EXPECT_NEAR(asked.time, 100e-9, 1e-15);
    EXPECT_NEAR(asked.allan, std::sqrt(3) * x / 100e-9, 0.1 * std::sqrt(3) * x / 100e-9);
}

TEST(ClockStability, OfDataNumbersOfUnitIntervalsBetweenEdgesCount)
{
    JitterSpec spec = clockOf(2 * ps, 0, 13);
    spec.symbol = test::prbs(9);
    const ClockStability found = stabilityOf(test::makeJitter(spec));
    EXPECT_NEAR(found.period, 1e-9, 1e-15);
    EXPECT_EQ(found.accumulated[0].periods, 1);
    for (const auto &one : found.accumulated) EXPECT_NEAR(one.rms, std::sqrt(2) * 2 * ps, 0.06 * ps) << one.periods;
}

TEST(ClockStability, TooShortARecordGivesNothingRatherThanWrongNumbers)
{
    for (const std::int64_t length : {3, 8, 20}) {
        const ClockStability found = stabilityOf(test::makeJitter(clockOf(1 * ps, 0, 1, length)));
        for (const auto &one : found.accumulated) EXPECT_LE(16 * one.periods, double(length));
        for (const auto &one : found.deviations) EXPECT_LE(4 * one.time, 1e-9 * double(length));
    }
}

TEST(Wander, ACornerSplitsSinesByTheFilterAndTheSumIsLeft)
{
    for (const double frequency : {20e3, 200e3, 2e6}) {
        JitterSpec spec = clockOf(0, 0, 1, 1 << 17);
        spec.lines.push_back({frequency, 10 * ps});
        const JitterEdges edges = test::makeJitter(spec);
        const double corner = 200e3;
        const std::vector<double> wander = wanderOf(edges, corner);
        double most = 0; // away from the ends, where the filter begins
        for (std::size_t i = edges.size() / 4; i < 3 * edges.size() / 4; ++i)
            most = std::max(most, std::abs(wander[i]));
        // First order, twice, with half of the power at the corner.
        const double each = corner / std::sqrt(std::sqrt(2) - 1), gain = 1 / (1 + std::pow(frequency / each, 2));
        EXPECT_NEAR(most, 10 * ps * gain, 0.02 * 10 * ps) << frequency;
    }
}

TEST(LineStrength, ComesAndGoesAsTheLineDoes)
{
    JitterSpec spec = clockOf(1 * ps, 0, 15, 1 << 17);
    const double frequency = 2.2e6;
    std::int64_t n = 0;
    spec.other = [&](test::Gaussian &) { // on in the second quarter alone
        const double at = double(n++) / double(spec.unitIntervals);
        return at >= 0.25 && at < 0.5 ? 8 * ps * std::sin(turn * frequency * spec.unitInterval * double(n)) : 0;
    };
    const JitterEdges edges = test::makeJitter(spec);
    Progress progress;
    const auto parts = lineStrength(edges, edges.errors, frequency, 32, progress);
    ASSERT_EQ(parts.size(), 32u);
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (i == 7 || i == 8 || i == 15 || i == 16) continue; // where it begins and ends
        const bool on = i > 8 && i < 15;
        EXPECT_NEAR(parts[i].amplitude, on ? 8 * ps : 0, 5 * parts[i].uncertainty) << i;
        EXPECT_NEAR(parts[i].uncertainty, ps * std::sqrt(2.0 / 4096), 0.2 * ps * std::sqrt(2.0 / 4096));
    }
    EXPECT_TRUE(lineStrength(edges, edges.errors, 10e3, 32, progress).empty()); // not eight cycles
    EXPECT_TRUE(meansLine(2.2e6, 2.21e6));
    EXPECT_FALSE(meansLine(2.2e6, 2.3e6));
}

} // namespace
} // namespace fulvex
