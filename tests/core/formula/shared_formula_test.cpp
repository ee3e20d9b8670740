// Formulas over formulas: one program, each part computed once.

#include "error.h"
#include "formulas.h"
#include "signals.h"

#include <algorithm>
#include <cmath>
#include <gmock/gmock.h>

using namespace fulvex;

namespace {

std::string name(int number)
{
    std::string text = "c";
    return text += std::to_string(number);
}

} // namespace

TEST(SharedFormulas, FortyThatEachUseTheTwoBeforeCostFortyStepsASample)
{
    test::Channels channels{{"c0", makeMemorySource({1, 2, -3, 0.5}, 1)},
                            {"c1", makeMemorySource({2, -1, 4, 0.25}, 1)}};
    std::vector<double> before{1, 2, -3, 0.5}, last{2, -1, 4, 0.25};
    for (int i = 2; i < 42; ++i) {
        channels[name(i)] = test::made(name(i - 1) + " - " + name(i - 2), channels);
        std::vector<double> next;
        for (std::size_t k = 0; k < 4; ++k) next.push_back(last[k] - before[k]);
        before = std::exchange(last, next);
    }
    EXPECT_EQ(test::allOf(channels["c41"]), last);
    EXPECT_LT(channels["c41"]->readEffort(), 20); // a tree of them would be 10^8
}

TEST(SharedFormulas, AnInnerResultThatIsNoNumberIsAGapInTheOuter)
{
    test::Channels channels{{"p", makeMemorySource({1, 1, 1}, 1)}, {"q", makeMemorySource({2, 0, 4}, 1)}};
    channels["ratio"] = test::made("p / q", channels);
    for (const char *formula : {"1 / ratio", "min(ratio, 3) + ratio - ratio"}) { // used once, and more than once
        const std::vector<double> found = test::allOf(test::made(formula, channels));
        EXPECT_TRUE(std::isnan(found[1])) << formula; // 1 / infinity would be 0
        EXPECT_FALSE(std::isnan(found[2])) << formula;
    }
    EXPECT_TRUE(test::made("ratio + p", channels)->mayHaveGaps());
}

TEST(SharedFormulas, OnOtherGridsWhatWouldTakeForEverIsRefused)
{
    std::vector<double> values(64);
    for (std::size_t i = 0; i < 64; ++i) values[i] = std::sin(0.3 * double(i));
    test::Channels channels{{"c0", makeMemorySource(values, 1)}, {"c1", makeMemorySource(values, 1, 0.5)}};
    std::string why;
    for (int i = 2; i < 60 && why.empty(); ++i) { // the grid of the first named alternates
        try {
            channels[name(i)] = test::made(name(i - 2) + " + c" + std::to_string(i - 1), channels);
        } catch (const Error &error) {
            why = error.what();
        }
    }
    EXPECT_THAT(why, testing::HasSubstr("be computed more than 1000 times; keep a copy"));
}

TEST(SharedFormulas, WhatIsWrittenTwiceIsComputedOnce)
{
    const auto size = [](const char *formula) { return Formula::parse(formula).nodes().size(); };
    EXPECT_EQ(size("(p - n) ^ 2 + abs(p - n)"), 7u); // p n - 2 ^ abs +
    EXPECT_EQ(size("p + p + p"), 3u);
    EXPECT_EQ(size("1 m + 1m + 1 mV"), 4u); // a number with a unit is another one
    const test::Channels channels{{"p", makeMemorySource({1, 5, -2}, 1)}, {"n", makeMemorySource({4, 1, -2}, 1)}};
    EXPECT_EQ(test::allOf(test::made("(p - n) ^ 2 + abs(p - n)", channels)), (std::vector<double>{12, 20, 0}));
    EXPECT_EQ(test::allOf(test::made("p * p - p", channels)), (std::vector<double>{0, 20, 6}));
    EXPECT_EQ(test::allOf(test::made("n - (p - n) * p + n * n", channels)), (std::vector<double>{23, -18, 2}));
    EXPECT_EQ(test::allOf(test::made("p", channels)), (std::vector<double>{1, 5, -2}));
    // Another formula's results as well: the same effort for the same thing.
    test::Channels more = channels;
    more["d"] = test::made("p - n", channels);
    EXPECT_EQ(test::allOf(test::made("d * (p - n) + d", more)), (std::vector<double>{6, 20, 0}));
    EXPECT_EQ(test::made("d * (p - n) + d", more)->readEffort(), test::made("d * d + d", more)->readEffort());
}

