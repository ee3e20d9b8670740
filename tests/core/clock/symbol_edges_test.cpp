// Transitions of signals of several levels: which they are, and when.

#include "amplitude_survey.h"
#include "signals.h"
#include "symbol_edges.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

SymbolEdges symbolEdgesOf(const test::Data &data, std::size_t symbols, std::optional<double> expected = {})
{
    Progress progress;
    const SourcePtr source = data.source();
    const SampleRange all{0, source->axis().count};
    const AmplitudeSurvey survey = surveyAmplitudes(*source, all, progress);
    SymbolLevelRule rule;
    rule.count = symbols;
    return findSymbolEdges(source, all, survey.histogram, rule, expected, EdgeInterpolation::instants, progress);
}

/// Whether these are the data's transitions and no others, within `error` samples each.
void expectTransitions(const SymbolEdges &found, const test::Data &data, double error)
{
    ASSERT_EQ(found.reason, "");
    std::size_t count = data.edges.size(); // what the last one reaches may not be told any more
    if (data.numbers.back() + 2 > std::int64_t(data.symbols.size())) --count;
    ASSERT_EQ(found.edges.size(), count);
    double worst = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const auto n = std::size_t(data.numbers[i]);
        ASSERT_EQ(int(found.edges.symbolBefore(i)), data.symbols[n - 1]) << i;
        ASSERT_EQ(int(found.edges.symbolBehind(i)), data.symbols[n]) << i;
        ASSERT_EQ(found.edges.isRising(i), bool(data.rising[i])) << i;
        worst = std::max(worst, std::abs(found.edges.positions[i] - data.edges[i]));
    }
    EXPECT_LT(worst, error);
}

const std::vector<std::vector<double>> unevenLevels{
    {-0.6, 0.05, 0.55}, {0, 0.9, 2.1, 3.3}, {-3, -1, 1, 3}, {0, 1, 2, 3, 4}, {0, 1, 2, 3, 4, 5, 6, 7}};

double narrowestOf(const std::vector<double> &levels)
{
    double narrowest = INFINITY;
    for (std::size_t i = 1; i < levels.size(); ++i) narrowest = std::min(narrowest, levels[i] - levels[i - 1]);
    return narrowest;
}

} // namespace

/// An edge of height h and Gaussian rise s passes its middle at h / (s sqrt(2 pi)), so noise moves it by n s sqrt(2 pi)
/// / h; of some thousand the worst is 4.5 times that. Neighbouring edges, a unit interval away, reach it by 1e-16.
TEST(SymbolEdges, AreTimedAtTheMiddleOfTheLevelsTheyJoin)
{
    for (const auto &levels : unevenLevels) {
        for (const double samplesPerUi : {9.0, 11.7, 41.3}) {
            for (const double relativeNoise : {0.0, 0.02}) {
                SCOPED_TRACE(std::to_string(levels.size()) + " levels, " + std::to_string(samplesPerUi));
                test::DataSpec spec;
                spec.levels = levels;
                spec.samplesPerUi = samplesPerUi;
                spec.unitIntervals = 3000;
                spec.randomJitter = 0.01;
                const double step = narrowestOf(levels);
                spec.noise = relativeNoise * step;
                spec.seed = std::uint64_t(samplesPerUi * 10) + levels.size();
                const test::Data data = test::makeData(spec);
                const double rise = spec.edgeSigma * samplesPerUi * std::sqrt(2 * std::numbers::pi);
                // Found levels are off by what noise leaves of a mean; the interpolation by some 1e-3 samples.
                expectTransitions(symbolEdgesOf(data, levels.size()), data, (0.003 + 5 * relativeNoise) * rise + 0.004);
            }
        }
    }
}

/// Of unit intervals too long for a core's cache transitions are sought one by one.
TEST(SymbolEdges, OfVeryManySamplesAUnitInterval)
{
    test::DataSpec spec;
    spec.levels = {-1, 0.1, 1};
    spec.samplesPerUi = 70000.3;
    spec.unitIntervals = 60;
    spec.edgeSigma = 0.001;
    const test::Data data = test::makeData(spec);
    expectTransitions(symbolEdgesOf(data, 3, 70000.3), data, 0.1);
}

