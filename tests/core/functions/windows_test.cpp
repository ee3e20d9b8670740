// rms, median and envelope: against their definition, window by window.

#include "formulas.h"
#include "signals.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

std::vector<double> noise(int count, double missing, std::uint64_t seed)
{
    test::Gaussian random(seed);
    std::vector<double> values;
    for (int i = 0; i < count; ++i) values.push_back(random.uniform() < missing ? NAN : std::round(40 * random()) / 8);
    return values;
}

/// Of each window of `length` samples, an odd number, what `of` makes of those that are there.
std::vector<double> windowed(const std::vector<double> &values, int length,
                             const std::function<double(std::vector<double>)> &of)
{
    std::vector<double> found;
    const int count = int(values.size()), half = length / 2;
    for (int i = 0; i < count; ++i) {
        std::vector<double> window;
        for (int k = std::max(0, i - half); k <= std::min(count - 1, i + half); ++k)
            if (!std::isnan(values[std::size_t(k)])) window.push_back(values[std::size_t(k)]);
        found.push_back(std::isnan(values[std::size_t(i)]) ? NAN : of(std::move(window)));
    }
    return found;
}

void expectAlike(const std::vector<double> &found, const std::vector<double> &truth, double tolerance,
                 const std::string &what)
{
    ASSERT_EQ(found.size(), truth.size()) << what;
    for (std::size_t i = 0; i < found.size(); ++i) {
        ASSERT_EQ(std::isnan(found[i]), std::isnan(truth[i])) << what << " " << i;
        if (!std::isnan(truth[i])) {
            ASSERT_NEAR(found[i], truth[i], tolerance) << what << " " << i;
        }
    }
}

double middleOf(std::vector<double> window)
{
    std::sort(window.begin(), window.end());
    const std::size_t half = window.size() / 2;
    return window.size() % 2 == 1 ? window[half] : (window[half - 1] + window[half]) / 2;
}

double rmsOf(std::vector<double> window)
{
    double sum = 0;
    for (const double v : window) sum += v * v;
    return std::sqrt(sum / double(window.size()));
}

} // namespace

TEST(Windows, AreWhatTheySayOfEachWindow)
{
    for (const double missing : {0.0, 0.02, 0.6}) {
        for (const int count : {1, 2, 50, 9000}) {
            const std::vector<double> values = noise(count, missing, std::uint64_t(count));
            for (const int length : {1, 3, 21, 301}) {
                const auto found = [&](const std::string &function, const std::string &rest = "") {
                    return test::madeOf(function + "(x, " + std::to_string(length) + " us" + rest + ")", values, 1e-6);
                };
                const std::string what = std::to_string(length) + " of " + std::to_string(count);
                expectAlike(found("median"), windowed(values, length, middleOf), 0, "median " + what);
                expectAlike(found("rms"), windowed(values, length, rmsOf), 1e-6, "rms " + what); // sums of 4096 squares
                expectAlike(found("envelope"),
                            windowed(values, length, [](auto w) { return *std::max_element(w.begin(), w.end()); }), 0,
                            "upper " + what);
                expectAlike(found("envelope", ", lower"),
                            windowed(values, length, [](auto w) { return *std::min_element(w.begin(), w.end()); }), 0,
                            "lower " + what);
            }
        }
    }
}

/// A median takes out what is shorter than half its window, and leaves an edge where it is.
TEST(Median, TakesSpikesOutAndLeavesEdges)
{
    std::vector<double> values(1000, 0.0);
    std::fill(values.begin() + 500, values.end(), 1.0);
    std::vector<double> spiked = values;
    for (std::size_t i = 3; i < 490; i += 12) spiked[i] = spiked[i + 1] = 50;
    EXPECT_EQ(test::madeOf("median(x, 5)", spiked), values);
}

TEST(MovingRms, OfASineOverWholePeriodsIsItsAmplitudeByRootTwo)
{
    std::vector<double> sine;
    for (int i = 0; i < 20000; ++i) sine.push_back(3 * std::sin(2 * std::numbers::pi * i / 25.0));
    const auto found = test::madeOf("rms(x, 75)", sine);
    for (std::size_t i = 40; i + 40 < found.size(); ++i) ASSERT_NEAR(found[i], 3 / std::sqrt(2.0), 1e-9) << i;
}

TEST(Windows, SayWhatIsWrong)
{
    test::expectRefused({{"median(x, -1)", "character 1", ""},
                         {"rms(x, 0/0)", "character 1", ""},
                         {"envelope(x, 1T)", "character 1", ""},
                         {"median(x, 200k)", "character 1", ""}},
                        [](const std::string &formula) {
                            test::madeOf(formula, {1, 2, 3});
                        });
}
