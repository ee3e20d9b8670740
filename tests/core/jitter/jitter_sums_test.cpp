// Make-ups of several records add up to what one of all their edges would tell.

#include "jitter_signal.h"
#include "jitter_sums.h"
#include "units.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace fulvex {
namespace {

using test::JitterSpec;
using test::ps;

/// A record of its own: other noise, and another place of the pattern to begin at.
JitterSums record(JitterSpec spec, std::uint64_t seed, int from = 0)
{
    Progress progress;
    spec.seed = seed;
    for (JitterSpec::Line &line : spec.lines) line.phase = 0.7 * double(seed);
    if (spec.symbol) {
        const auto symbol = spec.symbol;
        spec.symbol = [symbol, from](std::int64_t at) { return symbol(at + from); };
    }
    return JitterSums::of(makeUpOf(test::makeJitter(spec), {}, progress), progress);
}

JitterSums together(const std::vector<JitterSums> &some)
{
    JitterSums all;
    for (const JitterSums &one : some) all.merge(one);
    return all;
}

TEST(JitterSums, TellWhatTheSignalIsMadeOf)
{
    for (const int order : {7, 9}) {
        JitterSpec spec;
        spec.unitIntervals = 20000;
        spec.random = 3 * ps;
        spec.response = {6 * ps, 3 * ps, -1.5 * ps};
        spec.dutyDistortion = 4 * ps;
        spec.symbol = test::prbs(order);
        spec.lines = {{3.7013e6, 8 * ps}};
        std::vector<JitterSums> some;
        constexpr int records = 12;
        for (int i = 0; i < records; ++i) some.push_back(record(spec, std::uint64_t(40 + i), 31 * i));
        const JitterSums all = together(some);
        const JitterMakeUp found = all.makeUp();
        EXPECT_EQ(found.records, records);
        EXPECT_FALSE(all.unlike);
        EXPECT_EQ(found.data.pattern, (1 << order) - 1);
        const double n = double(found.count);
        // Of N values the standard deviation scatters by 1 / sqrt(2 N), an amplitude by sqrt(2 / N): four times that.
        EXPECT_NEAR(found.random, spec.random, 4 * spec.random / std::sqrt(2 * n)) << order;
        EXPECT_GT(found.randomUncertainty, 0.5 * spec.random / std::sqrt(2 * n));
        EXPECT_LT(found.randomUncertainty, 2 * spec.random / std::sqrt(2 * n));
        ASSERT_EQ(found.lines.size(), 1u);
        EXPECT_NEAR(found.lines[0].amplitude, 8 * ps, 4 * spec.random * std::sqrt(2 / n));
        EXPECT_NEAR(found.lines[0].uncertainty, spec.random * std::sqrt(2 / n), 0.5 * spec.random * std::sqrt(2 / n));
        EXPECT_NEAR(found.lines[0].frequency, 3.7013e6, 5 * found.lines[0].frequencyUncertainty);
        EXPECT_DOUBLE_EQ(found.lines[0].share, 1);
        // The extreme means are of n / pattern edges each.
        const double scatter = spec.random * std::sqrt(2 * double(found.data.pattern) / n);
        EXPECT_NEAR(found.data.peakToPeak, test::dataExtent(spec), 4 * scatter) << order;
        EXPECT_LT(found.data.uncertainty, some[0].makeUp().data.uncertainty / 2);
        ASSERT_TRUE(found.dutyCycle());
        const JitterTails tails = tailsOf(found);
        ASSERT_EQ(tails.fit.reason, "");
        EXPECT_NEAR(tails.fit.random, spec.random, 4 * tails.fit.uncertainty());
    }
}

TEST(JitterSums, OfOneRecordTellWhatItsMakeUpTells)
{
    for (const bool repeats : {true, false}) {
        JitterSpec spec;
        spec.random = 2 * ps;
        spec.response = {5 * ps, 2 * ps};
        if (repeats) spec.symbol = test::prbs(7);
        spec.lines = {{12.3e6, 4 * ps}, {24.6e6, 2 * ps}};
        spec.seed = 3;
        Progress progress;
        const JitterMakeUp one = makeUpOf(test::makeJitter(spec), {}, progress);
        const JitterMakeUp again = JitterSums::of(one, progress).makeUp();
        EXPECT_EQ(again.count, one.count);
        EXPECT_NEAR(again.random, one.random, 1e-12 * one.random);
        EXPECT_NEAR(again.randomUncertainty, one.randomUncertainty, 1e-9 * one.randomUncertainty);
        ASSERT_EQ(again.lines.size(), one.lines.size());
        for (std::size_t i = 0; i < one.lines.size(); ++i) {
            EXPECT_NEAR(again.lines[i].amplitude, one.lines[i].amplitude, 1e-12 * one.lines[i].amplitude);
            EXPECT_EQ(again.lines[i].harmonicOf, one.lines[i].harmonicOf);
            EXPECT_NEAR(again.lines[i].uncertainty, one.lines[i].uncertainty, 1e-9 * one.lines[i].uncertainty);
            EXPECT_NEAR(again.lines[i].frequencyUncertainty, one.lines[i].frequencyUncertainty,
                        1e-9 * one.lines[i].frequencyUncertainty);
        }
        // What the lines took along of the means of data is taken along once more.
        EXPECT_NEAR(again.data.peakToPeak, one.data.peakToPeak, 0.1 * one.data.uncertainty) << repeats;
        EXPECT_NEAR(*again.dutyCycle(), *one.dutyCycle(), 1e-12 * ps);
        EXPECT_NEAR(again.bounded->totalAt(1e-12, again.random), one.bounded->totalAt(1e-12, one.random), 0.05 * ps);
        EXPECT_NEAR(tailsOf(again).fit.random, tailsOf(one).fit.random, 1e-12 * ps);
    }
}

TEST(JitterSums, AreTheSameInAnyOrderAndGrouping)
{
    JitterSpec spec;
    spec.unitIntervals = 9000;
    spec.random = 3 * ps;
    spec.response = {5 * ps};
    spec.symbol = test::prbs(7);
    spec.lines = {{2.2e6, 6 * ps}};
    std::vector<JitterSums> some;
    for (int i = 0; i < 9; ++i) some.push_back(record(spec, std::uint64_t(100 + i), 17 * i));
    const JitterMakeUp reference = together(some).makeUp();
    std::mt19937 random(4);
    for (int trial = 0; trial < 6; ++trial) {
        std::vector<JitterSums> left = some;
        std::shuffle(left.begin(), left.end(), random);
        while (left.size() > 1) {
            const std::size_t at = random() % (left.size() - 1);
            left[at].merge(left[at + 1]);
            left.erase(left.begin() + std::ptrdiff_t(at) + 1);
        }
        const JitterMakeUp found = left[0].makeUp();
        EXPECT_EQ(found.count, reference.count);
        EXPECT_NEAR(found.random, reference.random, 1e-12 * reference.random);
        EXPECT_NEAR(found.data.peakToPeak, reference.data.peakToPeak, 1e-9 * reference.data.peakToPeak);
        ASSERT_EQ(found.data.groups.size(), reference.data.groups.size());
        for (std::size_t i = 0; i < found.data.groups.size(); ++i)
            EXPECT_EQ(found.data.groups[i].count, reference.data.groups[i].count);
        ASSERT_EQ(found.lines.size(), reference.lines.size());
        EXPECT_NEAR(found.lines[0].amplitude, reference.lines[0].amplitude, 1e-12 * reference.lines[0].amplitude);
        ASSERT_EQ(found.spread->rest.bins.size(), reference.spread->rest.bins.size());
        for (std::size_t i = 0; i < found.spread->rest.bins.size(); ++i)
            EXPECT_EQ(found.spread->rest.bins[i].count, reference.spread->rest.bins[i].count);
    }
}

TEST(JitterSums, RecordsOfUnlikePatternsAreToldByTheirHistories)
{
    JitterSpec one;
    one.unitIntervals = 30000;
    one.random = 2 * ps;
    one.response = {6 * ps};
    JitterSpec other = one;
    one.symbol = test::prbs(7);
    other.symbol = test::prbs(9);
    JitterSums all = record(one, 1);
    all.merge(record(other, 2));
    all.merge(record(one, 3, 5));
    EXPECT_TRUE(all.unlike);
    const JitterMakeUp found = all.makeUp();
    EXPECT_EQ(found.data.pattern, 0);
    EXPECT_NEAR(found.data.peakToPeak, test::dataExtent(one), 0.3 * ps);
    EXPECT_NEAR(found.random, one.random, 4 * one.random / std::sqrt(2.0 * double(found.count)));
}

TEST(JitterSums, RecordsOfOtherLevelsHaveNothingInCommon)
{
    JitterSpec two;
    two.unitIntervals = 20000;
    two.random = 2 * ps;
    JitterSpec four = two;
    four.levels = 4;
    for (const bool turned : {false, true}) {
        JitterSums all = record(turned ? four : two, 1);
        all.merge(record(turned ? two : four, 2));
        all.merge(record(two, 3));
        EXPECT_NE(all.makeUp().reason.find("amplitude levels"), std::string::npos);
    }
}

TEST(JitterSums, ALineOfSomeRecordsCountsAndTellsOfHowMany)
{
    JitterSpec quiet;
    quiet.unitIntervals = 20000;
    quiet.random = 2 * ps;
    JitterSpec humming = quiet;
    humming.lines = {{5.1e6, 9 * ps}};
    std::vector<JitterSums> some;
    for (int i = 0; i < 8; ++i) some.push_back(record(i % 4 == 0 ? humming : quiet, std::uint64_t(i + 1)));
    const JitterMakeUp found = together(some).makeUp();
    ASSERT_EQ(found.lines.size(), 1u);
    EXPECT_NEAR(found.lines[0].amplitude, 9 * ps, 0.2 * ps);
    EXPECT_NEAR(found.lines[0].share, 0.25, 0.01);
    // One record's weak line is no line of all of them.
    JitterSpec once = quiet;
    once.lines = {{5.1e6, 0.9 * ps}};
    some[0] = record(once, 1);
    some[4] = record(quiet, 5);
    ASSERT_EQ(some[0].lines.size(), 1u);
    EXPECT_TRUE(together(some).makeUp().lines.empty());
}

TEST(JitterSums, WhatCouldNotBeToldIsLeftOutAndAllOfThatIsAReason)
{
    JitterSpec few;
    few.unitIntervals = 60;
    few.random = 2 * ps;
    JitterSpec many = few;
    many.unitIntervals = 20000;
    JitterSums all = record(few, 1);
    EXPECT_NE(all.makeUp().reason.find("a make-up needs 100"), std::string::npos);
    all.merge(record(many, 2));
    const JitterMakeUp found = all.makeUp();
    EXPECT_EQ(found.reason, "");
    EXPECT_EQ(found.records, 1);
    EXPECT_NEAR(found.random, many.random, 4 * many.random / std::sqrt(2.0 * double(found.count)));
}

} // namespace
} // namespace fulvex
