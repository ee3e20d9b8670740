// What is told of a spectrum: its noise floor, its lines between the transform's, harmonics. Against sines and noise of
// known power, at frequencies on no line, by every window.

#include "signals.h"
#include "spectral_lines.h"
#include "turn.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

constexpr Window lineWindows[] = {Window::hann, Window::rectangular, Window::flatTop, Window::blackmanHarris,
                                  Window::sevenTerms};

PowerSpectrum spectrumOf(std::vector<double> values, double interval, const SpectrumRule &rule)
{
    const SourcePtr source = makeMemorySource(std::move(values), interval);
    Progress progress;
    return powerSpectrum(*source, {0, source->axis().count}, rule, progress);
}

struct Sine {
    double frequency, amplitude; ///< cycles a sample
};

std::vector<double> sinesInNoise(const std::vector<Sine> &sines, double sigma, int count, std::uint64_t seed)
{
    test::Gaussian random(seed);
    std::vector<double> values;
    for (int i = 0; i < count; ++i) {
        double value = sigma * random();
        for (const Sine &sine : sines) value += sine.amplitude * std::sin(turn * sine.frequency * i + 0.7);
        values.push_back(value);
    }
    return values;
}

} // namespace

/// The response is the window's own transform, added up sample by sample.
TEST(Window, RespondsAsItsTransformDoes)
{
    constexpr int count = 4096;
    for (const Window window : lineWindows) {
        double all = 0, squares = 0;
        for (int i = 0; i < count; ++i) {
            const double weight = windowAt(window, (i + 0.5) / count);
            all += weight;
            squares += weight * weight;
        }
        EXPECT_NEAR(windowNoiseBandwidth(window), count * squares / (all * all), 1e-9);
        for (const double off : {0.0, 0.21, 0.5, 1.0, 1.7, 2.5, 6.3}) {
            double sum = 0;
            for (int i = 0; i < count; ++i)
                sum += windowAt(window, (i + 0.5) / count) * std::cos(turn * off * ((i + 0.5) / count - 0.5));
            EXPECT_NEAR(windowResponse(window, off), sum / all, 1e-6) << int(window) << " " << off;
        }
        EXPECT_NEAR(windowResponse(window, windowLobe(window)), 0, 2e-3) << int(window); // its first zero, about
    }
}

/// Of halves that correlate by c, c² is shared: Hann's by 1 / 6, of no window 1 / 2 (Welch 1967).
TEST(Window, TellsHowMuchOverlappingSegmentsCount)
{
    EXPECT_NEAR(windowIndependence(Window::hann), 1 / (1 + 2.0 / 36), 1e-9);
    EXPECT_NEAR(windowIndependence(Window::rectangular), 1 / 1.5, 1e-9);
    EXPECT_GT(windowIndependence(Window::sevenTerms), 0.9999);
}

TEST(Segments, AreAsLongAsAResolutionNeeds)
{
    for (const Window window : lineWindows) {
        for (const double resolution : {1e3, 12345.0, 1e6}) {
            const std::size_t length = segmentFor(resolution, window, 1e-9);
            const double got = windowNoiseBandwidth(window) / (double(length) * 1e-9);
            EXPECT_LE(got, resolution);
            EXPECT_GT(got, resolution / 1.25);
            EXPECT_EQ(length % 2, 0u);
        }
    }
    EXPECT_EQ(segmentFor(1, Window::hann, 1e-9), 0u);
    EXPECT_EQ(segmentFor(1e12, Window::hann, 1e-9), 8u);
}

/// White noise of density 2 sigma² / rate: the floor of a stretch is the median of 64 lines, told to about 1.25 / 8 of
/// a line's own scatter, 1 / sqrt(segments) (half of which overlap: 0.53 of that many count double).
TEST(NoiseFloor, IsTheNoisesDensityWhateverStandsInIt)
{
    for (const double sigma : {1e-6, 1.0, 30.0}) {
        for (const int count : {1 << 14, 1 << 17}) {
            const auto values = sinesInNoise({{0.1, 100 * sigma}, {0.3217, 10 * sigma}}, sigma, count, 11);
            const PowerSpectrum spectrum = spectrumOf(values, 1e-6, {{Window::blackmanHarris, 2048}});
            const NoiseFloor floor(spectrum);
            const double density = 2 * sigma * sigma * 1e-6, scatter = 1 / std::sqrt(double(spectrum.segments) * 0.5);
            EXPECT_NEAR(NoiseFloor::between(spectrum, 0, 5e5), density, density * 5 * 1.25 * scatter / 20);
            double mean = 0;
            for (std::size_t line = 10; line < 1000; ++line) mean += floor.at(line) / 990 / density;
            // Of 64 lines some 9 are a sine's: the median of the others moves by 9 / 64 / 2 of the ranks.
            EXPECT_NEAR(mean, 1, 5 * 1.25 * scatter / 20 + 0.15 * scatter);
        }
    }
}

