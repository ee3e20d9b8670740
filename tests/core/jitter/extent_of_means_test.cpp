#include "extent_of_means.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>
#include <vector>

namespace fulvex {
namespace {

TEST(ExtentOfMeans, OfTwoThatAreFarApartIsTheirDifference)
{
    const std::vector<UncertainMean> two{{-10, 0.3}, {25, 0.4}, {3, 1}};
    const ExtentOfMeans found = extentOf(two);
    EXPECT_NEAR(found.extent, 35, 0.01); // the third is near neither
    EXPECT_NEAR(found.uncertainty, 0.5, 0.01);
    EXPECT_EQ(extentOf(std::vector<UncertainMean>()).extent, 0);
    EXPECT_EQ(extentOf(std::vector<UncertainMean>{{4, 1}}).extent, 0);
    const ExtentOfMeans sure = extentOf(std::vector<UncertainMean>{{1, 0}, {4, 0}});
    EXPECT_EQ(sure.extent, 3);
    EXPECT_EQ(sure.uncertainty, 0);
}

TEST(ExtentOfMeans, TakesOffWhatChanceAdds)
{
    // Four means at each of two values ten apart, each told with a standard error of one: the highest of four
    // normal values lies 1.029 above their mean (H. L. Harter, Biometrika 48 (1961)), so that the told extent is 2.06
    // too long on the average.
    constexpr int seeds = 500, of = 4;
    double off = 0, told = 0;
    int held = 0;
    for (int seed = 1; seed <= seeds; ++seed) {
        test::Gaussian chance{std::uint64_t(seed)};
        std::vector<UncertainMean> means;
        double least = INFINITY, most = -INFINITY;
        for (int i = 0; i < 2 * of; ++i) {
            means.push_back({(i % 2 ? 10 : 0) + chance(), 1});
            least = std::min(least, means.back().mean);
            most = std::max(most, means.back().mean);
        }
        const ExtentOfMeans found = extentOf(means);
        told += (most - least - 10) / seeds;
        off += (found.extent - 10) / seeds;
        held += std::abs(found.extent - 10) <= 2 * found.uncertainty;
    }
    EXPECT_NEAR(told, 2 * 1.029, 0.15);
    EXPECT_LT(std::abs(off), 0.6 * told); // what is told lies farther apart than what is: not all of it can be known
    EXPECT_GE(held, seeds * 9 / 10);
}

} // namespace
} // namespace fulvex
