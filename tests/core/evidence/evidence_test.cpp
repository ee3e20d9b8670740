#include "evidence_text.h"
#include "signals.h"
#include "table_project.h"

#include <cmath>
#include <gmock/gmock.h>
#include <numeric>

using namespace fulvex;

namespace {

/// Data with an eye, a mask that its noise hits now and then, and rows.
class EvidenceOf : public testing::Test {
protected:
    void SetUp() override
    {
        test::DataSpec spec;
        spec.unitIntervals = 4000;
        spec.noise = 0.02;
        spec.randomJitter = 0.02;
        spec.seed = 11;
        m_project.emplace(test::makeData(spec).volts);
        Document &document = m_project->document;
        document.clocks.push_back({.id = "fixed", .source = "a"});
        document.eyes.push_back({.id = "eye", .source = "a", .clock = "fixed"});
        document.budgets.push_back({.id = "budget", .clock = "fixed"});
        document.masks.push_back({.id = "mask", .eye = "eye", .mask = "ieee-802.3-1000base-x", .margin = 0.75});
        m_project->measure("rise_time", "a");
        m_project->measure("time_interval_error", "", "fixed");
        m_project->measure("peak_to_peak", "a");
        results = m_project->evaluate();
    }
    Evidence ask(const Question &question, std::size_t wanted = 1000)
    {
        Progress progress;
        return evidenceFor(results, question, wanted, progress);
    }
    const Row &row(const char *id) { return *findEntry(results.rows, id); }
    Results results;

private:
    std::optional<test::TableProject> m_project;
};

} // namespace

TEST_F(EvidenceOf, TheBarsOfAHistogramLeadToAllOccurrencesOnceEach)
{
    for (const char *id : {"rise_time", "time_interval_error"}) {
        const Row &measured = row(id);
        ASSERT_TRUE(measured.measurable()) << measured.reason;
        std::int64_t sum = 0;
        for (std::size_t bar = 0; bar < measured.histogram.counts.size(); ++bar) {
            Question question{.id = id};
            question.values = measured.histogram.valuesOf(bar, bar);
            const Evidence found = ask(question, 5);
            ASSERT_EQ(found.count, measured.histogram.counts[bar]) << id << " " << bar;
            ASSERT_EQ(found.items.size(), std::size_t(std::min<std::int64_t>(5, found.count)));
            for (const Evidence::Item &item : found.items)
                ASSERT_TRUE(item.value >= question.values->first && item.value < question.values->second);
            ASSERT_TRUE(found.count > 0 || !found.none.empty());
            sum += found.count;
        }
        EXPECT_EQ(sum, measured.statistics.count);
        EXPECT_EQ(ask({.id = id}).count, sum);
    }
}

TEST_F(EvidenceOf, OccurrencesComeFarthestFirstAndStayWithinTheTimesAsked)
{
    const Evidence all = ask({.id = "rise_time"}, 100000);
    ASSERT_EQ(std::int64_t(all.items.size()), row("rise_time").statistics.count);
    for (std::size_t i = 1; i < all.items.size(); ++i)
        ASSERT_GE(std::abs(all.items[i - 1].value - all.mean), std::abs(all.items[i].value - all.mean));
    Question question{.id = "rise_time"};
    question.times = {1e-6, 2e-6};
    const Evidence some = ask(question, 100000);
    const auto within = std::count_if(all.items.begin(), all.items.end(),
                                      [](const auto &item) { return item.time >= 1e-6 && item.time < 2e-6; });
    EXPECT_GT(within, 100);
    EXPECT_EQ(some.count, within);
    EXPECT_EQ(some.all, all.all);
    EXPECT_THAT(headingOf(some), testing::HasSubstr(std::to_string(within) + " of " + std::to_string(all.all)));
    question.times = {1, 2};
    EXPECT_EQ(ask(question).none, "No occurrence lies there.");
}

