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
