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
        const double fraction = i == 0 ? 0 : i == 1 ? 1 : i < 300 ? i / 300.0 : share(random);
        SincKernel::Row samples;
        for (double &sample : samples) sample = any(random);
        const SincKernel::Row weights = SincKernel::row(fraction);
        double exact = 0;
        for (std::size_t tap = 0; tap < samples.size(); ++tap) exact += weights[tap] * samples[tap];
        ASSERT_NEAR(SincKernel::valueAt(samples.data(), fraction), exact, 1e-7) << fraction;
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
            EXPECT_NEAR(SincKernel::valueAt(samples.data(), at - whole),
                        std::sin(2 * std::numbers::pi * frequency * at), 1e-4);
        }
    }
}
