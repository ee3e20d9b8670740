#include "jitter_signal.h"
#include "phase_noise.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace fulvex {
namespace {

using test::JitterSpec;

constexpr double ps = 1e-12, turn = 2 * std::numbers::pi;

PhaseNoise noiseOf(const JitterSpec &spec)
{
    Progress progress;
    return phaseNoiseOf(test::makeJitter(spec), progress);
}

/// A clock's edges, of white phase noise and of white frequency noise, which walks: what L is at an offset.
struct Carrier {
    JitterSpec spec;
    double white, walk; ///< s rms, and s rms from edge to edge
    Carrier(double whiteRms, double walkRms, std::uint64_t seed) : white(whiteRms), walk(walkRms)
    {
        spec.unitInterval = 1e-9;
        spec.unitIntervals = 1 << 20;
        spec.random = whiteRms;
        spec.seed = seed;
        spec.symbol = [](std::int64_t n) { return int(n % 2); };
        spec.other = [walkRms, at = 0.0](test::Gaussian &step) mutable { return at += walkRms * step(); };
    }
    double level(double offset) const
    {
        // One-sided: white has 2 T rms^2; a sum of steps has 2 T rms^2 / |1 - exp(-i 2 pi f T)|^2.
        const double T = spec.unitInterval, radians = turn * (0.5 / T), half = std::sin(turn * offset * T / 2);
        return 10 * std::log10(radians * radians * T * (white * white + walk * walk / (4 * half * half)));
    }
};

TEST(PhaseNoise, IsThatOfTheCarrierOverAllThatTheRecordTells)
{
    for (std::uint64_t seed = 1; seed <= 4; ++seed) {
        const Carrier made(2 * ps, 0.02 * ps, seed);
        const PhaseNoise found = noiseOf(made.spec);
        EXPECT_NEAR(found.carrier, 500e6, 1);
        EXPECT_FALSE(found.ofData);
        EXPECT_NEAR(found.lowest, 4 / (1e-9 * (1 << 20)), 1);
        EXPECT_NEAR(found.highest, 500e6, 1e3);
        EXPECT_TRUE(found.lines.empty()) << found.lines.front().offset;
        for (const double offset : {10e3, 30e3, 100e3, 300e3, 1e6, 3e6, 10e6, 30e6, 100e6, 300e6}) {
            const auto at = found.at(offset);
            ASSERT_TRUE(at) << offset;
            EXPECT_NEAR(at->value, made.level(offset), std::max(0.5, 4 * at->uncertainty)) << offset;
        }
        EXPECT_FALSE(found.at(3e3));
        EXPECT_FALSE(found.at(501e6));
    }
}

TEST(PhaseNoise, IntegratesToTheJitterBetweenTwoOffsets)
{
    const Carrier made(2 * ps, 0.02 * ps, 7);
    const PhaseNoise found = noiseOf(made.spec);
    for (const auto &[from, to] : {std::pair(50e3, 2e6), std::pair(1e6, 400e6), std::pair(33e6, 47e6)}) {
        double squares = 0; // by steps of a thousandth
        constexpr int steps = 20000;
        const double ratio = std::pow(to / from, 1.0 / steps);
        for (double f = from; f < to * (1 - 1e-9); f *= ratio)
            squares += 2 * std::pow(10, made.level(f * std::sqrt(ratio)) / 10) * f * (ratio - 1);
        const double rms = std::sqrt(squares) / (turn * 500e6);
        const PhaseNoise::Value jitter = found.jitter(from, to, false);
        EXPECT_NEAR(jitter.value, rms, std::max(0.03 * rms, 4 * jitter.uncertainty)) << from;
        EXPECT_LT(jitter.uncertainty, 0.1 * rms);
    }
}

TEST(PhaseNoise, LinesAreListedAndLeftOut)
{
    Carrier made(1 * ps, 0, 9);
    for (const auto &[offset, amplitude] :
         {std::pair(123.4e3, 0.5 * ps), std::pair(2.5131e6, 2 * ps), std::pair(71e6, 1 * ps)})
        made.spec.lines.push_back({offset, amplitude});
    const PhaseNoise found = noiseOf(made.spec);
    ASSERT_EQ(found.lines.size(), 3u);
    for (std::size_t i = 0; i < 3; ++i) {
        const JitterSpec::Line &line = made.spec.lines[i];
        const double beta = turn * 500e6 * line.amplitude; // a sideband is half of it
        EXPECT_NEAR(found.lines[i].offset, line.frequency, 0.003 * line.frequency);
        EXPECT_NEAR(found.lines[i].level, 20 * std::log10(beta / 2), 0.3);
        EXPECT_NEAR(found.at(line.frequency)->value, made.level(line.frequency),
                    std::max(0.5, 4 * found.at(line.frequency)->uncertainty));
    }
    const double without = found.jitter(1e6, 10e6, false).value, with = found.jitter(1e6, 10e6, true).value;
    EXPECT_NEAR(with * with - without * without, 2 * ps * ps, 0.06 * ps * ps);
}

TEST(PhaseNoise, ADutyCycleIsNone)
{
    Carrier made(1 * ps, 0, 11);
    made.spec.dutyDistortion = 40 * ps;
    const PhaseNoise found = noiseOf(made.spec);
    EXPECT_TRUE(found.lines.empty());
    EXPECT_NEAR(found.jitter(1e6, 499e6, false).value, 1 * ps, 0.03 * ps);
}

TEST(PhaseNoise, OfDataReachesToWhereEdgesAreMissing)
{
    Carrier made(0, 0.05 * ps, 13);
    made.spec.symbol = test::prbs(15);
    const PhaseNoise found = noiseOf(made.spec);
    EXPECT_TRUE(found.ofData);
    EXPECT_NEAR(found.carrier, 1e9, 1);
    EXPECT_NEAR(found.highest, 50e6, 1e6);
    // The walk goes a step an edge, every other unit interval: half of its power; the carrier is twice the other.
    for (const double offset : {30e3, 300e3, 3e6, 30e6}) {
        const auto at = found.at(offset);
        ASSERT_TRUE(at);
        EXPECT_NEAR(at->value, made.level(offset) + 10 * std::log10(2), std::max(0.7, 4 * at->uncertainty)) << offset;
    }
}

TEST(PhaseNoise, TooFewEdgesAreSaid)
{
    JitterSpec spec;
    spec.unitIntervals = 200;
    EXPECT_NE(noiseOf(spec).reason, "");
}

} // namespace
} // namespace fulvex
