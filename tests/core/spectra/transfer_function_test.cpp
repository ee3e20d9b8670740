// Transfer functions and autocorrelations against what analysis says of them.

#include "autocorrelation.h"
#include "signals.h"
#include "transfer_function.h"
#include "turn.h"

#include <cmath>
#include <gtest/gtest.h>
#include <oneapi/tbb/global_control.h>

using namespace fulvex;

namespace {

/// y[n] = pole y[n - 1] + (1 - pole) x[n], and its response.
struct OnePole {
    double pole;
    std::vector<double> operator()(const std::vector<double> &x) const
    {
        std::vector<double> y;
        double state = 0;
        for (const double v : x) y.push_back(state = pole * state + (1 - pole) * v);
        return y;
    }
    std::complex<double> at(double cycles) const { return (1 - pole) / (1.0 - pole * std::polar(1.0, -turn * cycles)); }
};

std::vector<double> whiteNoise(int count, std::uint64_t seed)
{
    test::Gaussian random(seed);
    std::vector<double> values;
    for (int i = 0; i < count; ++i) values.push_back(random());
    return values;
}

Autocorrelation correlationOf(std::vector<double> values, double interval, std::int64_t lags)
{
    const SourcePtr source = makeMemorySource(std::move(values), interval);
    Progress progress;
    return autocorrelation(*source, {0, source->axis().count}, lags, progress);
}

} // namespace

/// Of a filter of one pole with noise at its output: magnitude and phase lie within 5 of the stated uncertainties of
/// the analytic response (and what the window smears: the second derivative over a line, less than 1e-3 here), the
/// coherence is signal over signal and noise, to its own scatter.
TEST(TransferFunction, IsThatOfAKnownFilterWithNoiseBehindIt)
{
    for (const double noise : {0.0, 0.1, 1.0}) {
        for (const double pole : {0.0, 0.5, 0.9}) {
            const auto x = whiteNoise(1 << 17, 21);
            const OnePole filter{pole};
            auto y = filter(x);
            const auto beside = whiteNoise(1 << 17, 22);
            for (std::size_t i = 0; i < y.size(); ++i) y[i] = 3 * y[i] + noise * beside[i];
            const SourcePtr in = makeMemorySource(x, 1e-6), out = makeMemorySource(y, 1e-6);
            Progress progress;
            const TransferFunction found = transferFunction(*in, *out, {0, 1 << 17}, {Window::hann, 1024}, progress);
            EXPECT_EQ(found.segments, (1 << 17) / 512 - 1);
            int far = 0;
            for (std::size_t line = 4; line + 4 < found.size(); ++line) {
                const double cycles = double(line) / 1024;
                const std::complex<double> truth = 3.0 * filter.at(cycles);
                const double signal = std::norm(truth), share = signal / (signal + noise * noise);
                const double off = std::abs(found.response(line) - truth) / std::abs(truth);
                const double room =
                    std::sqrt(2.0) * found.relativeUncertainty(line) * std::sqrt(1 / windowIndependence(Window::hann)) +
                    2e-3;
                EXPECT_LT(off, 5 * room) << noise << " " << pole << " " << line;
                far += off > 2 * room;
                EXPECT_NEAR(found.coherence(line), share, 5 * std::sqrt(2 * share / 136.0) * (1 - share) + 0.02);
            }
            EXPECT_LT(far, 0.1 * double(found.size())); // the uncertainty is no more than it says
            EXPECT_NEAR(found.relativeUncertainty(100), 0, noise > 0 ? 1 : 1e-2);
        }
    }
}