/// A ternary code that goes round -1, 0, 1, 0 and stays for a zero: as in IEEE Std 802.3, clause 25 (MLT-3). Half of
/// all unit intervals rest on the middle level.
TEST(SymbolEdges, OfACodeThatNeverPassesTwoLevelsAtOnce)
{
    test::DataSpec spec;
    spec.levels = {-1, 0, 1};
    spec.samplesPerUi = 8;
    spec.unitIntervals = 6000;
    spec.noise = 0.02;
    std::vector<int> symbols(6001);
    test::Gaussian random(9);
    int place = 0;
    for (int &symbol : symbols) {
        if (random.uniform() < 0.5) place = (place + 1) % 4;
        symbol = std::array{0, 1, 2, 1}[std::size_t(place)];
    }
    spec.bit = [&](std::int64_t n) { return symbols[std::size_t(n)]; };
    const test::Data data = test::makeData(spec);
    const SymbolEdges found = symbolEdgesOf(data, 3);
    expectTransitions(found, data, 0.1 * 0.12 * 8 * std::sqrt(2 * std::numbers::pi) + 0.01);
    for (std::size_t i = 0; i < found.edges.size(); ++i)
        EXPECT_EQ(std::abs(int(found.edges.symbolBefore(i)) - int(found.edges.symbolBehind(i))), 1);
}

TEST(SymbolEdges, FollowWanderAndLongRuns)
{
    for (const std::uint64_t seed : {1u, 2u, 3u}) {
        test::DataSpec spec;
        spec.levels = {0, 1, 2, 3};
        spec.samplesPerUi = 9.3;
        spec.unitIntervals = 20000;
        spec.seed = seed;
        spec.wander = [](double n) { return 3 * std::sin(2 * std::numbers::pi * n / 5000); };
        test::Gaussian random(seed);
        std::vector<int> symbols(20001);
        for (std::size_t n = 0; n < symbols.size();) {
            const auto run = std::size_t(1 + 30 * std::pow(random.uniform(), 6)); // to 31
            const int symbol = int(random.uniform() * 4);
            for (std::size_t i = 0; i < run && n < symbols.size(); ++i) symbols[n++] = symbol;
        }
        spec.bit = [&](std::int64_t n) { return symbols[std::size_t(n)]; };
        const test::Data data = test::makeData(spec);
        expectTransitions(symbolEdgesOf(data, 4), data, 0.01);
        expectTransitions(symbolEdgesOf(data, 4, 9.3 * 1.003), data, 0.01);
    }
}

