#include "error.h"
#include "formula.h"

#include <cmath>

using namespace fulvex;

namespace {

double valueOf(const std::string &formula)
{
    const SourcePtr x = makeMemorySource({2}, 1), y = makeMemorySource({5}, 1);
    Progress progress;
    const SourcePtr source = Formula::parse(formula).evaluate(
        {[&](const std::string &id) { return id == "x"   ? x
                                             : id == "y" ? y
                                                         : nullptr; }, {{"k", 10}}, {{"r", {0, 0}}}},
        progress);
    double value = 0;
    source->read(0, std::span(&value, 1));
    return value;
}

std::string errorOf(const std::string &formula)
{
    try {
        valueOf(formula);
    } catch (const Error &error) {
        return error.what();
    }
    return "no error";
}

} // namespace

TEST(Formula, FollowsTheRulesOfAlgebra)
{
    EXPECT_EQ(valueOf("y - x"), 3);
    EXPECT_EQ(valueOf("x + y * k"), 52);
    EXPECT_EQ(valueOf("(x + y) * k"), 70);
    EXPECT_EQ(valueOf("y - x - 1"), 2);
    EXPECT_EQ(valueOf("k / y / x"), 1);
    EXPECT_EQ(valueOf("-x ^ 2"), -4);
    EXPECT_EQ(valueOf("2 ^ -x"), 0.25);
    EXPECT_EQ(valueOf("x ^ 3 ^ 0.5"), std::pow(2, std::pow(3, 0.5)));
    EXPECT_EQ(valueOf("min(x, y) + max(x, y) * abs(-3)"), 17);
    EXPECT_DOUBLE_EQ(valueOf("x * 1.5 mV"), 0.003);
    EXPECT_DOUBLE_EQ(valueOf("x * 20M"), 4e7);
    EXPECT_DOUBLE_EQ(valueOf("x * 3 µs"), 6e-6);
}

/// Sample by sample, as mathematics has them.
TEST(Formula, FunctionsOfASampleAreWhatTheySay)
{
    EXPECT_DOUBLE_EQ(valueOf("exp(x / 4)"), std::exp(0.5));
    EXPECT_DOUBLE_EQ(valueOf("ln(x) + log10(y)"), std::log(2) + std::log10(5));
    EXPECT_DOUBLE_EQ(valueOf("sin(x) - cos(y)"), std::sin(2) - std::cos(5));
    EXPECT_DOUBLE_EQ(valueOf("atan2(y, -x)"), std::atan2(5, -2));
    EXPECT_EQ(valueOf("common(x, y)"), 3.5);
    EXPECT_EQ(valueOf("clip(y, 1, 3) + clip(x, 3, 9) + clip(x, 1, 3)"), 8);
    EXPECT_EQ(valueOf("choose(x < y, 7 * x, y)"), 14);
    EXPECT_EQ(valueOf("(x <= 2) + (x >= 2) + (x < 2) + (x > 2)"), 2);
    EXPECT_TRUE(std::isnan(valueOf("gate(x, y < x)")));
}

TEST(Formula, WhatIsNotFiniteIsAGap)
{
    EXPECT_TRUE(std::isnan(valueOf("x / (y - 5)")));
    EXPECT_TRUE(std::isnan(valueOf("sqrt(x - y)")));
}

TEST(Formula, ErrorsSayWhereAndHow)
{
    EXPECT_EQ(errorOf("x +"), "character 4: the formula ends where a value should stand; add a channel or a number");
    EXPECT_EQ(errorOf("x y"), "character 3: \"y\" is not expected here; an operator or the end is");
    EXPECT_EQ(errorOf("(x"), "character 3: a closing parenthesis is missing; add \")\"");
    EXPECT_EQ(errorOf("z - x"),
              "character 1: no channel, parameter or region has the id \"z\"; add it, or correct the formula");
    EXPECT_EQ(errorOf("3 + k"), "the formula names no channel; name at least one, so that it has a time axis");
    EXPECT_THAT(errorOf("wobble(x)"),
                testing::StartsWith("character 1: no function has the name \"wobble\"; there are: "));
    EXPECT_THAT(errorOf("x * 3 parsec"), testing::StartsWith("character 7: \"parsec\" is no SI prefix or unit"));
    EXPECT_THAT(errorOf(std::string(5000, '(')), testing::HasSubstr("nested too deeply"));
}

