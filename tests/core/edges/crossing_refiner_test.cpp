#include "crossing_refiner.h"
#include "signals.h"
#include "sinc_kernel.h"

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
