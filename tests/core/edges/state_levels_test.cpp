#include "edge_finder.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

StateLevels statesOf(const std::vector<double> &values)
{
    Progress progress;
    const SourcePtr source = makeMemorySource(values, 1e-9);
    return histogramStates(surveyAmplitudes(*source, {0, std::int64_t(values.size())}, progress).histogram);
}

} // namespace

/// A sine rests nowhere but turns at its ends: there are the modes, whether the sampling meets the same phases again
/// (all amplitudes as often as each other) or not. The last of 25 such amplitudes is cos(3.6 degrees) of the whole.
TEST(StateLevels, OfASineAreWhereItTurns)
{
    for (const double perPeriod : {50.0, 20.0, 71.43, 50.0001}) {
        for (const double noise : {0.0, 1e-4, 1e-3}) {
            test::Gaussian random(3);
            std::vector<double> values(50000);
            for (std::size_t i = 0; i < values.size(); ++i)
                values[i] = 0.7 + 0.2 * std::sin(2 * std::numbers::pi * double(i) / perPeriod + 0.1) + noise * random();
            const StateLevels states = statesOf(values);
            EXPECT_NEAR(states.high, 0.9, 0.2 * 0.02 + 3 * noise) << perPeriod << " " << noise;
            EXPECT_NEAR(states.low, 0.5, 0.2 * 0.02 + 3 * noise) << perPeriod << " " << noise;
        }
    }
}

/// Transitions pass the inner side of a state only; half of all samples are theirs here. Over 50 records the mean of
/// what is found strays from the truth by its scatter over the root of 50, and may be off by a tenth of the noise.
TEST(StateLevels, AreNotDrawnInwardsByTransitions)
{
    for (const double noise : {0.002, 0.01}) {
        double high = 0, squares = 0;
        constexpr int records = 50;
        for (std::uint64_t seed = 1; seed <= records; ++seed) {
            test::Gaussian random(seed);
            std::vector<double> values(20000);
            for (std::size_t i = 0; i < values.size(); ++i) {
                const double along = std::fmod(double(i) * 1.0013, 100); // 25 up, 25 of rest, and back
                const double level = std::clamp(along < 50 ? along / 25 : 3 - along / 25, 0.0, 1.0);
                values[i] = level + noise * random();
            }
            const double off = statesOf(values).high - 1;
            high += off / records;
            squares += off * off / records;
        }
        EXPECT_LT(std::abs(high), 4 * std::sqrt(squares / records) + noise / 10) << noise;
        EXPECT_LT(std::sqrt(squares), noise) << noise;
    }
}

/// Of more levels the outermost are the states, where they are as often as the others.
TEST(StateLevels, OfSeveralLevelsAreTheOutermost)
{
    test::Gaussian random(9);
    std::vector<double> values;
    for (int i = 0; i < 4000; ++i) values.insert(values.end(), 10, double(int(4 * random.uniform())) / 3);
    for (double &v : values) v += 0.005 * random();
    const StateLevels states = statesOf(values);
    EXPECT_NEAR(states.low, 0, 0.002);
    EXPECT_NEAR(states.high, 1, 0.002);
}

/// What rings past a state, or a glitch beyond it, is no state.
TEST(StateLevels, WhatIsSeldomIsNone)
{
    test::Gaussian random(5);
    std::vector<double> values;
    for (int i = 0; i < 500; ++i) {
        values.insert(values.end(), 40, 0.0);
        values.insert(values.end(), 5, 1.2); // over, for an eighth of the time
        values.insert(values.end(), 35, 1.0);
    }
    for (double &v : values) v += 0.003 * random();
    EXPECT_NEAR(statesOf(values).high, 1, 0.001);
    EXPECT_NEAR(statesOf(values).low, 0, 0.001);
}
