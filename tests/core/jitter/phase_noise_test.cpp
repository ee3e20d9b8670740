#include "jitter_signal.h"
#include "phase_noise.h"
#include "phase_noise_limit.h"
#include "turn.h"
#include "units.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

namespace fulvex {
namespace {

using test::JitterSpec;

using test::ps;

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

/// Several decades of one spectrum, each with its own part of it and what at() looks at around that.
TEST(PhaseNoise, KeepsOfSpectraWhatOffsetsAreToldBy)
{
    const PhaseNoise found = noiseOf(Carrier(2 * ps, 0.02 * ps, 5).spec);
    ASSERT_GT(found.pieces.size(), 4u);
    std::size_t lines = 0;
    for (std::size_t i = 0; i < found.pieces.size(); ++i) {
        const PhaseNoise::Piece &piece = found.pieces[i];
        lines += piece.power.density.size();
        EXPECT_EQ(piece.noise.size(), piece.power.density.size());
        EXPECT_GT(piece.power.step * double(piece.noise.size()), std::min(1.05 * piece.to, found.highest)) << i;
        EXPECT_LT(piece.power.step * double(piece.noise.size()), 1.25 * piece.to + 257 * piece.power.step) << i;
        if (i == 0 || found.pieces[i - 1].power.step != piece.power.step) continue;
        const auto &before = found.pieces[i - 1].power.density;
        EXPECT_TRUE(std::equal(before.begin(), before.end(), piece.power.density.begin())) << i;
    }
    EXPECT_EQ(found.pieces[0].power.step, found.pieces[1].power.step);
    EXPECT_LT(lines, std::size_t(100000)); // of half a million that the longest spectrum alone has
}

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
        const PhaseNoise::Value jitter = found.jitter({from, to});
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
    const double without = found.jitter({1e6, 10e6}).value, with = found.jitter({1e6, 10e6, true, {}}).value;
    EXPECT_NEAR(with * with - without * without, 2 * ps * ps, 0.06 * ps * ps);
}

TEST(PhaseNoise, ADutyCycleIsNone)
{
    Carrier made(1 * ps, 0, 11);
    made.spec.dutyDistortion = 40 * ps;
    const PhaseNoise found = noiseOf(made.spec);
    EXPECT_TRUE(found.lines.empty());
    EXPECT_NEAR(found.jitter({1e6, 499e6}).value, 1 * ps, 0.03 * ps);
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

TEST(PhaseNoise, ItsCurveIsThatOfTheCarrierAndItsJitterIsGatheredFromLineToLine)
{
    Carrier made(2 * ps, 0.02 * ps, 17);
    made.spec.lines.push_back({2.5131e6, 3 * ps});
    const PhaseNoise found = noiseOf(made.spec);
    const auto curve = found.curve(0, INFINITY, 60);
    ASSERT_EQ(curve.size(), 60u);
    EXPECT_GT(curve.front().offset, found.lowest);
    EXPECT_LT(curve.back().offset, found.highest);
    for (const PhaseNoise::Point &point : curve) {
        if (point.offset < 30e3) continue; // one line each: nothing to compare
        EXPECT_NEAR(point.value, made.level(point.offset), 5 * found.at(point.offset)->uncertainty + 0.3)
            << point.offset;
    }

    PhaseNoiseSpan span{100e3, 100e6, true, {}};
    const auto gathered = found.cumulated(span, 100);
    ASSERT_EQ(gathered.size(), 101u);
    EXPECT_EQ(gathered.front().value, 0);
    EXPECT_NEAR(gathered.back().value, found.jitter(span).value, 1e-6 * found.jitter(span).value);
    for (std::size_t i = 1; i < gathered.size(); ++i) EXPECT_GE(gathered[i].value, gathered[i - 1].value);
    const auto at = [&](double offset) {
        return std::find_if(gathered.begin(), gathered.end(), [&](const auto &one) { return one.offset > offset; })
            ->value;
    };
    EXPECT_NEAR(std::pow(at(2.9e6), 2) - std::pow(at(2.1e6), 2), 9 * ps * ps / 2, 0.4 * ps * ps);

    span.except = {2.5e6}; // the line is left out after all
    EXPECT_FALSE(span.counts(found.lines[0].offset));
    EXPECT_NEAR(found.jitter(span).value, found.jitter({100e3, 100e6}).value, 1e-9 * ps);
    span.lines = false; // and this one counts alone
    EXPECT_NEAR(found.jitter(span).value, found.jitter({100e3, 100e6, true, {}}).value, 1e-9 * ps);
}

TEST(PhaseNoise, OfSeveralRecordsIsTheirMeanAndTellsWeakerLines)
{
    std::vector<PhaseNoise> records;
    for (std::uint64_t seed = 21; seed < 29; ++seed) {
        Carrier made(2 * ps, 0, seed);
        made.spec.unitIntervals = (1 << 16) + std::int64_t(seed); // none quite as long as another
        made.spec.unitInterval *= 1 + 1e-6 * double(seed);
        made.spec.lines.push_back({3.1e6, 0.06 * ps, double(seed)});
        records.push_back(noiseOf(made.spec));
    }
    std::vector<const PhaseNoise *> all;
    for (const PhaseNoise &record : records) all.push_back(&record);
    const PhaseNoise merged = PhaseNoise::merged(all);
    EXPECT_EQ(merged.reason, "");
    EXPECT_EQ(merged.records, 8);
    EXPECT_EQ(merged.edges, std::accumulate(records.begin(), records.end(), std::int64_t(0),
                                            [](auto sum, auto &one) { return sum + one.edges; }));
    const Carrier truth(2 * ps, 0, 0);
    for (const double offset : {200e3, 1e6, 10e6, 100e6}) {
        const auto one = records[0].at(offset), mean = merged.at(offset);
        ASSERT_TRUE(one && mean);
        EXPECT_NEAR(mean->uncertainty, one->uncertainty / std::sqrt(8), 0.02 * one->uncertainty);
        EXPECT_NEAR(mean->value, truth.level(offset), 4 * mean->uncertainty + 0.05) << offset;
    }
    EXPECT_TRUE(records[0].lines.empty());
    ASSERT_EQ(merged.lines.size(), 1u);
    EXPECT_NEAR(merged.lines[0].offset, 3.1e6, 5e3);

    Carrier other(2 * ps, 0, 30);
    other.spec.unitInterval = 2e-9;
    const PhaseNoise another = noiseOf(other.spec);
    EXPECT_NE(PhaseNoise::merged(std::vector<const PhaseNoise *>{&records[0], &another}).reason, "");
}

TEST(PhaseNoise, WhatErrsAtInstantsIsWhitePhaseNoise)
{
    const Carrier made(3 * ps, 0, 5);
    EXPECT_NEAR(levelOfInstants(500e6, 1e-9, 3 * ps), made.level(1e6), 1e-9);
    EXPECT_NEAR(recordFor(1e3), 4e-3, 1e-12);
}

TEST(PhaseNoiseLimit, IsStraightOverTheLogarithmAndTheWorstPlaceIsTold)
{
    const PhaseNoiseLimit limit{{1e3, 1e5, 1e6}, {-80, -120, -120}};
    EXPECT_NEAR(*limit.at(1e4), -100, 1e-9);
    EXPECT_NEAR(*limit.at(1e3), -80, 1e-9);
    EXPECT_NEAR(*limit.at(1e6), -120, 1e-9);
    EXPECT_FALSE(limit.at(999));
    EXPECT_FALSE(limit.at(1.001e6));

    const Carrier made(2 * ps, 0.02 * ps, 17);
    const PhaseNoise found = noiseOf(made.spec);
    const auto around = [&](double offset, double below) {
        return PhaseNoiseLimit{{offset / 10, offset, offset * 10},
                               {made.level(offset / 10) + 20, made.level(offset) + below, made.level(offset * 10) + 20}}
            .check(found);
    };
    const auto passes = around(1e6, 3), fails = around(1e6, -3);
    EXPECT_TRUE(passes.passes && passes.whole);
    EXPECT_FALSE(fails.passes);
    ASSERT_TRUE(passes.worst && fails.worst);
    EXPECT_NEAR(passes.worst->offset, 1e6, 0.3e6);
    EXPECT_NEAR(passes.worst->value, 3, 1);
    EXPECT_NEAR(fails.worst->value, -3, 1);
    EXPECT_FALSE((PhaseNoiseLimit{{10, 1e6}, {0, 0}}.check(found).whole));
    EXPECT_FALSE((PhaseNoiseLimit{{1, 10}, {0, 0}}.check(found).worst));
}

TEST(PhaseNoise, TooFewEdgesAreSaid)
{
    JitterSpec spec;
    spec.unitIntervals = 200;
    EXPECT_NE(noiseOf(spec).reason, "");
}

} // namespace
} // namespace fulvex
