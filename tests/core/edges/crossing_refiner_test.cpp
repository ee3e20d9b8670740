#include "crossing_refiner.h"
#include "edge_finder.h"
#include "signals.h"
#include "sinc_kernel.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

/// Noise of all frequencies up to half the sample rate bends between any two samples, twice at times: where Newton's
/// method leaves the interval, the passage is found all the same. What is left there is the quartic's own error: of a
/// curve that stays within A it is A pi^5 / 5! times the highest of x (x - 1/4) … (x - 1), 3.5e-3, so 0.009 A.
TEST(CrossingRefiner, FindsThePassageHoweverTheCurveBends)
{
    test::Gaussian random(11);
    std::vector<double> values(200000);
    for (double &v : values) v = 2 * random.uniform() - 1;
    const SourcePtr source = makeMemorySource(values, 1e-9);
    SampleWindow window(*source);
    constexpr double largest = 4; // that such noise reaches between its samples
    int passages = 0;
    for (std::size_t left = SincKernel::taps; left + 1 + SincKernel::taps < values.size(); ++left) {
        const double a = values[left], b = values[left + 1];
        if (!(a * b < 0)) continue;
        ++passages;
        const double refined = refinedCrossing(window, double(left) + a / (a - b), 0, b > a);
        const double share = refined - double(left);
        ASSERT_GE(share, 0) << left;
        ASSERT_LE(share, 1) << left;
        const SincKernel::Row row = SincKernel::row(share);
        double there = 0;
        for (std::size_t k = 0; k < SincKernel::taps; ++k) there += row[k] * values[left - SincKernel::before + k];
        ASSERT_LT(std::abs(there), 0.009 * largest) << left << ": " << share;
    }
    EXPECT_GT(passages, 90000);
}

/// Sixteen side by side give what one at a time gives, whatever their number and whatever stands in the way.
TEST(CrossingRefiner, ManyAgreeWithOne)
{
    test::Data data = test::makeBandLimitedData(4.3, 400, 3);
    for (const std::size_t gap : {300u, 301u, 900u}) data.volts[gap] = NAN;
    const SourcePtr source = data.source();
    Progress progress;
    const EdgeList linear = findLinearEdges(*source, {0, source->axis().count}, crossingLevel(0, 0.08), progress);
    SampleWindow window(*source);
    for (const std::size_t count : {0u, 1u, 15u, 16u, 17u, 100u}) {
        std::vector<double> many(linear.positions.begin(), linear.positions.begin() + std::ptrdiff_t(count));
        refineCrossings(window, 0, many, std::span(linear.flags).first(count));
        for (std::size_t i = 0; i < count; ++i)
            ASSERT_NEAR(many[i], refinedCrossing(window, linear.positions[i], 0, linear.isRising(i)), 1e-8) << i;
    }
}

/// A window keeps few blocks of samples: those about sixteen crossings may lie in one, in two, or in sixteen.
TEST(CrossingRefiner, CrossingsMayLieFarApartAndInAnyOrder)
{
    const test::Data data = test::makeBandLimitedData(4.3, 60000, 4);
    const SourcePtr source = data.source();
    Progress progress;
    const EdgeList linear = findLinearEdges(*source, {0, source->axis().count}, crossingLevel(0, 0.08), progress);
    for (const std::size_t apart : {1u, 130u, 1000u}) {
        std::vector<double> many;
        std::vector<std::uint8_t> flags;
        for (std::size_t edge = 0; edge < linear.size() && many.size() < 100; edge += apart) {
            many.push_back(linear.positions[edge]);
            flags.push_back(linear.flags[edge]);
        }
        for (const bool backwards : {false, true}) {
            if (backwards) {
                std::reverse(many.begin(), many.end());
                std::reverse(flags.begin(), flags.end());
            }
            std::vector<double> refined = many;
            SampleWindow window(*source);
            refineCrossings(window, 0, refined, flags);
            for (std::size_t i = 0; i < many.size(); ++i)
                ASSERT_NEAR(refined[i], refinedCrossing(window, many[i], 0, flags[i] & EdgeList::rising), 1e-8)
                    << apart << " " << i;
        }
    }
}
