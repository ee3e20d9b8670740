#include "jitter_budget.h"
#include "jitter_signal.h"
#include "normal_distribution.h"
#include "units.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace fulvex {
namespace {

using Kind = JitterBudget::Part::Kind;

using test::ps;

/// A pattern, a duty cycle, two lines and noise.
JitterMakeUp made()
{
    test::JitterSpec spec;
    spec.random = 2 * ps;
    spec.unitIntervals = 200000;
    spec.response = {6 * ps, 3 * ps};
    spec.dutyDistortion = 5 * ps;
    spec.symbol = test::prbs(9);
    spec.lines = {{3.7e6, 8 * ps}, {91.3e6, 3 * ps}};
    Progress progress;
    return makeUpOf(test::makeJitter(spec), {}, progress);
}

const JitterBudget::Part &partOf(const JitterBudget &budget, Kind kind)
{
    return *std::find_if(budget.parts.begin(), budget.parts.end(), [&](const auto &part) { return part.kind == kind; });
}

TEST(JitterBudget, HasAPieceForEachPart)
{
    const JitterMakeUp found = made();
    const JitterBudget budget = budgetOf(found, nullptr, 1e-12, {});
    ASSERT_EQ(budget.parts.size(), 5u);
    EXPECT_NEAR(partOf(budget, Kind::dutyCycle).size, 5 * ps, 1.5 * ps); // the pattern adds to the means of directions
    // What symbols do beside the direction: 2 (6 + 3) ps of both, mirrored.
    EXPECT_NEAR(partOf(budget, Kind::pattern).size, 18 * ps, 1 * ps);
    EXPECT_NEAR(partOf(budget, Kind::line).size, 16 * ps, 0.1 * ps);
    EXPECT_NEAR(partOf(budget, Kind::random).size, 14.069 * 2 * ps, 0.02 * 28 * ps);
    EXPECT_NEAR(budget.factor, 14.069, 1e-3);
    EXPECT_LT(budget.total, budget.added());
    EXPECT_EQ(budget.total, budget.whole);
    EXPECT_NEAR(budget.total, found.bounded->totalAt(1e-12, found.random), 1e-3 * ps);
    EXPECT_NEAR(budget.open(), 1e-9 - budget.total, 1e-18);
    // At a higher ratio less is eaten.
    EXPECT_LT(budgetOf(found, nullptr, 1e-6, {}).total, budget.total);
}

TEST(JitterBudget, WhatALineEatsIsLessThanItsPiece)
{
    const JitterMakeUp found = made();
    const JitterBudget all = budgetOf(found, nullptr, 1e-12, {});
    const double near[] = {3.71e6}; // within a hundredth
    const JitterBudget without = budgetOf(found, nullptr, 1e-12, near);
    const JitterBudget::Part &line = partOf(without, Kind::line);
    EXPECT_TRUE(line.leftOut);
    EXPECT_FALSE(line.without);
    EXPECT_NEAR(without.added(), all.added() - line.size, 1e-3 * ps);
    EXPECT_LT(without.total, all.total - 10 * ps);
    EXPECT_GT(without.total, all.total - line.size);
    EXPECT_NEAR(without.whole, all.total, 1e-3 * ps);
    ASSERT_TRUE(partOf(all, Kind::line).without);
    EXPECT_NEAR(*partOf(all, Kind::line).without, without.total, 1e-3 * ps);
    const double far[] = {5e6}; // no line there
    EXPECT_EQ(budgetOf(found, nullptr, 1e-12, far).total, all.total);
}

TEST(JitterBudget, ByTailsHasWhatElseIsBounded)
{
    test::JitterSpec spec;
    spec.random = 3 * ps;
    spec.unitIntervals = 200000;
    spec.other = [](test::Gaussian &chance) { return chance.uniform() < 0.5 ? -6 * ps : 6 * ps; };
    Progress progress;
    const JitterMakeUp found = makeUpOf(test::makeJitter(spec), {}, progress);
    const JitterTails tails = tailsOf(found);
    const JitterBudget spectral = budgetOf(found, nullptr, 1e-12, {}), tail = budgetOf(found, &tails, 1e-12, {});
    EXPECT_NEAR(partOf(tail, Kind::bounded).size, 12 * ps, 0.6 * ps);
    EXPECT_NEAR(tail.random, 3 * ps, 0.15 * ps);
    EXPECT_GT(spectral.random, 6 * ps); // all of it taken for noise
    // Two values and noise, by their sum: 12 ps and twice what a part of 2e-12 of a normal distribution lies beyond.
    EXPECT_NEAR(tail.total, 12 * ps + 2 * normalQuantile(2e-12) * 3 * ps, 2 * ps);
}

} // namespace
} // namespace fulvex
