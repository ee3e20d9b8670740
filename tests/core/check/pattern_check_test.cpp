#include "pattern_check.h"

#include <gmock/gmock.h>

using namespace fulvex;

TEST(PatternCheck, WarnsBelowThirtyRepeats)
{
    EXPECT_TRUE(checkPattern(511, 511 * 30, "d").empty());
    EXPECT_TRUE(checkPattern(0, 1000, "d").empty());
    const auto findings = checkPattern(511, 511 * 12, "d");
    ASSERT_EQ(findings.size(), 1u);
    EXPECT_EQ(findings[0].check, "pattern_repeats");
    EXPECT_THAT(findings[0].text, testing::StartsWith("the pattern of 511 symbols is repeated 12.0 times"));
}