/// Whatever a formula is made of: values of random graphs are those of the same computed one by one.
TEST(SharedFormulas, RandomOnesGiveWhatTheyAreMadeOf)
{
    test::Gaussian random(9);
    const auto pick = [&](std::size_t count) { return std::size_t(std::abs(random()) * 1000) % count; };
    for (int run = 0; run < 300; ++run) {
        test::Channels channels{{"p", makeMemorySource({0.5, -2}, 1)}, {"n", makeMemorySource({3, 0.25}, 1)}};
        std::vector<std::pair<std::string, std::vector<double>>> parts{
            {"p", {0.5, -2}}, {"n", {3, 0.25}}, {"2", {2, 2}}};
        for (int step = 0; step < 12; ++step) {
            const auto [a, va] = parts[pick(parts.size())];
            const auto [b, vb] = parts[pick(parts.size())];
            const char *const operators[] = {"+", "-", "*", "max"};
            const std::string op = operators[pick(4)];
            std::vector<double> v;
            for (std::size_t i = 0; i < 2; ++i)
                v.push_back(op == "+"   ? va[i] + vb[i]
                            : op == "-" ? va[i] - vb[i]
                            : op == "*" ? va[i] * vb[i]
                                        : std::max(va[i], vb[i]));
            std::string text = op == "max" ? "max(" + a + ", " + b + ")" : "(" + a + " " + op + " " + b + ")";
            if (text.size() > 300) continue;
            if (pick(3) == 0 && text.find_first_of("pn") != std::string::npos) { // as a channel of its own
                const std::string id = name(step);
                channels[id] = test::made(text, channels);
                text = id;
            }
            parts.emplace_back(text, v);
        }
        const auto &[text, truth] = parts.back();
        if (text.find_first_of("pnc") == std::string::npos) continue;
        std::vector<double> found = test::allOf(test::made(text, channels));
        ASSERT_EQ(found.size(), 2u);
        for (std::size_t i = 0; i < 2; ++i)
            ASSERT_TRUE(found[i] == truth[i] || !std::isfinite(truth[i])) << text << " " << found[i] << " " << truth[i];
    }
}

/// What stands in the table of each function of samples, gaps among them.
TEST(Pointwise, FunctionsGiveWhatTheirNamesSay)
{
    const std::vector<double> p{-2, -0.5, 0, 0.5, 3, NAN}, n{1, -0.5, 2, NAN, 3, 0};
    const test::Channels channels{{"p", makeMemorySource(p, 1)}, {"n", makeMemorySource(n, 1)}};
    struct Function {
        const char *formula;
        double (*is)(double p, double n);
    };
    static const auto known = [](double a, double b, bool holds) { return a == a && b == b ? double(holds) : NAN; };
    for (const Function &function : {
             Function{"sin(p)", [](double a, double) { return std::sin(a); }},
             {"cos(p * n)", [](double a, double b) { return std::cos(a * b); }},
             {"atan2(p, n)", [](double a, double b) { return std::atan2(a, b); }},
             {"p < n", [](double a, double b) { return known(a, b, a < b); }},
             {"p > n", [](double a, double b) { return known(a, b, a > b); }},
             {"p <= n", [](double a, double b) { return known(a, b, a <= b); }},
             {"p ≥ n", [](double a, double b) { return known(a, b, a >= b); }},
             {"p + 1 < n * 2", [](double a, double b) { return known(a, b, a + 1 < b * 2); }},
             {"2 * (p < n) - 1", [](double a, double b) { return 2 * known(a, b, a < b) - 1; }},
             {"clip(p, -1, 1)", [](double a, double) { return a == a ? std::clamp(a, -1.0, 1.0) : NAN; }},
             {"clip(p, n, 2.5)",
              [](double a, double b) { return a == a && b == b ? std::min(std::max(a, b), 2.5) : NAN; }},
             {"choose(p < n, p, n)", [](double a, double b) { return a == a && b == b ? std::min(a, b) : NAN; }},
             {"choose(p, 1, 0)", [](double a, double) { return a == a ? double(a != 0) : NAN; }},
         }) {
        const std::vector<double> found = test::allOf(test::made(function.formula, channels));
        for (std::size_t i = 0; i < p.size(); ++i) {
            const double truth = function.is(p[i], n[i]);
            EXPECT_TRUE(found[i] == truth || (std::isnan(found[i]) && std::isnan(truth)))
                << function.formula << " " << i << ": " << found[i] << ", not " << truth;
        }
    }
    EXPECT_THROW(Formula::parse("p < n < 2"), Error);
    EXPECT_THROW(Formula::parse("p < "), Error);
    EXPECT_THROW(Formula::parse("choose(p > n, 1)"), Error);
}

