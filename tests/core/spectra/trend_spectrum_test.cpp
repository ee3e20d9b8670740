#include "running_means.h"
#include "signals.h"
#include "trend_spectrum.h"
#include "turn.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

/// Values at places `step` samples (1 ns) apart, each moved by up to `uneven` of it.
Population valuesOf(std::size_t count, double step, double uneven, const std::function<double(double time)> &value,
                    std::uint64_t seed = 1)
{
    TimeAxis axis;
    axis.interval = 1e-9;
    axis.count = std::int64_t(step * double(count)) + 10;
    test::Gaussian random(seed);
    PopulationBuilder found(axis);
    for (std::size_t i = 0; i < count; ++i) {
        const double at = step * (double(i) + uneven * (random.uniform() - 0.5));
        found.add(at, 0, value(axis.timeOf(at)));
    }
    return found.take();
}

} // namespace

/// A tone of amplitude A reads A whatever its place between two lines; the refined frequency is good to a thousandth of
/// a line. Source of the bound: the transform itself is maximised, so what is left is the other sideband, below -60 dB
/// fifty lines from 0.
TEST(TrendSpectrum, TellsATonesFrequencyAndAmplitudeByEveryWindow)
{
    for (const Window window : {Window::hann, Window::rectangular, Window::flatTop, Window::blackmanHarris}) {
        for (const double line : {50.0, 51.27, 83.5, 160.81}) {
            const std::size_t count = 1001;
            const double step = 20, spacing = 1 / (double(count) * step * 1e-9); // Hz between lines, all but
            const double frequency = line * spacing, amplitude = 3e-12;
            const Population values = valuesOf(count, step, 0, [&](double time) {
                return 5e-10 + amplitude * std::sin(turn * frequency * time + 0.7);
            });
            Progress progress;
            const TrendSpectrum spectrum = trendSpectrum(values, window, 4, progress);
            ASSERT_FALSE(spectrum.peaks.empty());
            const double tolerance = window == Window::rectangular ? 0.02 : 0.002; // its side lobes fall by 1 / lines
            EXPECT_NEAR(spectrum.peaks[0].frequency / spacing, line, tolerance) << int(window);
            EXPECT_NEAR(spectrum.peaks[0].amplitude / amplitude, 1, tolerance) << int(window) << " at " << line;
        }
    }
}

/// Straight lines between values lose what a triangle as long as their spacing does: sinc^2 of f / fs.
TEST(TrendSpectrum, ValuesThatLieUnevenlyAreLaidOnAnEvenGrid)
{
    const std::size_t count = 4000;
    const double step = 20, frequency = 6.1e5, amplitude = 2; // 1 / 82 of how often there is a value
    const Population values = valuesOf(
        count, step, 0.6, [&](double time) { return amplitude * std::cos(turn * frequency * time); }, 7);
    Progress progress;
    const TrendSpectrum spectrum = trendSpectrum(values, Window::hann, 4, progress);
    ASSERT_FALSE(spectrum.peaks.empty());
    const double x = std::numbers::pi * frequency * step * 1e-9, lost = std::pow(std::sin(x) / x, 2);
    EXPECT_NEAR(spectrum.peaks[0].frequency, frequency, spectrum.step / 20);
    EXPECT_NEAR(spectrum.peaks[0].amplitude / (amplitude * lost), 1, 3e-3);
}

TEST(TrendSpectrum, NoiseHasNoPeaksAndTwoTonesAreTwo)
{
    test::Gaussian random(3);
    const Population noise = valuesOf(5000, 10, 0, [&](double) { return random(); });
    Progress progress;
    // Of 2500 lines of noise one exceeds six medians with a chance of 2500 * 2^-36.
    EXPECT_TRUE(trendSpectrum(noise, Window::hann, 8, progress).peaks.empty());
    const Population two = valuesOf(5000, 10, 0, [&](double time) {
        return random() + 0.5 * std::sin(turn * 1e6 * time) + 0.3 * std::sin(turn * 7.3e6 * time);
    });
    const TrendSpectrum spectrum = trendSpectrum(two, Window::hann, 8, progress);
    ASSERT_EQ(spectrum.peaks.size(), 2u);
    EXPECT_NEAR(spectrum.peaks[0].frequency, 1e6, spectrum.step);
    EXPECT_NEAR(spectrum.peaks[1].frequency, 7.3e6, spectrum.step);
    // A line's amplitude strays by 2 sigma / sqrt(N) times the window's noise bandwidth (1.5 for Hann), rms.
    const double stray = 2 / std::sqrt(5000.0) * std::sqrt(1.5);
    EXPECT_NEAR(spectrum.peaks[0].amplitude, 0.5, 3 * stray);
    EXPECT_NEAR(spectrum.peaks[1].amplitude, 0.3, 3 * stray);
}

TEST(TrendSpectrum, TooLittleHasNone)
{
    Progress progress;
    EXPECT_TRUE(
        trendSpectrum(valuesOf(7, 10, 0, [](double) { return 1.0; }), Window::hann, 4, progress).amplitudes.empty());
    const TrendSpectrum constant =
        trendSpectrum(valuesOf(100, 10, 0, [](double) { return 1.0; }), Window::hann, 4, progress);
    EXPECT_TRUE(constant.peaks.empty());
}

TEST(RunningMeans, AreThoseOfTheValuesAround)
{
    test::Gaussian random(5);
    std::vector<double> values(20011);
    for (double &v : values) v = 1e6 + random();
    const RunningMeans means{Column(values)};
    for (const std::size_t length : {1u, 2u, 5u, 4096u, 5000u, 50000u}) {
        for (const std::size_t at : {0u, 1u, 4095u, 4096u, 9999u, 20010u}) {
            const std::size_t before = (length - 1) / 2, first = at > before ? at - before : 0,
                              last = std::min(values.size(), at + (length - before));
            double sum = 0;
            for (std::size_t i = first; i < last; ++i) sum += values[i] - 1e6;
            EXPECT_NEAR(means.around(at, length), 1e6 + sum / double(last - first), 1e-9) << length << " " << at;
        }
    }
}
