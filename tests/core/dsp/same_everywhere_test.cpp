#include "same_everywhere.h"
#include "signals.h"
#include "sinc_kernel.h"

#include <bit>
#include <cmath>
#include <numbers>
#include <span>
#include <vector>

using namespace fulvex;

TEST(SameEverywhere, SineAndCosineOfHalfTurns)
{
    test::Gaussian random(3);
    for (int i = 0; i < 20000; ++i) {
        const double x = 4 * random();
        // The reference in long double: 64 bits of it are more than is compared.
        const long double angle = std::numbers::pi_v<long double> * static_cast<long double>(x);
        const auto [sine, cosine] = sinCosPi(x);
        EXPECT_NEAR(sine, double(std::sin(angle)), 2.3e-16) << x;
        EXPECT_NEAR(cosine, double(std::cos(angle)), 2.3e-16) << x;
    }
    for (int quarter = -9; quarter <= 9; ++quarter) {
        const auto [sine, cosine] = sinCosPi(quarter / 2.0);
        EXPECT_EQ(std::abs(sine) + std::abs(cosine), 1); // exact
    }
    EXPECT_EQ(sinCosPi(1e15 + 0.5).second, 0);
}

TEST(SameEverywhere, OfManyAtATimeToTheSameBits)
{
    test::Gaussian random(5);
    std::vector<double> places{0, -0.0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75, -0.25, -1.5, 1e15 + 0.5};
    for (int i = 0; i < 3000; ++i) places.push_back(50 * random());
    for (std::size_t size : {std::size_t(1), std::size_t(7), std::size_t(8), std::size_t(9), places.size()}) {
        std::vector<double> sines(size), cosines(size);
        sinCosPi(std::span(places).last(size), sines.data(), cosines.data());
        for (std::size_t i = 0; i < size; ++i) {
            const double x = places[places.size() - size + i];
            const auto [sine, cosine] = sinCosPi(x);
            EXPECT_EQ(std::bit_cast<std::uint64_t>(sines[i]), std::bit_cast<std::uint64_t>(sine)) << x;
            EXPECT_EQ(std::bit_cast<std::uint64_t>(cosines[i]), std::bit_cast<std::uint64_t>(cosine)) << x;
        }
    }
}

TEST(SameEverywhere, BesselFunction)
{
    for (double x = 0; x <= 20; x += 0.37) EXPECT_NEAR(besselI0(x) / std::cyl_bessel_i(0, x), 1, 3e-15) << x;
}

/// The tables that eyes of several machines rest on, to the last bit: a machine where this fails merges with no other.
TEST(SameEverywhere, TheKernelsBits)
{
    std::uint64_t sum = 0;
    for (int i = 0; i <= 64; ++i) {
        for (const double weight : SincKernel::row(i / 64.0))
            sum = (std::rotl(sum, 5) ^ std::bit_cast<std::uint64_t>(weight)) * 0x9E3779B97F4A7C15u;
    }
    EXPECT_EQ(sum, 14983379387567815007u);
}
