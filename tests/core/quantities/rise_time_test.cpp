#include "memory_inputs.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

struct Shape {
    const char *name;
    double (*step)(double t); ///< from 0 to 1 about t = 0
    double between;           ///< of t, from 10 to 90 %
};

/// Where a step passes a level, by halving.
double passage(double (*step)(double), double level)
{
    double low = -10, high = 10;
    for (int i = 0; i < 100; ++i) {
        const double middle = (low + high) / 2;
        (step(middle) < level ? low : high) = middle;
    }
    return low;
}

double gaussian(double t)
{
    return 0.5 * std::erfc(-t / std::numbers::sqrt2);
}
double halfSine(double t)
{
    return 0.5 + 0.5 * std::sin(std::numbers::pi * std::clamp(t, -0.5, 0.5));
}
/// Fourth-order, critically damped: smooth, not symmetrical.
double cascade(double t)
{
    if (t <= 0) return 0;
    return 1 - std::exp(-t) * (1 + t + t * t / 2 + t * t * t / 6);
}

} // namespace

/// Without noise, averaged over all phases of the sampling, upright and inverted, with offset: within 1 % at 5 samples
/// an edge and above, within 3 % at 3.
TEST(RiseTime, IsWithinAPercentAtFiveSamplesAnEdge)
{
    for (const Shape &shape :
         {Shape{"Gaussian", gaussian, 0}, Shape{"half sine", halfSine, 0}, Shape{"cascade", cascade, 0}}) {
        const double between = passage(shape.step, 0.9) - passage(shape.step, 0.1);
        for (const double samples : {3.0, 4.0, 5.0, 6.5, 9.0, 12.0, 30.0, 100.0}) {
            for (const bool inverted : {false, true}) {
                const double scale = between / samples, period = 20 * samples + 40.37;
                std::vector<double> values(std::size_t(60 * period));
                for (std::size_t i = 0; i < values.size(); ++i) {
                    const double along = std::fmod(double(i), 2 * period), mid = period / 2;
                    const double up = shape.step((along - mid) * scale),
                                 down = shape.step((along - mid - period) * scale);
                    values[i] = (inverted ? -1 : 1) * (up - down) * 0.7 - 3.1;
                }
                test::MemoryInputs inputs(values);
                for (const char *quantity : {"rise_time", "fall_time"}) {
                    const Statistics found = inputs.measure(quantity).statistics();
                    ASSERT_GE(found.count, 28) << shape.name << " " << samples;
                    // Above 5.25 samples straight lines are kept: a smooth edge of n samples reads longer by at most
                    // (1 / 12) |f''| h^2 / f' at both passages: 55 / n^2 percent for a Gaussian.
                    const double allowed = samples < 5 ? 3 : samples <= 5 ? 1 : 60 / (samples * samples);
                    EXPECT_NEAR(100 * *found.mean / (samples * 1e-9), 100, allowed)
                        << quantity << " of " << shape.name << ", " << samples << " samples"
                        << (inverted ? ", inverted" : "");
                }
            }
        }
    }
}

/// Steeper than the sample rate can show, a transition reads longer than it is, an ideal step 0.75 samples: what is
/// told of it holds the truth, and says nothing of the kind where there are samples enough.
TEST(RiseTime, SaysHowLittleIsKnownOfWhatIsTooSteep)
{
    for (const Shape &shape :
         {Shape{"Gaussian", gaussian, 0}, Shape{"half sine", halfSine, 0}, Shape{"cascade", cascade, 0}}) {
        for (const double samples : {0.05, 0.4, 0.7, 1.0, 1.3, 1.6, 2.5, 4.0}) {
            LevelRule rule;
            if (samples == 0.7) rule.low = 20, rule.high = 80;
            const double scale = (passage(shape.step, rule.high / 100) - passage(shape.step, rule.low / 100)) / samples;
            const double period = 40.37; // every phase between the samples
            std::vector<double> values(std::size_t(800 * period));
            for (std::size_t i = 0; i < values.size(); ++i) {
                const double along = std::fmod(double(i), 2 * period), mid = period / 2;
                values[i] = shape.step((along - mid) * scale) - shape.step((along - mid - period) * scale);
            }
            test::MemoryInputs inputs(values, 1e-9, rule);
            const Statistics found = inputs.measure("rise_time").statistics();
            ASSERT_GE(found.count, 390) << shape.name << " " << samples;
            const double uncertainty = *found.uncertainty * 1e9;
            EXPECT_NEAR(*found.mean * 1e9, samples, 2 * uncertainty + 0.02 * samples) << shape.name << " " << samples;
            if (samples > 2) {
                EXPECT_LT(uncertainty, 0.01 * samples) << shape.name << " " << samples;
            }
        }
    }
}

/// A single pulse says how certain it is, by the noise of its samples: of 200 the truth lies within two of it in 95 %,
/// give or take 1.5, times what is told of the noise itself.
TEST(SinglePulse, SaysHowCertainItIs)
{
    int held[2] = {}, runs = 200;
    constexpr double width = 143.3, ramp = 60;
    for (int run = 1; run <= runs; ++run) {
        test::Gaussian random{std::uint64_t(run)};
        const double start = 300 + random.uniform();
        std::vector<double> values(1000);
        for (std::size_t i = 0; i < values.size(); ++i) {
            const auto step = [&](double at) { return std::clamp((double(i) - at) / ramp + 0.5, 0.0, 1.0); };
            values[i] = step(start) - step(start + width) + 0.01 * random();
        }
        test::MemoryInputs inputs(values);
        const auto holds = [&](const char *quantity, double truth) {
            const Statistics found = inputs.measure(quantity).statistics();
            EXPECT_EQ(found.count, 1);
            return found.uncertainty && std::abs(*found.mean - truth) <= 2 * *found.uncertainty;
        };
        held[0] += holds("positive_width", width * 1e-9);
        held[1] += holds("rise_time", 0.8 * ramp * 1e-9);
    }
    for (const int one : held) {
        EXPECT_GE(one, 0.90 * runs);
        EXPECT_LE(one, 0.995 * runs);
    }
}