/// A delay turns the phase in a straight line, and lowers the magnitude by its share of a segment.
TEST(TransferFunction, TellsADelayAndWhatDoesNotCohere)
{
    const auto x = whiteNoise(1 << 16, 5);
    for (const int late : {-40, 0, 7, 60}) {
        std::vector<double> y(x.size());
        for (std::size_t i = 0; i < y.size(); ++i)
            y[i] = std::int64_t(i) >= late && std::int64_t(i) - late < std::int64_t(x.size())
                       ? x[std::size_t(std::int64_t(i) - late)]
                       : 0;
        const SourcePtr in = makeMemorySource(x, 1e-9), out = makeMemorySource(y, 1e-9);
        Progress progress;
        const TransferFunction found = transferFunction(*in, *out, {0, 1 << 16}, {Window::hann, 2048}, progress);
        EXPECT_NEAR(found.delay().seconds, late * 1e-9, 0.02e-9 + 5 * found.delay().uncertainty);
        EXPECT_LT(found.delay().uncertainty, 0.01e-9);
        double magnitude = 0;
        for (std::size_t line = 10; line < 1000; ++line) magnitude += std::abs(found.response(line)) / 990;
        EXPECT_NEAR(magnitude, 1, 0.005 + std::abs(late) / 2048.0);
    }
    const SourcePtr in = makeMemorySource(x, 1), out = makeMemorySource(whiteNoise(1 << 16, 6), 1);
    Progress progress;
    const TransferFunction none = transferFunction(*in, *out, {0, 1 << 16}, {Window::hann, 1024}, progress);
    int above = 0;
    for (std::size_t line = 1; line < 512; ++line) above += none.coherence(line) > none.coherenceByChance();
    EXPECT_LE(above, 1); // in one pair of twenty a line does
    double mean = 0;
    for (std::size_t line = 1; line < 512; ++line) mean += none.coherence(line) / 511;
    EXPECT_NEAR(mean, 1 / (windowIndependence(Window::hann) * 127), 0.0015);
}

/// One tone has one phase: a few lines of its lobe cohere, and a delay of whole turns more or less looks the same.
TEST(TransferFunction, TellsNoDelayOfATone)
{
    const auto noise = whiteNoise(1 << 16, 7), other = whiteNoise(1 << 16, 8);
    std::vector<double> x, y;
    for (std::size_t i = 0; i < noise.size(); ++i) {
        x.push_back(std::sin(turn * 0.0513 * double(i)) + 1e-3 * noise[i]);
        y.push_back(2 * std::sin(turn * 0.0513 * (double(i) - 40)) + 1e-3 * other[i]);
    }
    Progress progress;
    const TransferFunction found = transferFunction(*makeMemorySource(x, 1), *makeMemorySource(y, 1), {0, 1 << 16},
                                                    {Window::hann, 1024}, progress);
    EXPECT_TRUE(std::isinf(found.delay().uncertainty));
    const auto line = std::size_t(std::lround(0.0513 * 1024));
    EXPECT_NEAR(std::abs(found.response(line)), 2, 1e-3);
    EXPECT_NEAR(std::remainder(std::arg(found.response(line)) + turn * 0.0513 * 40, turn), 0, 1e-3);
}

TEST(TransferFunction, LeavesOutGapsAndIsTheSameOnOneCore)
{
    auto x = whiteNoise(1 << 15, 5);
    const SourcePtr clean = makeMemorySource(x, 1);
    x[9000] = NAN;
    const SourcePtr in = makeMemorySource(x, 1);
    Progress progress;
    const auto made = [&] { return transferFunction(*in, *clean, {0, 1 << 15}, {Window::hann, 512}, progress); };
    const TransferFunction many = made();
    EXPECT_EQ(many.leftOut, 2);
    for (std::size_t line = 1; line < many.size(); ++line) EXPECT_NEAR(std::abs(many.response(line)), 1, 1e-9);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    EXPECT_EQ(made().crossPower, many.crossPower);
    EXPECT_EQ(transferFunction(*in, *clean, {0, 100}, {Window::hann, 512}, progress).size(), 0u);
}

