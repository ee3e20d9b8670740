#include "limit_text.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

void expectRead(const std::string &text, const std::string &unit, std::optional<double> min, std::optional<double> max)
{
    const auto limit = parseLimit(text, unit);
    ASSERT_TRUE(limit) << text;
    ASSERT_EQ(limit->min.has_value(), min.has_value()) << text;
    ASSERT_EQ(limit->max.has_value(), max.has_value()) << text;
    if (min) {
        EXPECT_DOUBLE_EQ(*limit->min, *min) << text;
    }
    if (max) {
        EXPECT_DOUBLE_EQ(*limit->max, *max) << text;
    }
}

} // namespace

TEST(LimitText, IsReadInTheWordsOfTheTrade)
{
    for (const char *text : {"< 450 ps", "<450p", "<= 450 ps", "≤ 0.45 ns", "450 ps", "450p", "4.5e-10"})
        expectRead(text, "s", {}, 450e-12);
    for (const char *text : {"> 0.6 V", ">600 mV", ">=0.6", "≥ 600m"}) expectRead(text, "V", 0.6, {});
    for (const char *text : {"0.6 … 1 V", "0.6..1", "600 mV ... 1 V", "0.6 to 1", "600m…1"})
        expectRead(text, "V", 0.6, 1);
    expectRead("639.936 … 640.064 MBd", "Bd", 639.936e6, 640.064e6); // the second's prefix counts for both
    expectRead("−3 … 3 ps", "s", -3e-12, 3e-12);
    expectRead("< −1 dB", "dB", {}, -1);
    for (const char *text : {"", " ", "—", "-", "none"}) expectRead(text, "s", {}, {});
}

TEST(LimitText, WhatIsNoneIsNotTakenForOne)
{
    for (const char *text : {"fast", "< ", "< 3 V", "3 … ", "5 … 3 ps", "1 … 2 … 3", "<< 3", "3 ps s"})
        EXPECT_FALSE(parseLimit(text, "s")) << text;
}

/// What is shown can be typed again.
TEST(LimitText, IsReadAsItIsWritten)
{
    for (const LimitEntry &limit :
         {LimitEntry{{}, 450e-12}, LimitEntry{-3.25e-9, {}}, LimitEntry{1e-6, 2.5e-3}, LimitEntry{}}) {
        const auto again = parseLimit(limitText(limit, "s"), "s");
        ASSERT_TRUE(again) << limitText(limit, "s");
        ASSERT_EQ(again->isSet(), limit.isSet());
        if (limit.min) {
            EXPECT_NEAR(*again->min, *limit.min, 1e-6 * std::abs(*limit.min));
        }
        if (limit.max) {
            EXPECT_NEAR(*again->max, *limit.max, 1e-6 * std::abs(*limit.max));
        }
    }
}
