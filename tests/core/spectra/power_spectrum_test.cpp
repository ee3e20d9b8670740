// Spectra of signals, and how good a sine is by them: against signals whose power is known by analysis.

#include "power_spectrum.h"
#include "signals.h"
#include "sine_quality.h"
#include "turn.h"

#include <cmath>
#include <gtest/gtest.h>
#include <oneapi/tbb/global_control.h>

using namespace fulvex;

namespace {

PowerSpectrum spectrumOf(std::vector<double> values, double interval, Window window, std::size_t length = 0)
{
    const SourcePtr source = makeMemorySource(std::move(values), interval);
    const SampleRange all{0, source->axis().count};
    Progress progress;
    return powerSpectrum(*source, all, {{window, length ? length : usualSegment(all)}}, progress);
}

double meanSquare(const std::vector<double> &values)
{
    double sum = 0;
    for (const double v : values) sum += v * v / double(values.size());
    return sum;
}

constexpr Window windows[] = {Window::hann, Window::rectangular, Window::flatTop, Window::blackmanHarris,
                              Window::sevenTerms};

} // namespace

/// Parseval: of one segment under no window the lines' sum is the mean square to the last digits; under a window, and
/// of noise, to what its scatter leaves: the sum of n lines, each by itself, is told to sqrt(2 / n).
TEST(PowerSpectrum, HoldsAllOfASignalsPower)
{
    for (const double interval : {1e-12, 1.0, 1e3}) {
        test::Gaussian random(3);
        std::vector<double> noise;
        for (int i = 0; i < 1 << 16; ++i) noise.push_back(0.5 + 2 * random());
        const PowerSpectrum one = spectrumOf(noise, interval, Window::rectangular, 1 << 16);
        EXPECT_EQ(one.segments, 1);
        EXPECT_NEAR(one.power(0, one.density.size()), meanSquare(noise), 1e-12 * meanSquare(noise));
        for (const Window window : windows) {
            const PowerSpectrum many = spectrumOf(noise, interval, window, 1 << 12);
            EXPECT_EQ(many.segments, 31);
            EXPECT_NEAR(many.power(0, many.density.size()), meanSquare(noise),
                        4 * 4.25 * std::sqrt(2.0 / (1 << 16)) * 2);
            // White: 2 sigma² / rate on every line but the first few.
            double mean = 0;
            for (std::size_t k = 20; k < 2000; ++k) mean += many.density[k] / 1980;
            EXPECT_NEAR(mean * (1 / interval) / 2, 4, 4 * 4 * std::sqrt(4.0 / (1 << 16)));
        }
    }
}

/// A sine of amplitude A on a line: A² / 2 there, by the window's noise bandwidth; and the sum of its lobe anywhere.
TEST(PowerSpectrum, TellsASinesPowerByEveryWindow)
{
    const double bandwidths[] = {1.5, 1, 3.7702, 2.0044,
                                 2.6319}; // Harris 1978, table 1; flat top: IEEE Std 1057; Albrecht 2001
    for (std::size_t w = 0; w < 5; ++w) {
        for (const double line : {100.0, 100.37, 1000.5}) {
            std::vector<double> sine;
            for (int i = 0; i < 1 << 15; ++i) sine.push_back(3 * std::sin(turn * line / 4096 * i + 1));
            const PowerSpectrum spectrum = spectrumOf(sine, 1e-6, windows[w], 4096);
            EXPECT_NEAR(spectrum.noiseBandwidth, bandwidths[w], 1e-3 * bandwidths[w]);
            const auto middle = std::size_t(std::lround(line));
            if (line == 100) {
                EXPECT_NEAR(spectrum.density[middle] * spectrum.step * spectrum.noiseBandwidth, 4.5, 1e-4);
            }
            if (windows[w] != Window::rectangular) { // whose lobes go on for ever
                EXPECT_NEAR(spectrum.power(middle - 8, middle + 8), 4.5, 3e-3);
            }
        }
    }
}

