// Rows that tell how good a sine is: their numbers and how certain they are, over many seeds.

#include "quantity_rows.h"
#include "signals.h"
#include "table_project.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

/// Of 40 seeds the mean of what is told is the truth, and what is told of its uncertainty the scatter: both are known
/// to about a ninth of it.
TEST(SineRows, TellTheTruthAndHowCertainItIs)
{
    struct Row {
        const char *quantity;
        double truth, sum = 0, squares = 0, told = 0;
    };
    constexpr double amplitude = 0.8, second = 2e-3, sigma = 1e-3;
    const double signal = amplitude * amplitude / 2, harmonics = second * second / 2, noise = sigma * sigma;
    Row rows[] = {{"sine_signal_to_noise", 10 * std::log10(signal / noise)},
                  {"sine_signal_to_noise_and_distortion", 10 * std::log10(signal / (noise + harmonics))},
                  {"total_harmonic_distortion", 100 * std::sqrt(harmonics / signal)}};
    constexpr int seeds = 40;
    for (int seed = 1; seed <= seeds; ++seed) {
        test::Gaussian random(std::uint64_t(seed) + 100);
        std::vector<double> values;
        const double frequency = 0.03 + 0.001 * seed;
        for (int i = 0; i < 40000; ++i) {
            const double phase = 2 * std::numbers::pi * frequency * i;
            values.push_back(amplitude * std::sin(phase) + second * std::cos(2 * phase) + sigma * random());
        }
        test::TableProject project(values);
        for (const Row &row : rows) project.measure(row.quantity, "a");
        const Results results = project.evaluate();
        for (std::size_t i = 0; i < 3; ++i) {
            ASSERT_TRUE(results.rows[i].measurable()) << results.rows[i].reason;
            const double value = *results.rows[i].statistics.mean;
            rows[i].sum += value / seeds;
            rows[i].squares += value * value / seeds;
            rows[i].told += results.rows[i].statistics.uncertainty.value_or(0) / seeds;
        }
    }
    for (const Row &row : rows) {
        const double scatter = std::sqrt((row.squares - row.sum * row.sum) * seeds / (seeds - 1));
        EXPECT_NEAR(row.sum, row.truth, 4 * scatter / std::sqrt(seeds) + 2e-3 * row.truth) << row.quantity;
        EXPECT_LT(row.told, 1.6 * scatter) << row.quantity;
        EXPECT_GT(row.told, 0.6 * scatter) << row.quantity;
    }
}