/// A line's place is told to the scatter of its lobe, its power to that and what the window's response is off by.
TEST(SpectralLines, LieWhereTheSinesAreAndHoldTheirPower)
{
    for (const Window window : lineWindows) {
        for (std::uint64_t seed = 1; seed <= 6; ++seed) {
            test::Gaussian random(seed);
            const double frequency = 0.05 + 0.01 * std::abs(random()), other = 0.31 + 0.02 * std::abs(random());
            const std::vector<Sine> sines{{frequency, 2}, {other, 0.5}};
            const PowerSpectrum spectrum = spectrumOf(sinesInNoise(sines, 0.01, 1 << 15, seed), 1e-9, {{window, 4096}});
            const NoiseFloor floor(spectrum);
            const auto lines = spectralLines(spectrum, floor, 8);
            ASSERT_GE(lines.size(), 2u) << int(window);
            EXPECT_TRUE(lines.size() == 2) << int(window) << " " << lines.size() << " " << lines[2].frequency;
            for (std::size_t k = 0; k < 2; ++k) {
                // Under no window what leaks from the other line and from negative frequencies is 1 / (pi distance).
                const double leak = window == Window::rectangular ? 1 / (3.14 * frequency * 2 * 4096) * 4 : 2e-4;
                EXPECT_NEAR(lines[k].frequency, sines[k].frequency * 1e9,
                            spectrum.step * ((k ? 4 : 1) * leak + 0.02 / sines[k].amplitude * 0.2));
                const double power = sines[k].amplitude * sines[k].amplitude / 2;
                EXPECT_NEAR(lines[k].power, power, power * ((k ? 8 : 2) * leak + 0.004 / sines[k].amplitude));
                const auto again = spectralLineAt(spectrum, floor, lines[k].frequency + 0.4 * spectrum.step);
                ASSERT_TRUE(again);
                EXPECT_DOUBLE_EQ(again->power, lines[k].power);
            }
        }
    }
}

/// A thousand spectra of noise alone have one line between them, on average; of 150, more than 3 are less likely than
/// one in 1e4.
TEST(SpectralLines, AreNoneInNoiseAlone)
{
    int found = 0;
    for (std::uint64_t seed = 1; seed <= 150; ++seed) {
        for (const int count : {1 << 12, 1 << 14}) {
            const PowerSpectrum spectrum = spectrumOf(sinesInNoise({}, 1, count, seed), 1, {{Window::hann, 1024}});
            found += int(spectralLines(spectrum, NoiseFloor(spectrum), 8).size());
        }
    }
    EXPECT_LE(found, 6);
}

/// Where the record is constant, or has nothing at all, there are no lines and no numbers that are none.
TEST(SpectralLines, AreNoneOfNothing)
{
    for (const auto &values : {std::vector<double>(9000, 0.0), std::vector<double>(9000, 2.0)}) {
        const PowerSpectrum spectrum = spectrumOf(values, 1, {{Window::hann, 1024}});
        EXPECT_TRUE(spectralLines(spectrum, NoiseFloor(spectrum), 8).empty());
    }
    const PowerSpectrum none = spectrumOf({1, 2, 3}, 1, {{Window::hann, 1024}});
    EXPECT_TRUE(spectralLines(none, NoiseFloor(none), 8).empty());
    EXPECT_FALSE(spectralLineAt(none, NoiseFloor(none), 0.1));
    EXPECT_TRUE(std::isnan(NoiseFloor::between(none, 0, 1)));
}