TEST(SharedFormulas, FormulasThatDifferInBlanksAndNamesAloneAreTheSame)
{
    const auto canonical = [](const char *formula) { return Formula::parse(formula).canonical(); };
    EXPECT_EQ(canonical("p - n"), canonical(" (a)-b"));
    EXPECT_EQ(canonical("p - p"), canonical("a - a"));
    EXPECT_EQ(canonical("2m * p"), canonical("0.002 * x"));
    for (const char *other : {"n - n", "p + n", "p - n - n", "2 mV - p", "p - 2", "p - n ^ 1"})
        EXPECT_NE(canonical("p - n"), canonical(other)) << other;
    EXPECT_NE(canonical("2 mV - p"), canonical("2 mA - p"));
    EXPECT_NE(canonical("p - n + p"), canonical("p - n + n"));
}

TEST(Unit, AreMultipliedDividedAndRaised)
{
    const auto text = [](const char *unit) { return Unit(unit).text(); };
    for (const char *same :
         {"V", "A", "s", "Hz", "W", "Ω", "C", "V/s", "V²", "Pa", "mV", "A²·s", "V²/Hz", "1/V", "deg", "1/A·s"})
        EXPECT_EQ(Unit(text(same)), Unit(same)) << same;
    for (const char *same : {"V", "Hz", "W", "Ω", "V²", "mV", "1/V"}) EXPECT_EQ(text(same), same);
    EXPECT_EQ(Unit("V").times(Unit("A")).text(), "W");
    EXPECT_EQ(Unit("W").over(Unit("A")).text(), "V");
    EXPECT_EQ(Unit("V").over(Unit("A")).text(), "Ω");
    EXPECT_EQ(Unit("V").toThe(2).over(Unit("Ω")).text(), "W");
    EXPECT_EQ(Unit("V").over(Unit("V")).text(), "");
    EXPECT_TRUE(Unit("V").over(Unit("V")).isNumber());
    EXPECT_EQ(Unit().over(Unit("s")).text(), "Hz");
    EXPECT_EQ(Unit("V").over(Unit("s")).text(), "V/s");
    EXPECT_EQ(Unit("V²").toThe(0.5).text(), "V");
    EXPECT_EQ(Unit("V").toThe(0.5).text(), "V^0.5");
    EXPECT_EQ(Unit(Unit("V").toThe(0.5).text()).toThe(2).text(), "V"); // as the unit of another formula
    EXPECT_EQ(Unit("Hz^-0.5"), Unit("s^0.5"));
    EXPECT_EQ(Unit("mV").times(Unit("V")).text(), "V·mV"); // no prefix is undone
}

