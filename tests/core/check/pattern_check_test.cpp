#include "pattern_check.h"
#include "signals.h"

#include <gmock/gmock.h>

using namespace fulvex;

namespace {

/// The maximum-length sequence of x^9 + x^5 + 1, 511 symbols, over and over.
std::vector<std::uint8_t> sequence(std::size_t count)
{
    std::vector<std::uint8_t> symbols;
    unsigned state = 1;
    for (std::size_t i = 0; i < count; ++i) {
        symbols.push_back(state & 1);
        state = state >> 1 | ((state ^ state >> 4) & 1) << 8;
    }
    return symbols;
}

std::int64_t lengthOf(const std::vector<std::uint8_t> &symbols)
{
    Progress progress;
    return patternLength(symbols, progress);
}

} // namespace

TEST(PatternCheck, FindsThePeriodOfAPatternAlsoWithErrors)
{
    for (const std::size_t count : {1022u, 1500u, 20000u}) EXPECT_EQ(lengthOf(sequence(count)), 511) << count;
    std::vector<std::uint8_t> wrong = sequence(10000);
    for (std::size_t i = 100; i < wrong.size(); i += 400) wrong[i] ^= 1; // 0.25 %, counted twice by each shift
    EXPECT_EQ(lengthOf(wrong), 511);
    EXPECT_EQ(lengthOf(sequence(1000)), 0); // less than twice
    std::vector<std::uint8_t> random;
    test::Gaussian noise(4);
    for (int i = 0; i < 20000; ++i) random.push_back(noise() > 0);
    EXPECT_EQ(lengthOf(random), 0);
    EXPECT_EQ(lengthOf({}), 0);
    EXPECT_EQ(lengthOf(std::vector<std::uint8_t>{0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1}), 2);
}

TEST(PatternCheck, SymbolsFollowFromTheNumbersOfTheEdges)
{
    EdgeList edges;
    edges.positions = {10, 20, 50, 60, 90};
    edges.flags = {EdgeList::rising, 0, EdgeList::rising, 0, EdgeList::rising};
    const auto numberOf = [&](std::size_t edge) { return std::int64_t(edges.positions[edge] / 10); };
    EXPECT_THAT(symbolsOf(edges, numberOf), testing::ElementsAre(1, 0, 0, 0, 1, 0, 0, 0));
    edges.flags[2] |= EdgeList::afterGap;
    EXPECT_THAT(symbolsOf(edges, numberOf), testing::ElementsAre(1, 0, 0, 0)); // behind the gap
    EXPECT_TRUE(symbolsOf({}, numberOf).empty());
}

TEST(PatternCheck, WarnsBelowThirtyRepeats)
{
    EXPECT_TRUE(checkPattern(511, 511 * 30, "d").empty());
    EXPECT_TRUE(checkPattern(0, 1000, "d").empty());
    const auto findings = checkPattern(511, 511 * 12, "d");
    ASSERT_EQ(findings.size(), 1u);
    EXPECT_EQ(findings[0].check, "pattern_repeats");
    EXPECT_THAT(findings[0].text, testing::StartsWith("the pattern of 511 symbols is repeated 12.0 times"));
}
