// Weights of many samples at once, against the sums of cosines that windows are.

#include "window.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

constexpr Window windows[] = {Window::hann, Window::rectangular, Window::flatTop, Window::blackmanHarris,
                              Window::sevenTerms};

} // namespace

TEST(Window, WeightsOfManySamplesAreThoseOfEach)
{
    for (const Window window : windows) {
        for (const std::size_t length : {1, 2, 7, 64, 4095, 4096, 4097, 10'001}) {
            const std::vector<double> weights = windowWeights(window, length);
            ASSERT_EQ(weights.size(), length);
            for (std::size_t i = 0; i < length; ++i)
                ASSERT_EQ(weights[i], windowAt(window, (double(i) + 0.5) / double(length))) << length << " " << i;
        }
    }
    EXPECT_TRUE(windowWeights(Window::hann, 0).empty());
}

/// The sum of a window over its length is its first term, and of each of its cosines half of that term: what is added
/// up has whole cycles. So the terms that the standards give come back.
TEST(Window, IsMadeOfTheTermsThatItsSourceGives)
{
    const std::vector<std::vector<double>> terms{{0.5, -0.5},
                                                 {1},
                                                 {0.21557895, -0.41663158, 0.277263158, -0.083578947, 0.006947368},
                                                 {0.35875, -0.48829, 0.14128, -0.01168},
                                                 {0.27105140069342, -0.43329793923448, 0.21812299954311,
                                                  -0.06592544638803, 0.01081174209837, -0.00077658482522,
                                                  0.00001388721735}};
    for (std::size_t which = 0; which < std::size(windows); ++which) {
        constexpr std::size_t length = 64;
        const std::vector<double> weights = windowWeights(windows[which], length);
        for (std::size_t k = 0; k < 10; ++k) {
            double sum = 0;
            for (std::size_t i = 0; i < length; ++i)
                sum += weights[i] * std::cos(2 * std::numbers::pi * double(k) * (double(i) + 0.5) / double(length));
            const double expected = k < terms[which].size() ? terms[which][k] / (k ? 2 : 1) : 0;
            EXPECT_NEAR(sum / double(length), expected, 1e-15) << which << " " << k;
        }
    }
}