TEST(Formula, ChannelsOfDifferentDelayMeetOnTheGridOfTheFirst)
{
    std::vector<double> ramp;
    for (int i = 0; i < 200; ++i) ramp.push_back(std::sin(0.2 * i));
    const SourcePtr a = makeMemorySource(ramp, 1), b = makeMemorySource(ramp, 1, -0.4);
    Progress progress;
    const SourcePtr difference =
        Formula::parse("a - b").evaluate({[&](const std::string &id) { return id == "a" ? a : b; }, {}, {}}, progress);
    EXPECT_EQ(difference->axis().count, 199); // b ends 0.4 earlier
    std::vector<double> values(199);
    difference->read(0, values);
    for (int i = 20; i < 180; ++i)
        EXPECT_NEAR(values[std::size_t(i)], std::sin(0.2 * i) - std::sin(0.2 * (i + 0.4)), 2e-4);
    for (const double value : values) EXPECT_TRUE(std::isfinite(value)); // none is asked for what it does not hold
}

namespace {

const Formula::OwnFunctions own{{"half", {{"a"}, "a / 2"}},
                                {"between", {{"a", "b"}, "half(a + b)"}},
                                {"quiet", {{"a", "corner"}, "lowpass(a, 2 * corner, 3) * k"}},
                                {"first", {{"a", "b"}, "a"}},
                                {"round", {{"a"}, "trip(a)"}},
                                {"trip", {{"a"}, "round(a)"}},
                                {"wrong", {{"a"}, "a + * 2"}},
                                {"longer", {{"a"}, "half(a) + wrong(a)"}}};

std::string ownError(const std::string &formula)
{
    try {
        Formula::parse(formula, own);
    } catch (const Error &error) {
        return error.what();
    }
    return "no error";
}

} // namespace

/// A call is what the function's formula is with the values in the places of its arguments.
TEST(OwnFunctions, AreReplacedByWhatTheyAre)
{
    const auto same = [](const std::string &called, const std::string &written) {
        const SourcePtr x = makeMemorySource({1, 5, 2, 8, 4}, 1e-8), y = makeMemorySource({0, 1, 3, 1, 7}, 1e-8);
        Progress progress;
        std::vector<double> values[2];
        for (const Formula &formula : {Formula::parse(called, own), Formula::parse(written)}) {
            const SourcePtr source = formula.evaluate(
                {[&](const std::string &id) { return id == "x"   ? x
                                                     : id == "y" ? y
                                                                 : nullptr; }, {{"k", 10}}, {}},
                progress);
            std::vector<double> &all = values[values[0].empty() ? 0 : 1];
            all.resize(5);
            source->read(0, all);
        }
        EXPECT_EQ(values[0], values[1]) << called;
    };
    same("half(x)", "x / 2");
    same("between(x, y * 2)", "(x + y * 2) / 2");
    same("quiet(x - y, 3 MHz)", "lowpass(x - y, 2 * 3 MHz, 3) * k");
    same("first(x, y)", "x");
    same("first(x, y) + 1", "x + 1");
    same("half(half(x)) + half(x)", "x / 2 / 2 + x / 2");
    EXPECT_EQ(Formula::parse("quiet(x, 1M)", own).names(), (std::vector<std::string>{"x", "k"}));
}

TEST(OwnFunctions, SayWhatIsWrongWhereTheyAreCalled)
{
    EXPECT_EQ(ownError("1 + half(x, y)"), "character 5: \"half\" takes 1 arguments, not 2; give as many as it has");
    EXPECT_NE(ownError("1 + round(x)").find("character 5: in own function \"round\": character 1"), std::string::npos);
    EXPECT_NE(ownError("1 + round(x)").find("circle"), std::string::npos);
    EXPECT_NE(ownError("x * longer(x)").find("character 5: in own function \"longer\""), std::string::npos)
        << ownError("x * longer(x)");
    EXPECT_NE(ownError("thing(x)").find("between"), std::string::npos); // there is that
    EXPECT_NE(ownError("half(x").find("closing parenthesis"), std::string::npos);
    Formula::OwnFunctions many; // 2^40 of them, if each were written out
    many["f0"] = {{"a"}, "a + 1"};
    for (int i = 1; i <= 40; ++i) {
        const std::string before = "f" + std::to_string(i - 1);
        many["f" + std::to_string(i)] = {{"a"}, before + "(a) + " + before + "(a / 2)"};
    }
    EXPECT_THROW(Formula::parse("f40(x)", many), Error);
}

/// Whatever own functions are, a text says which it calls.
TEST(OwnFunctions, AreAmongTheNamesOfAText)
{
    EXPECT_EQ(Formula::namesIn("half(x) + nobody(y, 2)"), (std::vector<std::string>{"x", "half", "y", "nobody"}));
    EXPECT_EQ(Formula::namesIn("half(a) * k", {"a"}), (std::vector<std::string>{"half", "k"}));
    EXPECT_EQ(Formula::renamed("half(half) + half(x)", "half", "whole"), "whole(whole) + whole(x)");
    EXPECT_EQ(Formula::renamed("lowpass(x, fc) + fc", "fc", "corner"), "lowpass(x, corner) + corner");
}