/// Wherever it lies among the chunks that transitions are looked for in.
TEST(SymbolEdges, SayThatAGapLiesBeforeThem)
{
    test::DataSpec spec;
    spec.levels = {0, 1, 2};
    spec.samplesPerUi = 9;
    spec.unitIntervals = 17'000;
    const test::Data whole = test::makeData(spec);
    const auto gapsWithout = [&](double first, double last) { // unit intervals
        test::Data data = whole;
        for (auto k = std::size_t(9 * first); k < std::size_t(9 * last); ++k) data.volts[k] = std::nan("");
        const SymbolEdges found = symbolEdgesOf(data, 3);
        std::vector<double> behind;
        for (std::size_t i = 0; i < found.edges.size(); ++i)
            if (found.edges.isAfterGap(i)) behind.push_back(found.edges.positions[i] / 9);
        EXPECT_GT(found.edges.size(), 10'000u) << found.reason;
        return behind;
    };
    for (double border = 16'380; border <= 16'388; border += 0.5) {
        const std::vector<double> behind = gapsWithout(border - 12, border);
        ASSERT_EQ(behind.size(), 1u) << border;
        EXPECT_NEAR(behind[0], border + 4, 4) << border;
    }
    // Behind one of the first transitions, and before all of them.
    for (const std::size_t edge : {1, 2, 3}) {
        const double first = whole.edges[edge] / 9 + 0.6;
        EXPECT_EQ(gapsWithout(first, first + 12).size(), 1u) << edge;
    }
    EXPECT_EQ(gapsWithout(0, 12).size(), 0u);
}

TEST(SymbolEdges, KnowNothingAcrossAGap)
{
    test::DataSpec spec;
    spec.levels = {0, 1, 2};
    spec.samplesPerUi = 9;
    spec.unitIntervals = 500;
    test::Data data = test::makeData(spec);
    for (std::size_t k = 2000; k < 2200; ++k) data.volts[k] = std::nan("");
    const SymbolEdges found = symbolEdgesOf(data, 3);
    std::vector<double> expected; // of which the middles before and behind are there
    for (std::size_t i = 0; i < data.edges.size(); ++i) {
        const double before = data.edges[i] - 4.5, behind = data.edges[i] + 4.5;
        const bool known = behind < 1999 || (before > 2200 && behind < double(data.volts.size() - 1));
        if (known) expected.push_back(data.edges[i]);
    }
    ASSERT_EQ(found.edges.size(), expected.size());
    std::size_t gaps = 0;
    for (std::size_t i = 0; i < expected.size(); ++i) {
        EXPECT_NEAR(found.edges.positions[i], expected[i], 0.01);
        gaps += found.edges.isAfterGap(i);
        EXPECT_EQ(found.edges.isAfterGap(i), i > 0 && expected[i - 1] < 2000 && expected[i] > 2000);
    }
    EXPECT_EQ(gaps, 1u);
}

TEST(SymbolEdges, OfSignalsWithoutAnySayWhy)
{
    test::Data flat;
    flat.volts.assign(1000, 1.0);
    EXPECT_THAT(symbolEdgesOf(flat, 3).reason, testing::HasSubstr("a clock needs at least 4"));
    test::Data ramp;
    for (int i = 0; i < 1000; ++i) ramp.volts.push_back(0.001 * i);
    EXPECT_THAT(symbolEdgesOf(ramp, 4).reason, testing::HasSubstr("a clock needs at least 4"));
    test::Data one;
    one.volts = {1};
    EXPECT_THAT(symbolEdgesOf(one, 4).reason, testing::HasSubstr("a clock needs at least 4"));
    test::Data two; // levels, of three that were asked for: a clock, and no level of its own for the third
    test::DataSpec spec;
    two = test::makeData(spec);
    EXPECT_EQ(symbolEdgesOf(two, 3).levels.levels.size(), 3u);
}

/// The groups of least squares of a histogram with clear groups are these, whatever their sizes.
TEST(SymbolLevels, AreFoundWhateverHowOftenEachOccurs)
{
    for (const auto &levels : unevenLevels) {
        test::Gaussian random(levels.size());
        std::vector<double> values;
        std::vector<double> sums(levels.size()), counts(levels.size());
        for (int i = 0; i < 40000; ++i) {
            const auto symbol = std::size_t(std::pow(random.uniform(), 2) * double(levels.size()));
            values.push_back(levels[symbol] + 0.03 * random());
            sums[symbol] += values.back();
            ++counts[symbol];
        }
        AmplitudeHistogram histogram;
        const auto [least, most] = std::minmax_element(values.begin(), values.end());
        histogram.add(values, *least, *most);
        SymbolLevelRule rule;
        rule.count = levels.size();
        const SymbolLevels found = roughSymbolLevels(histogram, rule);
        for (std::size_t i = 0; i < levels.size(); ++i) EXPECT_NEAR(found.levels[i], sums[i] / counts[i], 1e-9);
        for (std::size_t i = 0; i + 1 < levels.size(); ++i)
            EXPECT_DOUBLE_EQ(found.thresholds[i], found.middle(i, i + 1));
        EXPECT_NEAR(found.hysteresis, 0.1 * narrowestOf(levels), 0.001);
        rule.extremes = true;
        EXPECT_DOUBLE_EQ(roughSymbolLevels(histogram, rule).levels.back(), *most);
        rule.levels = levels;
        EXPECT_EQ(roughSymbolLevels(histogram, rule).levels, levels);
    }
}