namespace {

Formula::Type typeOf(const std::string &formula)
{
    return Formula::parse(formula).typeOf([](const std::string &name) -> Formula::Type {
        if (name == "k") return {};
        if (name == "fc") return {.unit = Unit("Hz")};
        if (name == "x") return {.unit = Unit("V"), .assumed = true}; // nobody stated it
        return {.unit = Unit(name == "i" ? "A" : "V")};
    });
}

} // namespace

TEST(FormulaUnits, FollowFromWhatIsComputed)
{
    const auto unitOf = [](const char *formula) -> std::string {
        const Formula::Type type = typeOf(formula);
        return type.unit ? type.unit->text() : "bare";
    };
    for (const char *volts :
         {"p - n", "2 * p", "p / 3 + 0.5", "k * (p + n) / 2", "-abs(p)", "max(p, n)", "p * (2 ^ 3)", "p + 3 mV",
          "sqrt(p * n)", "(p ^ 4) ^ 0.25", "p ^ (3 - 2)", "p * exp(p / n)", "p * i / i"})
        EXPECT_EQ(unitOf(volts), "V") << volts;
    EXPECT_EQ(unitOf("p * n"), "V²");
    EXPECT_EQ(unitOf("p * i"), "W");
    EXPECT_EQ(unitOf("p / i"), "Ω");
    EXPECT_EQ(unitOf("p / n"), "");
    EXPECT_EQ(unitOf("1 / p"), "1/V");
    EXPECT_EQ(unitOf("p * fc"), "V/s");
    EXPECT_EQ(unitOf("p / 2 ns"), "V/s");
    EXPECT_EQ(unitOf("ln(p / n)"), "");
    EXPECT_EQ(unitOf("2 ^ (p / n)"), "bare");
    EXPECT_EQ(unitOf("k + 3"), "bare");
    for (const char *volts : {"clip(p, -1, 2 mV)", "choose(p > n, p, 0)", "choose(p / n, p, n)", "smooth(p, 3 ns)",
                              "p * sin(p / n)", "x + p", "p + x", "max(0, p)"})
        EXPECT_EQ(unitOf(volts), "V") << volts;
    for (const char *number : {"p > n", "p <= 3 mV", "atan2(p, n)", "i < 0"}) EXPECT_EQ(unitOf(number), "") << number;
    EXPECT_EQ(unitOf("x + i"), "A");
    EXPECT_EQ(unitOf("ln(x)"), "");
    EXPECT_FALSE(typeOf("p + x").assumed);
    EXPECT_TRUE(typeOf("x * 2").assumed);
}

/// What does not fit is an error at what joins it.
TEST(FormulaUnits, ThatDoNotFitAreAnErrorAtTheirPlace)
{
    struct Wrong {
        const char *formula;
        int character;
        const char *says;
    };
    for (const Wrong &wrong : {Wrong{"p + i", 3, "V and A"},
                               {"n - (p * 2 + i)", 12, "V and A"},
                               {"ln(p)", 1, "of numbers, not of V"},
                               {"2 * exp(p)", 5, "of numbers, not of V"},
                               {"p ^ n", 3, "a power is of numbers"},
                               {"p ^ k", 3, "no constant"},
                               {"p ^ 0.3", 3, "makes no unit"},
                               {"p + 3 mA", 3, "V and A"},
                               {"2 ^ p", 3, "a power is of numbers"},
                               {"p < i", 3, "V and A"},
                               {"clip(p, i, n)", 1, "V and A"},
                               {"choose(p, n, n)", 1, "a condition is of numbers"},
                               {"choose(p > n, p, i)", 1, "V and A"},
                               {"smooth(p, 3 mV)", 1, "time of smooth in V, where s is wanted"},
                               {"p + smooth(i, 2)", 3, "V and A"}}) {
        try {
            typeOf(wrong.formula);
            ADD_FAILURE() << wrong.formula << " is taken";
        } catch (const Error &error) {
            EXPECT_EQ(error.where(), "character " + std::to_string(wrong.character)) << wrong.formula;
            EXPECT_NE(error.found().find(wrong.says), std::string::npos) << wrong.formula << ": " << error.found();
            EXPECT_FALSE(error.remedy().empty());
        }
    }
}