/// A sine of 0.13 of the rate with its second and third (0.26, 0.39) and its fourth, folded from 0.52 to 0.48.
TEST(SpectralLines, HaveHarmonicsWhereTheyFold)
{
    const double f = 0.13007;
    const auto values = sinesInNoise({{f, 1}, {2 * f, 0.1}, {3 * f, 0.03}, {1 - 4 * f, 0.01}}, 1e-4, 1 << 16, 3);
    const PowerSpectrum spectrum = spectrumOf(values, 1e-6, {{Window::blackmanHarris, 1 << 13}});
    const NoiseFloor floor(spectrum);
    const auto line = spectralLineAt(spectrum, floor, 130000);
    ASSERT_TRUE(line);
    const auto harmonics = harmonicsOf(spectrum, floor, *line, 5);
    ASSERT_EQ(harmonics.size(), 4u);
    const double amplitudes[] = {0.1, 0.03, 0.01};
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(harmonics[k].power, amplitudes[k] * amplitudes[k] / 2, 1e-3 * amplitudes[k] * amplitudes[k]);
        EXPECT_EQ(harmonics[k].folded, k == 2);
        EXPECT_TRUE(harmonics[k].stands);
    }
    EXPECT_FALSE(harmonics[3].stands);
    EXPECT_NEAR(harmonics[2].frequency, (1 - 4 * f) * 1e6, 1e-2 * spectrum.step);
}

/// Of noise whose half has ten times the amplitude, the highest of each line is that of the loud half.
TEST(PowerSpectrum, CanKeepTheHighest)
{
    test::Gaussian random(8);
    std::vector<double> values;
    for (int i = 0; i < 1 << 16; ++i) values.push_back((i < 1 << 15 ? 1 : 10) * random());
    SpectrumRule rule{{Window::hann, 1 << 10}};
    const PowerSpectrum mean = spectrumOf(values, 1, rule);
    rule.highest = true;
    const PowerSpectrum highest = spectrumOf(values, 1, rule);
    for (std::size_t line = 5; line < 500; ++line) {
        EXPECT_GT(highest.density[line], 200);      // the highest of 63 lines of mean 200 is 200 times 4.7 or so
        EXPECT_LT(highest.density[line], 200 * 20); // e^-20 a line and segment
        EXPECT_GT(highest.density[line], mean.density[line]);
    }
}

/// Several records added up are what all their segments are.
TEST(PowerSpectrum, OfSeveralRecordsIsThatOfAllTheirSegments)
{
    for (const bool highest : {false, true}) {
        SpectrumRule rule{{Window::hann, 512}};
        rule.highest = highest;
        const auto one = sinesInNoise({{0.1, 1}}, 1, 512 * 5, 1), two = sinesInNoise({{0.2, 1}}, 2, 512 * 3, 2);
        const PowerSpectrum a = spectrumOf(one, 1, rule), b = spectrumOf(two, 1, rule);
        const PowerSpectrum *const both[] = {&a, &b};
        const PowerSpectrum sum = PowerSpectrum::merged(both);
        EXPECT_EQ(sum.segments, a.segments + b.segments);
        for (std::size_t line = 0; line < sum.density.size(); ++line) {
            const double expected =
                highest ? std::max(a.density[line], b.density[line])
                        : (double(a.segments) * a.density[line] + double(b.segments) * b.density[line]) /
                              double(a.segments + b.segments);
            EXPECT_NEAR(sum.density[line], expected, 1e-12 * expected);
        }
        const PowerSpectrum other = spectrumOf(one, 2, rule);
        const PowerSpectrum *const unlike[] = {&a, &other};
        EXPECT_EQ(PowerSpectrum::merged(unlike).segments, 0);
    }
}

/// A first answer looks at segments spread over all of it, and says of what share.
TEST(PowerSpectrum, OfAFewSegmentsSaysSo)
{
    SpectrumRule rule{{Window::hann, 512}};
    rule.most = 16;
    const PowerSpectrum few = spectrumOf(sinesInNoise({}, 1, 1 << 18, 4), 1, rule);
    EXPECT_EQ(few.segments, 16);
    EXPECT_NEAR(few.share, 16.0 / ((1 << 18) / 256 - 1), 1e-12);
    double mean = 0;
    for (std::size_t line = 5; line < 250; ++line) mean += few.density[line] / 245;
    EXPECT_NEAR(mean, 2, 5 * 2 * std::sqrt(1.5 / (16 * 245))); // 1.5 lines under the window are one
}
