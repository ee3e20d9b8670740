// average over repeats, and detrend: what a whole record tells.

#include "formulas.h"
#include "signals.h"
#include "turn.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// Repeats every `period` samples, its harmonics below 0.3 of the sample rate.
double waveAt(double position, double period)
{
    const double phase = turn * position / period;
    return std::sin(phase) + 0.5 * std::cos(2 * phase + 1) + 0.3 * std::sin(3 * phase);
}

double rmsBetween(const std::vector<double> &found, const std::vector<double> &truth, std::size_t margin)
{
    double sum = 0;
    for (std::size_t i = margin; i + margin < found.size(); ++i) sum += std::pow(found[i] - truth[i], 2);
    return std::sqrt(sum / double(found.size() - 2 * margin));
}

} // namespace

TEST(Average, OfWhatRepeatsIsItself)
{
    for (const double period : {12.0, 12.34, 57.1, 4000.77}) {
        const int count = int(period * 40);
        std::vector<double> truth;
        for (int i = 0; i < count; ++i) truth.push_back(waveAt(i, period));
        const auto found = test::madeOf("average(x, " + std::to_string(period) + ")", truth);
        for (std::size_t i = 0; i < truth.size(); ++i) // interpolated twice, 1e-4 each, but for the ends' repeats
            ASSERT_NEAR(found[i], truth[i], 4e-4 + (i < 30 || i + 30 > truth.size() ? 0.05 : 0)) << period << " " << i;
    }
}

/// Noise becomes less by the root of the number of repeats. Over n independent values its rms scatters by 1 / sqrt(2n);
/// of a fractional period it is less by what interpolation takes off white noise, at most 15 % each time.
TEST(Average, LowersNoiseByTheRootOfTheRepeats)
{
    for (const double sigma : {0.01, 1.0}) {
        for (const int repeats : {10, 100, 1000}) {
            for (const double period : {200.0, 200.31}) {
                test::Gaussian random(std::uint64_t(repeats) + 7);
                std::vector<double> truth, values;
                for (int i = 0; i < int(period * repeats); ++i) {
                    truth.push_back(waveAt(i, period));
                    values.push_back(truth.back() + sigma * random());
                }
                const auto found = test::madeOf("average(x, " + std::to_string(period) + ")", values);
                const double left = rmsBetween(found, truth, 100), expected = sigma / std::sqrt(repeats);
                const double scatter = 4 / std::sqrt(2 * period);
                EXPECT_LT(left, expected * (1 + scatter) + 4e-4) << repeats << " " << period;
                EXPECT_GT(left, expected * (1 - scatter) * (period == 200 ? 1 : 0.7)) << repeats << " " << period;
            }
        }
    }
}

/// Begins that a trigger gives, at unlike distances: each sees the same curve behind it.
TEST(Average, BeginsWhereATriggerRises)
{
    test::Gaussian random(11);
    std::vector<double> trigger(60000, 0.0), values(60000, 0.0), truth(60000, NAN);
    const auto pulseAt = [](double since) { return since < 0 ? 0 : std::pow(since / 20, 2) * std::exp(-since / 20); };
    int begins = 0;
    for (std::size_t at = 137; at + 400 < trigger.size(); at += 300 + std::size_t(random.uniform() * 50), ++begins) {
        for (std::size_t i = 0; i < 100; ++i) trigger[at + i] = 1;
        for (std::size_t i = 0; i < 300; ++i)
            values[at + i] = pulseAt(double(i) - 0.5 + 1); // the passage lies half before
    }
    std::vector<double> noisy = values;
    for (double &value : noisy) value += 0.1 * random();
    const SourcePtr made =
        test::made("average(x, t)", {{"x", makeMemorySource(noisy, 1)}, {"t", makeMemorySource(trigger, 1)}});
    const auto found = test::allOf(made);
    EXPECT_TRUE(std::isnan(found[100]));
    double sum = 0;
    int compared = 0;
    for (std::size_t i = 137; i < 59000; ++i) {
        if (values[i] == 0) continue;
        sum += std::pow(found[i] - values[i], 2);
        ++compared;
    }
    const double left = std::sqrt(sum / compared), expected = 0.1 / std::sqrt(begins);
    EXPECT_LT(left, 1.3 * expected);
    EXPECT_GT(left, 0.6 * expected);
}

TEST(Average, SaysWhatIsWrong)
{
    test::expectRefused({{"average(x, 1)", "character 1", ""},
                         {"average(x, 0 - 5)", "character 1", ""},
                         {"average(x, 3)", "character 1", ""},
                         {"average(x, 0 / 0)", "character 1", ""},
                         {"average(x, 0 * x)", "character 1", ""}},
                        [](const std::string &formula) {
                            test::madeOf(formula, {1, 2, 3, 4, 5});
                        });
}

TEST(Detrend, TakesTheStraightLineAway)
{
    for (const int count : {1, 2, 1000, 400000}) {
        std::vector<double> values, curve;
        for (int i = 0; i < count; ++i) {
            values.push_back(7 - 3e-4 * i);
            curve.push_back(double(i) * i);
        }
        if (count > 100) values[50] = curve[50] = NAN;
        const auto none = test::madeOf("detrend(x)", values), centred = test::madeOf("detrend(x, mean)", values);
        const auto bent = test::madeOf("detrend(x)", curve);
        // Each sum is rounded as often as there are samples.
        const double rounding = 1e-14 + 1.2e-16 * count * (7 + 3e-4 * count);
        double sum = 0, product = 0, mean = 0;
        for (int i = 0; i < count; ++i) {
            if (std::isnan(values[std::size_t(i)])) {
                EXPECT_TRUE(std::isnan(none[std::size_t(i)]));
                continue;
            }
            ASSERT_NEAR(none[std::size_t(i)], 0, rounding) << count;
            ASSERT_NEAR(centred[std::size_t(i)] - centred[0], -3e-4 * i, rounding);
            mean += centred[std::size_t(i)] / count;
            sum += bent[std::size_t(i)] / count;
            product += bent[std::size_t(i)] * (i - count / 2.0) / count;
        }
        const double size = double(count) * count; // of the curve
        EXPECT_NEAR(mean, 0, rounding);
        EXPECT_NEAR(sum, 0, 1e-11 * size); // nothing of a line is left of what is none
        EXPECT_NEAR(product, 0, 1e-11 * size * count);
    }
}