TEST(PowerSpectrum, LeavesOutSegmentsWithGapsAndIsTheSameOnAnyNumberOfCores)
{
    test::Gaussian random(5);
    std::vector<double> values;
    for (int i = 0; i < 300000; ++i) values.push_back(random());
    values[5000] = NAN;
    const PowerSpectrum many = spectrumOf(values, 1, Window::hann, 1024);
    EXPECT_EQ(many.segments, (300000 - 1024) / 512 + 1 - 2);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    EXPECT_EQ(spectrumOf(values, 1, Window::hann, 1024).density, many.density);
    EXPECT_EQ(spectrumOf(std::vector<double>(3000, NAN), 1, Window::hann, 1024).segments, 0);
    EXPECT_EQ(spectrumOf({1, 2, 3}, 1, Window::hann, 1024).segments, 0);
}

/// Signal, harmonics and white noise of known power, at frequencies on no line: SNR, SINAD and THD. The noise's power
/// is told to sqrt(2 / n) of n independent samples (half of them under the window); a harmonic's lobe holds 17 lines of
/// noise, of which the mean is taken off.
TEST(SineQuality, IsThatOfKnownSineHarmonicsAndNoise)
{
    struct Case {
        double frequency, second, third, sigma;
        int count;
    };
    for (const Case &of : {Case{0.01234, 1e-2, 3e-3, 1e-3, 1 << 17},
                           {0.0871, 0, 1e-3, 1e-4, 1 << 15},
                           {0.171, 1e-2, 1e-2, 1e-2, 200000},
                           {0.031, 1e-4, 0, 1e-5, 1 << 16}}) {
        test::Gaussian random(std::uint64_t(of.count));
        std::vector<double> values;
        for (int i = 0; i < of.count; ++i) {
            const double phase = turn * of.frequency * i + 0.3;
            values.push_back(
                0.2 + 2 * (std::sin(phase) + of.second * std::sin(2 * phase + 1) + of.third * std::cos(3 * phase)) +
                of.sigma * random());
        }
        const PowerSpectrum spectrum = spectrumOf(values, 1e-9, Window::sevenTerms);
        const auto found = sineQuality(spectrum, spectrum.density);
        ASSERT_TRUE(found);
        EXPECT_NEAR(found->frequency * 1e-9, of.frequency, 1e-3 * spectrum.step * 1e-9);
        const double signal = 2, noise = of.sigma * of.sigma,
                     harmonics = 2 * (of.second * of.second + of.third * of.third);
        const double scatter = 4 * std::sqrt(4.0 / of.count); // of a power, relative
        EXPECT_NEAR(found->signal, signal, 1e-4 * signal + 4 * of.sigma * std::sqrt(2.0 / of.count));
        EXPECT_NEAR(found->signalToNoise(), 10 * std::log10(signal / noise), 10 * std::log10(1 + scatter) + 1e-3);
        const double lobes = 9 * 4 * std::sqrt(17.0) * noise / of.count * 8 + 1e-9 * signal; // their noise's scatter
        EXPECT_NEAR(found->harmonics, harmonics,
                    lobes + 1e-3 * harmonics + 8 * std::sqrt(harmonics * noise / of.count));
        EXPECT_NEAR(found->signalToNoiseAndDistortion(), 10 * std::log10(signal / (noise + harmonics)),
                    10 * std::log10(1 + scatter) + 0.01);
        EXPECT_EQ(found->counted, 9);
    }
}

TEST(SineQuality, IsNoneWhereThereIsNoSine)
{
    test::Gaussian random(9);
    std::vector<double> noise, slow;
    for (int i = 0; i < 20000; ++i) {
        noise.push_back(random());
        slow.push_back(std::sin(turn * i / 20000.0));
    }
    for (const auto &values : {noise, slow, std::vector<double>(20000, 1.0), std::vector<double>(20000, 0.0)}) {
        const PowerSpectrum spectrum = spectrumOf(values, 1, Window::sevenTerms);
        EXPECT_FALSE(sineQuality(spectrum, spectrum.density)) << values[1];
    }
}
