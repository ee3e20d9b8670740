// An eye's quantities against what follows by analysis, from few samples a unit interval to many; and eyes of more unit
// intervals than anybody folds in one go.

#include "eye_quantities.h"
#include "signals.h"
#include "sinc_kernel.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

/// The raised-cosine pulse of full roll-off that the data is made of: no neighbour is seen at a symbol's middle, and all
/// crossings lie half-way.
double pulse(double t)
{
    const double u = 2 * t;
    if (std::abs(std::abs(u) - 1) < 1e-9) return 0.5;
    const double sinc = t == 0 ? 1 : std::sin(std::numbers::pi * u) / (std::numbers::pi * u);
    return sinc / (1 - u * u);
}

/// White noise between samples is smaller than at them, by the kernel: its variance at so much of the way to the next.
double noiseShare(double fraction)
{
    double squares = 0;
    for (const double weight : SincKernel::row(fraction)) squares += weight * weight;
    return squares;
}

/// Of the one, in the central fifth; the zero's level is its negative. Over the points that are folded there: where
/// samples come at the same phases again and again, these are few.
struct Truth {
    double level = 0, noise = 0;
    Truth(double samples, double offset, int interpolation, double noiseOfSamples)
    {
        constexpr int points = 40000, reach = 60;
        double sum = 0, squares = 0;
        int count = 0;
        for (int i = 0; i < points; ++i) {
            const double ui = (double(i) / interpolation - offset) / samples, t = ui - std::floor(ui) - 0.5;
            if (std::abs(t) > 0.1) continue;
            const double own = 0.4 * pulse(t);
            double all = own * own;
            for (int m = -reach; m <= reach; ++m)
                if (m != 0) all += 0.16 * pulse(t - m) * pulse(t - m);
            all += noiseOfSamples * noiseOfSamples * noiseShare(double(i % interpolation) / interpolation);
            sum += own;
            squares += all;
            ++count;
        }
        level = sum / count;
        noise = std::sqrt(squares / count - level * level);
    }
};

/// How steep the signal is at a boundary between two symbols, per UI.
double slopeAt(const std::vector<bool> &bits, std::int64_t boundary)
{
    constexpr double step = 1e-4;
    double slope = 0;
    for (std::int64_t n = std::max<std::int64_t>(0, boundary - 40);
         n < std::min<std::int64_t>(std::int64_t(bits.size()), boundary + 40); ++n) {
        const double t = double(boundary - n) - 0.5;
        slope += (bits[std::size_t(n)] ? 0.4 : -0.4) * (pulse(t + step) - pulse(t - step)) / (2 * step);
    }
    return slope;
}

} // namespace

TEST(EyeTruth, HoldsFromTwoSamplesAUnitIntervalToForty)
{
    for (const double samples : {2.3, 2.9, 4.0, 5.7, 8.4, 13.1, 24.6, 40.0}) {
        SCOPED_TRACE(samples);
        constexpr double noise = 0.012;
        const std::int64_t unitIntervals = samples > 20 ? 2500 : 6000;
        const test::Data data = test::makeBandLimitedData(samples, unitIntervals, std::uint64_t(samples * 10));
        std::vector<double> volts = data.volts;
        test::Gaussian random(std::uint64_t(samples * 7));
        for (double &value : volts) value += noise * random();
        const SourcePtr source = makeMemorySource(volts, 1e-10);
        const UnitIntervalMap map(source->axis(), 2.71, samples);
        EyeRule rule;
        rule.least = *std::min_element(volts.begin(), volts.end());
        rule.most = *std::max_element(volts.begin(), volts.end());
        rule.first = 40;
        rule.last = unitIntervals - 40;
        rule.interpolation = automaticInterpolation(samples);
        Progress progress;
        const EyeFold fold = foldEye(source, map, rule, progress);
        const EyeCrossings crossings = eyeCrossings(source, map, fold.crossing(), 0.08, EdgeInterpolation::sinc,
                                                    rule.first, rule.last, progress);
        const double unit = samples * 1e-10;
        const EyeQuantities eye{.fold = fold, .crossings = &crossings, .unitInterval = unit};
        const Truth truth(samples, 2.71, rule.interpolation, noise);
        const auto expect = [](const Measured &found, double is, const char *what, double resolution = 0) {
            ASSERT_EQ(found.reason, "") << what;
            const double uncertain = *found.statistics().uncertainty;
            EXPECT_GT(uncertain, 0) << what;
            EXPECT_NEAR(found.value, is, 4.5 * uncertain + resolution) << what;
        };
        expect(eye.oneLevel(), truth.level, "one level");
        expect(eye.zeroLevel(), -truth.level, "zero level");
        expect(eye.amplitude(), 2 * truth.level, "amplitude");
        expect(eye.oneNoise(), truth.noise, "one noise");
        expect(eye.zeroNoise(), truth.noise, "zero noise");
        expect(eye.height(), 2 * truth.level - 6 * truth.noise, "height");
        const double q = truth.level / truth.noise;
        expect(eye.qFactor(), q, "Q");
        expect(eye.signalToNoise(), 20 * std::log10(q), "signal to noise");
        // The mean traces are told in bins of phase: where they meet, to a tenth of one.
        expect(eye.crossingLevel(), 50, "crossing level", 0.5);
        // Each crossing strays by its noise over its slope.
        double squares = 0, meanShare = 0;
        for (int i = 0; i < 64; ++i) meanShare += noiseShare((i + 0.5) / 64) / 64;
        std::int64_t count = 0;
        for (std::int64_t n = rule.first; n < rule.last; ++n) {
            if (data.bits[std::size_t(n)] == data.bits[std::size_t(n - 1)]) continue;
            squares += meanShare * std::pow(noise / slopeAt(data.bits, n), 2);
            ++count;
        }
        const double jitter = std::sqrt(squares / double(count)) * unit;
        expect(eye.jitterRms(), jitter, "jitter", 0.05 * jitter); // of the crossing level's own error as well
        expect(eye.width(), unit - 6 * jitter, "width", 0.3 * jitter);
    }
}

/// Ten thousand million unit intervals, by adding an eye to itself: counts are whole, none overflows, and what was hit
/// once in all of them is still there.
TEST(EyeTruth, TenThousandMillionUnitIntervalsCountRight)
{
    EyeFold eye;
    eye.picture = EyeCounts::laidFor(-1, 1, 256);
    eye.unitIntervals = 1;
    eye.samples = 16;
    eye.picture.counts[1000] = 16;
    eye.parts = {EyeFold::Part(2)};
    eye.parts[0].levels[1] = {3, 0.4, 0, 0.4, 0.4};
    eye.sum = eye.parts[0];
    EyeFold single = eye;
    std::vector<const EyeFold *> twice{&eye, &eye};
    for (int doubled = 0; doubled < 34; ++doubled) {
        EyeFold sum = EyeFold::merged(twice);
        sum.parts = {sum.sum}; // one record, as it were: each would be kept
        eye = std::move(sum);
    }
    single.picture.counts[1000] = 0;
    single.picture.counts[77] = 1; // one hit elsewhere
    EyeFold all = EyeFold::merged({&eye, &single});
    const std::int64_t many = (std::int64_t(1) << 34) + 1;
    EXPECT_EQ(all.unitIntervals, many);
    EXPECT_EQ(all.samples, 16 * many);
    EXPECT_EQ(all.picture.counts[1000], std::uint64_t(16) << 34);
    EXPECT_EQ(all.picture.counts[77], 1u);
    EXPECT_EQ(all.one().count, 3.0 * double(many));
    EXPECT_NEAR(all.one().mean, 0.4, 1e-12);
}
