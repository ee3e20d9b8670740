#include "windowed_taps.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

/// Of symmetric taps, about their middle one.
double gainOf(const std::vector<double> &taps, double frequency)
{
    const std::size_t middle = taps.size() / 2;
    double gain = taps[middle];
    for (std::size_t k = 1; k <= middle; ++k)
        gain += 2 * taps[middle + k] * std::cos(2 * std::numbers::pi * frequency * double(k));
    return gain;
}

} // namespace

/// A Kaiser window of 60 dB falls from one band's ripple to the other's within a transition about the place where half
/// is left, and a corner, where 0.707 is, lies 0.12 to 0.15 of it before that: so from 0.7 transitions beyond the
/// corner on nothing passes, and up to half of one before it all does. Where two edges meet their ripples add up.
TEST(WindowedTaps, PassWhatTheyShallAndNothingElse)
{
    constexpr double ripple = 1.15e-3; // 60 dB, and what the design's formula is off by
    for (const FilterPass pass : {FilterPass::low, FilterPass::high, FilterPass::band, FilterPass::stop}) {
        for (const double transition : {0.01, 0.02, 0.04}) {
            for (const double corner : {0.06, 0.11, 0.2}) {
                const bool two = pass == FilterPass::band || pass == FilterPass::stop;
                const double low = corner, high = two ? corner + 0.15 : 0;
                const std::vector<double> taps = windowedTaps(pass, low, high, transition);
                SCOPED_TRACE(testing::Message() << int(pass) << " " << corner << " " << transition);
                ASSERT_EQ(taps.size() % 2, 1U);
                EXPECT_EQ(double(taps.size()), tapsFor(transition));
                for (std::size_t k = 0; k < taps.size(); ++k) ASSERT_EQ(taps[k], taps[taps.size() - 1 - k]);
                const bool passesZero = pass == FilterPass::low || pass == FilterPass::stop;
                EXPECT_NEAR(gainOf(taps, 0), passesZero, 1e-12);
                EXPECT_NEAR(gainOf(taps, low), std::sqrt(0.5), two ? ripple : 1e-9);
                if (two) {
                    EXPECT_NEAR(gainOf(taps, high), std::sqrt(0.5), ripple);
                }
                const double beyond = 0.7 * transition, before = 0.5 * transition, most = two ? 2 * ripple : ripple;
                for (double f = 0; f <= 0.5; f += 0.0007) {
                    // How far inside of what passes: the nearest edge counts.
                    double inside = pass == FilterPass::low ? low - f : f - low;
                    if (two) inside = std::min(f - low, high - f) * (pass == FilterPass::stop ? -1 : 1);
                    if (inside >= before) {
                        EXPECT_NEAR(gainOf(taps, f), 1, most) << f;
                    }
                    if (inside <= -beyond) {
                        EXPECT_NEAR(gainOf(taps, f), 0, most) << f;
                    }
                }
            }
        }
    }
}

/// As many as Kaiser's formula takes for the width: a filter half as wide has twice as many.
TEST(WindowedTaps, AreAsManyAsTheTransitionTakes)
{
    EXPECT_EQ(tapsFor(0.01), 365);
    EXPECT_EQ(tapsFor(0.02), 183);
    EXPECT_EQ(tapsFor(0.1), 39);
}
