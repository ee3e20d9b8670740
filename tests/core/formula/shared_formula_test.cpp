// Formulas over formulas: one program, each part computed once.

#include "error.h"
#include "formula.h"
#include "signals.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace fulvex;

namespace {

std::vector<double> valuesOf(const SourcePtr &source)
{
    std::vector<double> values(std::size_t(source->axis().count));
    source->read(0, values);
    return values;
}

using Channels = std::map<std::string, SourcePtr>;

SourcePtr made(const std::string &formula, const Channels &channels, std::map<std::string, double> parameters = {})
{
    return Formula::parse(formula).evaluate(
        [&](const std::string &name) {
            const auto found = channels.find(name);
            return found == channels.end() ? nullptr : found->second;
        },
        parameters);
}

std::string name(int number)
{
    std::string text = "c";
    return text += std::to_string(number);
}

} // namespace

TEST(SharedFormulas, FortyThatEachUseTheTwoBeforeCostFortyStepsASample)
{
    Channels channels{{"c0", makeMemorySource({1, 2, -3, 0.5}, 1)}, {"c1", makeMemorySource({2, -1, 4, 0.25}, 1)}};
    std::vector<double> before{1, 2, -3, 0.5}, last{2, -1, 4, 0.25};
    for (int i = 2; i < 42; ++i) {
        channels[name(i)] = made(name(i - 1) + " - " + name(i - 2), channels);
        std::vector<double> next;
        for (std::size_t k = 0; k < 4; ++k) next.push_back(last[k] - before[k]);
        before = std::exchange(last, next);
    }
    EXPECT_EQ(valuesOf(channels["c41"]), last);
    EXPECT_LT(channels["c41"]->readEffort(), 20); // a tree of them would be 10^8
}

TEST(SharedFormulas, AnInnerResultThatIsNoNumberIsAGapInTheOuter)
{
    Channels channels{{"p", makeMemorySource({1, 1, 1}, 1)}, {"q", makeMemorySource({2, 0, 4}, 1)}};
    channels["ratio"] = made("p / q", channels);
    for (const char *formula : {"1 / ratio", "min(ratio, 3) + ratio - ratio"}) { // used once, and more than once
        const std::vector<double> found = valuesOf(made(formula, channels));
        EXPECT_TRUE(std::isnan(found[1])) << formula; // 1 / infinity would be 0
        EXPECT_FALSE(std::isnan(found[2])) << formula;
    }
    EXPECT_TRUE(made("ratio + p", channels)->mayHaveGaps());
}

TEST(SharedFormulas, OnOtherGridsWhatWouldTakeForEverIsRefused)
{
    std::vector<double> values(64);
    for (std::size_t i = 0; i < 64; ++i) values[i] = std::sin(0.3 * double(i));
    Channels channels{{"c0", makeMemorySource(values, 1)}, {"c1", makeMemorySource(values, 1, 0.5)}};
    std::string why;
    for (int i = 2; i < 60 && why.empty(); ++i) { // the grid of the first named alternates
        try {
            channels[name(i)] = made(name(i - 2) + " + c" + std::to_string(i - 1), channels);
        } catch (const Error &error) {
            why = error.what();
        }
    }
    EXPECT_THAT(why, testing::HasSubstr("computed more than 1000 times a sample; keep a copy"));
}

TEST(FormulaUnits, SumsAndMultiplesKeepTheUnitAndNothingElseDoes)
{
    const auto isChannel = [](const std::string &name) { return name != "k"; };
    for (const char *keeps :
         {"p - n", "2 * p", "p / 3 + 0.5", "k * (p + n) / 2", "-abs(p)", "max(p, n)", "p * (2 ^ 3)"})
        EXPECT_TRUE(Formula::parse(keeps).keepsUnit(isChannel)) << keeps;
    for (const char *not_ : {"p * n", "p / n", "1 / p", "p ^ 2", "sqrt(p)", "ln(p) + p", "exp(p)"})
        EXPECT_FALSE(Formula::parse(not_).keepsUnit(isChannel)) << not_;
}
