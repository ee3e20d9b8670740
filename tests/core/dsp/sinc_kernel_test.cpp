// Single values by band-limited interpolation, against the weights themselves and against a signal that is known.

#include "sinc_kernel.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

using namespace fulvex;

TEST(SincKernel, AValueByTheTableIsThatOfTheWeights)
{
    std::mt19937_64 random(5);
    std::uniform_real_distribution<double> any(-1, 1), share(0, 1);
    for (int i = 0; i < 20'000; ++i) {
        const double fraction = i == 0 ? 0 : i < 300 ? i / 300.0 : share(random);
        SincKernel::Row samples;
        for (double &sample : samples) sample = any(random);
        const SincKernel::Row weights = SincKernel::row(fraction);
        double exact = 0;
        for (std::size_t tap = 0; tap < samples.size(); ++tap) exact += weights[tap] * samples[tap];
        const double at = SincKernel::before + fraction;
        double value = 0;
        SincKernel::valuesAt(samples.data(), std::span(&at, 1), &value);
        ASSERT_NEAR(value, exact, 1e-7) << fraction;
    }
}

TEST(SincKernel, ValuesOfManyInstantsAreThoseOfEach)
{
    std::mt19937_64 random(6);
    std::uniform_real_distribution<double> any(-1, 1);
    std::vector<double> samples(500), at;
    for (double &sample : samples) sample = any(random);
    for (std::size_t many = 0; many < 40; ++many) {
        at.resize(many);
        for (double &one : at) one = 250 + 230 * any(random);
        std::vector<double> values(many), inPlace = at;
        SincKernel::valuesAt(samples.data(), at, values.data());
        SincKernel::valuesAt(samples.data(), inPlace, inPlace.data());
        EXPECT_EQ(inPlace, values);
        for (std::size_t i = 0; i < many; ++i) {
            double one = 0;
            SincKernel::valuesAt(samples.data(), std::span(at).subspan(i, 1), &one);
            EXPECT_EQ(values[i], one);
        }
    }
}

TEST(SincKernel, AValueOfASineIsTheSines)
{
    for (const double frequency : {0.01, 0.1, 0.25, 0.37}) { // of the sample rate
        for (int i = 0; i < 1000; ++i) {
            const double at = 100 + i / 1000.0 * 7.3, whole = std::floor(at);
            SincKernel::Row samples;
            for (int tap = 0; tap < SincKernel::taps; ++tap)
                samples[std::size_t(tap)] =
                    std::sin(2 * std::numbers::pi * frequency * (whole - SincKernel::before + tap));
            const double within = SincKernel::before + (at - whole);
            double value = 0;
            SincKernel::valuesAt(samples.data(), std::span(&within, 1), &value);
            EXPECT_NEAR(value, std::sin(2 * std::numbers::pi * frequency * at), 1e-4);
        }
    }
}
