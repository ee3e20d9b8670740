#include "fourier.h"
#include "turn.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <tbb/global_control.h>
#include <vector>

namespace fulvex {
namespace {

TEST(QuickLength, IsTheLeastEvenNumberOfTwosThreesAndFives)
{
    const auto isQuick = [](std::size_t number) {
        if (number % 2) return false;
        for (const std::size_t prime : {2u, 3u, 5u})
            while (number % prime == 0) number /= prime;
        return number == 1;
    };
    for (std::size_t least = 1; least < 3000; ++least) {
        std::size_t expected = std::max<std::size_t>(2, least);
        while (!isQuick(expected)) ++expected;
        EXPECT_EQ(quickLength(least), expected);
    }
}

/// Of an impulse at s: exp(-2 pi i k s / N), and back to N times the impulse. Short ones, which one core does, and long
/// ones, which several share; even lengths of all kinds. The last bits do not depend on how many cores there are.
TEST(Fourier, AnImpulseTurnsWithEachLineAndComesBack)
{
    for (const std::size_t size : {std::size_t(8), std::size_t(1000), std::size_t(1) << 15, (std::size_t(1) << 20) - 2,
                                   std::size_t(1) << 20, std::size_t(3) << 19, std::size_t(1250000)}) {
        const std::size_t at = size / 3;
        const auto lineOf = [&](std::size_t k) {
            return std::polar(1.0, -turn * std::fmod(double(k) * double(at), double(size)) / double(size));
        };
        std::vector<double> impulse(size);
        impulse[at] = 1;
        FourierBuffer buffer(impulse, size);
        buffer.forward();
        double off = 0;
        for (std::size_t k = 0; k <= size / 2; ++k) off = std::max(off, std::abs(buffer.lines()[k] - lineOf(k)));
        const double rounding = 1e-15 * std::log2(double(size)); // each step of the transform rounds once
        EXPECT_LT(off, rounding) << size;

        const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
        FourierBuffer alone(impulse, size);
        alone.forward();
        EXPECT_TRUE(std::equal(alone.lines(), alone.lines() + size / 2 + 1, buffer.lines())) << size;
        buffer.backward();
        off = 0;
        for (std::size_t i = 0; i < size; ++i)
            off = std::max(off, std::abs(buffer.reals()[i] / double(size) - impulse[i]));
        EXPECT_LT(off, rounding) << size;
    }
}

} // namespace
} // namespace fulvex