/// What an eye counts in a row of cells passes through it as a box, and of the whole eye every unit interval does.
TEST_F(EvidenceOf, ABoxInAnEyeIsAnsweredByItsUnitIntervals)
{
    Question box{.id = "eye"};
    box.phases = {0.0, 1.0};
    box.values = {-10.0, 10.0};
    const EyeResult &eye = results.eyes[0];
    const Evidence all = ask(box);
    EXPECT_EQ(all.count, eye.fold->unitIntervals);
    EXPECT_EQ(all.items.size(), 1000u);
    box.phases = {0.45, 0.55};
    box.values = {eye.rule.thresholds.front() - 0.05, eye.rule.thresholds.front() + 0.05};
    EXPECT_EQ(ask(box).count, 0) << "the eye is open there";
    box.values = {eye.rule.thresholds.front(), 10.0};
    const Evidence ones = ask(box, 100000);
    box.values = {-10.0, eye.rule.thresholds.front()};
    const Evidence zeros = ask(box, 100000);
    EXPECT_EQ(ones.count + zeros.count, eye.fold->unitIntervals);
    EXPECT_GT(ones.count, eye.fold->unitIntervals / 3);
    EXPECT_GT(zeros.count, eye.fold->unitIntervals / 3);
    for (const Evidence::Item &item : ones.items) { // half a unit interval to either side of where it is
        const double ui = eye.by->map.unitIntervalAt(eye.by->map.axis().positionOf(item.time));
        ASSERT_NEAR(ui, double(item.unitInterval) + 0.5, 0.2);
        ASSERT_EQ(item.place.channel, "a");
    }
    Question early = box;
    early.times = {0.0, 1e-6};
    const Evidence some = ask(early, 100000);
    EXPECT_GT(some.count, 0);
    EXPECT_LT(some.all, all.all);
    EXPECT_EQ(some.count, std::count_if(zeros.items.begin(), zeros.items.end(),
                                        [&](const auto &item) { return item.unitInterval < some.all; }));
}

TEST_F(EvidenceOf, AMaskAndItsEyeLeadToTheSameFailuresDeepestFirst)
{
    const Evidence byMask = ask({.id = "mask"}), byEye = ask({.id = "eye"});
    ASSERT_GT(byMask.count, 3) << "the margin is to make it fail";
    EXPECT_EQ(byMask.count, results.masks[0].result->failedUnitIntervals);
    EXPECT_EQ(byMask.count, byEye.count);
    for (std::size_t i = 1; i < byMask.items.size(); ++i) ASSERT_GE(byMask.items[i - 1].value, byMask.items[i].value);
    Question late{.id = "mask"};
    late.times = {2e-6, 1.0};
    const Evidence some = ask(late);
    EXPECT_EQ(some.count, std::count_if(byMask.items.begin(), byMask.items.end(),
                                        [](const auto &item) { return item.time >= 2e-6; }));
}

/// All edges of a piece, what it does to each, and their root mean square.
TEST_F(EvidenceOf, APieceOfABudgetIsAnsweredByItsEdgesFarthestFirst)
{
    const BudgetResult &budget = results.budgets.at(0);
    ASSERT_TRUE(budget.found) << budget.reason;
    int answered = 0;
    for (std::size_t part = 0; part < budget.budget.parts.size(); ++part) {
        const Evidence evidence = ask({.id = "budget", .part = part}, 1'000'000);
        ASSERT_EQ(std::int64_t(evidence.items.size()), evidence.all);
        if (evidence.items.empty()) continue;
        ++answered;
        double squares = 0;
        for (std::size_t i = 0; i < evidence.items.size(); ++i) {
            squares += evidence.items[i].value * evidence.items[i].value;
            if (i > 0) {
                ASSERT_LE(std::abs(evidence.items[i].value), std::abs(evidence.items[i - 1].value));
            }
            EXPECT_NEAR(evidence.items[i].place.to - evidence.items[i].place.from, 2 * budget.found->edges.unitInterval,
                        1e-15);
        }
        EXPECT_NEAR(evidence.std, std::sqrt(squares / double(evidence.items.size())), 1e-12 * evidence.std);
    }
    EXPECT_GT(answered, 0);
}

TEST_F(EvidenceOf, WhatHasNoMomentsSaysWhy)
{
    EXPECT_THAT(ask({.id = "peak_to_peak"}).none, testing::HasSubstr("One number for the whole record"));
    EXPECT_EQ(ask({.id = "nobody"}).of, Evidence::Of::nothing);
    results.masks.clear();
    EXPECT_THAT(ask({.id = "eye"}).none, testing::HasSubstr("Drag a box"));
    results.rows[0].reason = "no edges";
    EXPECT_EQ(ask({.id = "rise_time"}).none, "no edges");
    results.eyes[0].by.reset(); // as of several captures added up
    EXPECT_THAT(ask({.id = "eye", .values = {{0, 1}}}).none, testing::HasSubstr("Several captures"));
}

TEST_F(EvidenceOf, ACancelEndsAQuestion)
{
    Progress progress;
    progress.cancel();
    EXPECT_THROW(evidenceFor(results, {.id = "rise_time"}, 10, progress), Cancelled);
    EXPECT_THROW(evidenceFor(results, {.id = "eye", .values = {{0, 1}}}, 10, progress), Cancelled);
}

TEST_F(EvidenceOf, EachCellStandsUnderAColumn)
{
    Question box{.id = "eye"};
    box.values = {-1.0, 1.0};
    for (const Question &question : {Question{.id = "rise_time"}, Question{.id = "mask"}, Question{.id = "r"}, box}) {
        const Evidence found = ask(question, 3);
        for (const Evidence::Item &item : found.items)
            EXPECT_EQ(cellsOf(found, item).size(), columnsOf(found).size()) << question.id;
    }
}
