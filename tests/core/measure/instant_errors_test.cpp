#include "edge_finder.h"
#include "instant_errors.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

using namespace fulvex;

namespace {

/// Pulses of 0 and 1 with ramps, in noise, rounded to steps (0: not at all).
std::vector<double> pulses(double period, double ramp, double noise, double step)
{
    test::Gaussian random(5);
    std::vector<double> values(60000);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const double at = std::fmod(double(i), period);
        double v = std::clamp(at / ramp, 0.0, 1.0) - std::clamp((at - period / 2) / ramp, 0.0, 1.0) + noise * random();
        if (step > 0) v = step * std::round(v / step);
        values[i] = v;
    }
    return values;
}

} // namespace

/// Whatever the edges and the converter's steps: the tenth of n values is known to 3 / sqrt(n) of the value, some 2 %
/// of 60000 that hang together by threes. Edges take 2 to 20 % of the samples here, by which the tenth lies as much
/// higher. Noise of half a step and less is known to a quarter.
TEST(SampleNoise, IsThatOfTheSamplesOffTheEdges)
{
    for (const double noise : {0.002, 0.02}) {
        for (const double step : {0.0, 0.001, 0.004}) {
            const double all = std::hypot(noise, step / std::sqrt(12.0));
            for (const double period : {40.0, 400.0}) {
                const double found = sampleNoise(*makeMemorySource(pulses(period, 3, noise, step), 1), {0, 60000});
                EXPECT_GT(found, (step > noise ? 0.75 : 0.9) * all) << noise << " " << step << " " << period;
                EXPECT_LT(found, (period < 100 ? 1.5 : 1.1) * all) << noise << " " << step << " " << period;
            }
        }
    }
    EXPECT_EQ(sampleNoise(*makeMemorySource(std::vector<double>(5000, 0.7), 1), {0, 5000}), 0);
    EXPECT_EQ(sampleNoise(*makeMemorySource({1, 2}, 1), {0, 2}), 0);
}

/// A slope is that of the ramp also where noise is several times what it rises from sample to sample.
TEST(InstantErrors, TakeASlopeFromAsFarApartAsNoiseAsksFor)
{
    for (const double ramp : {10.0, 100.0, 1000.0}) {
        constexpr double noise = 0.01;
        const SourcePtr source = makeMemorySource(pulses(3 * ramp, ramp, noise, 0), 1);
        std::vector<double> places; // where it rises through the middle
        for (double at = 3 * ramp + ramp / 2; at < 58000; at += 3 * ramp) places.push_back(at);
        const InstantErrors errors = instantErrors(*source, places, false, noise);
        // The median of chords that rise by 8 noises or more: sqrt(2) / 8 each, and 1.25 over the root of their number.
        EXPECT_NEAR(errors.slope * ramp, 1, 4 * 1.25 * std::sqrt(2.0) / 8 / std::sqrt(double(places.size()))) << ramp;
    }
}

/// Places where the signal rests tell nothing of how steep its edges are, however many they are.
TEST(InstantErrors, LeaveOutPlacesThatHaveNoSlope)
{
    constexpr double ramp = 10;
    const SourcePtr source = makeMemorySource(pulses(20 * ramp, ramp, 0, 0), 1);
    std::vector<double> places;
    for (double at = 0; at < 58000; at += 20 * ramp) {
        places.push_back(at + ramp / 2);
        for (const double resting : {3.0, 4.0, 5.0}) places.push_back(at + resting * ramp);
    }
    EXPECT_NEAR(instantErrors(*source, places, false, 0).slope, 1 / ramp, 1e-12);
}

/// Some of many, in groups over all of the record; all of few.
TEST(SomePulses, AreWholeOnesFromAllOverTheRecord)
{
    for (const std::size_t count : {9u, 600u, 5000u}) {
        for (const bool rising : {true, false}) {
            EdgeList edges;
            for (std::size_t i = 0; i < count; ++i) {
                edges.positions.push_back(10.0 * double(i));
                edges.flags.push_back(i % 2 ? 0 : EdgeList::rising);
            }
            const EdgeList some = somePulses(edges, rising);
            const std::vector<double> places = somePlaces(edges, rising);
            ASSERT_FALSE(places.empty());
            EXPECT_LE(places.size(), 300u);
            EXPECT_LT(places.front(), 0.1 * 10 * double(count) + 20);
            EXPECT_GT(places.back(), 0.9 * 10 * double(count) - 30);
            for (std::size_t i = 0; i + 1 < some.size(); ++i) {
                if (some.isRising(i) != rising) continue;
                EXPECT_EQ(some.positions[i + 1] - some.positions[i], 10) << i;
            }
        }
    }
}

/// The highest sample of a noisy crest strays as a simulation says: of a sine of few and of many samples a period, and
/// of a flat top, over which it lies evenly. To half of it.
TEST(CrestWander, IsHowFarTheHighestSampleStrays)
{
    constexpr double noise = 0.01;
    constexpr int runs = 400;
    struct Crest {
        double perPeriod;
        int flat;
    };
    for (const Crest crest : {Crest{20, 0}, Crest{200, 0}, Crest{2000, 0}, Crest{40, 100}}) {
        const double w = 2 * std::numbers::pi / crest.perPeriod;
        const int half = int(crest.perPeriod / 4) + crest.flat;
        double squares = 0, told = 0;
        for (int run = 0; run < runs; ++run) {
            test::Gaussian random(std::uint64_t(run) + 77);
            std::vector<double> values;
            for (int i = -half; i <= half; ++i) {
                const double beyond = std::max(0, std::abs(i) - crest.flat);
                values.push_back(std::cos(w * beyond) + noise * random());
            }
            const auto top = std::max_element(values.begin() + 1, values.end() - 1);
            const double bend = top[-1] - 2 * *top + top[1];
            const double at = double(top - values.begin()) + 0.5 * (top[-1] - top[1]) / bend;
            squares += (at - half) * (at - half);
            const double one = crestWander(*makeMemorySource(values, 1), {at}, noise);
            told += one * one;
        }
        const double ratio = std::sqrt(told / squares);
        EXPECT_LT(ratio, 1.5) << crest.perPeriod << " " << crest.flat;
        EXPECT_GT(ratio, 1 / 1.5) << crest.perPeriod << " " << crest.flat;
    }
}