/// Of white noise: 1, then nothing but 1 / sqrt(n). Through one pole: pole^lag. Of a sine: a cosine. Each over several
/// lengths, with the scatter that Bartlett's formula gives: (1 + 2 sum r²) / n for lags where r is small.
TEST(Autocorrelation, IsThatOfKnownProcesses)
{
    for (const int count : {3000, 1 << 15, 200000}) {
        for (const double pole : {0.0, 0.6, 0.95}) {
            const Autocorrelation found = correlationOf(OnePole{pole}(whiteNoise(count, 31)), 1e-3, 200);
            ASSERT_EQ(found.coefficients.size(), 201u);
            EXPECT_DOUBLE_EQ(found.coefficients[0], 1);
            const double scatter = std::sqrt((1 + pole * pole) / (1 - pole * pole) / count);
            for (int lag = 1; lag <= 200; lag += 3)
                EXPECT_NEAR(found.coefficients[std::size_t(lag)], std::pow(pole, lag),
                            5 * scatter * (1 + 1 / (1 - pole) * scatter))
                    << count << " " << pole << " " << lag;
        }
        std::vector<double> sine;
        for (int i = 0; i < count; ++i) sine.push_back(5 + 0.3 * std::sin(turn * i / 37.3));
        const Autocorrelation found = correlationOf(sine, 1e-3, 400);
        for (int lag = 0; lag <= 400; ++lag)
            EXPECT_NEAR(found.coefficients[std::size_t(lag)], std::cos(turn * lag / 37.3), 37.3 / count + 1e-9);
        EXPECT_NEAR(found.variance, 0.045, 0.045 * 37.3 / count);
        EXPECT_NEAR(found.mean, 5, 0.3 * 37.3 / count);
        const auto peaks = found.peaks(3);
        ASSERT_EQ(peaks.size(), 3u);
        for (const auto &peak : peaks) // a parabola through three points of a cosine; the ends' beat beside it
            EXPECT_NEAR(std::remainder(peak.lag / 37.3e-3, 1), 0, 2e-3 + 37.3 / count / 4);
    }
}

/// Against all pairs, one by one, gaps left out; and the same bits on one core.
TEST(Autocorrelation, IsTheMeanOverAllPairs)
{
    auto values = whiteNoise(70000, 3);
    for (std::size_t i = 1; i < values.size(); ++i) values[i] += 0.8 * values[i - 1];
    for (const std::size_t gap : {std::size_t(100), std::size_t(101), std::size_t(30000), std::size_t(69999)})
        values[gap] = NAN;
    const Autocorrelation found = correlationOf(values, 1, 60);
    double mean = 0, count = 0;
    for (const double v : values)
        if (!std::isnan(v)) mean += v, ++count;
    mean /= count;
    EXPECT_NEAR(found.mean, mean, 1e-12);
    const auto product = [&](std::size_t lag) {
        double sum = 0, pairs = 0;
        for (std::size_t i = 0; i + lag < values.size(); ++i) {
            const double both = (values[i] - mean) * (values[i + lag] - mean);
            if (!std::isnan(both)) sum += both, ++pairs;
        }
        return sum / pairs;
    };
    for (const std::size_t lag : {std::size_t(0), std::size_t(1), std::size_t(2), std::size_t(17), std::size_t(60)})
        EXPECT_NEAR(found.coefficients[lag], product(lag) / product(0), 1e-9);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    EXPECT_EQ(correlationOf(values, 1, 60).coefficients, found.coefficients);
}

TEST(Autocorrelation, OfWhatDoesNotVaryIsNone)
{
    EXPECT_TRUE(correlationOf(std::vector<double>(100, 3.3), 1, 10).coefficients.empty());
    EXPECT_TRUE(correlationOf(std::vector<double>(100, NAN), 1, 10).coefficients.empty());
    EXPECT_TRUE(correlationOf({1}, 1, 10).coefficients.empty());
    EXPECT_EQ(correlationOf({1, 2, 1}, 1, 10).coefficients.size(), 3u);
    EXPECT_TRUE(correlationOf(whiteNoise(5000, 1), 1, 100).peaks(5).empty());
}
