#include "error.h"
#include "evidence.h"
#include "keep_out.h"
#include "number_text.h"
#include "results_json.h"
#include "signals.h"
#include "table_project.h"

#include <cmath>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

using namespace fulvex;

namespace {

/// Pulses of 40 samples every 100; the one at 20 is 60 wide.
std::vector<double> pulses()
{
    std::vector<double> values(6000);
    const auto ramp = [](double along) { return std::clamp(along / 8, 0.0, 1.0); };
    for (int pulse = 0; pulse < 60; ++pulse) {
        const double start = 20 + 100 * pulse, width = pulse == 20 ? 60 : 40;
        for (std::size_t i = 0; i < values.size(); ++i)
            values[i] += ramp(double(i) - start) - ramp(double(i) - start - width);
    }
    return values;
}

class KeptOut : public testing::Test {
protected:
    KeptOut() : project(pulses(), 1e-9)
    {
        for (const char *quantity : {"positive_width", "period", "rise_time", "mean"}) project.measure(quantity, "a");
    }
    const Row &row(const char *id) { return *findEntry(results.rows, id); }
    void keepOut(double start, double stop, std::vector<std::string> of)
    {
        project.document.keptOut.push_back(
            {"out" + std::to_string(project.document.keptOut.size()), std::move(of), start, stop, "a relay switched"});
        results = project.evaluate();
    }
    test::TableProject project;
    Results results;
};

} // namespace

TEST_F(KeptOut, AMomentDoesNotCountAndIsListedWithItsReason)
{
    results = project.evaluate();
    const Row before = row("positive_width");
    ASSERT_EQ(before.statistics.count, 60);
    ASSERT_NEAR(*before.statistics.max, 60e-9, 1e-12);
    Progress progress;
    const Evidence worst = evidenceFor(results, {.id = "positive_width"}, 10, progress);
    ASSERT_EQ(worst.items[0].place.instants.size(), 2u);
    keepOut(worst.items[0].place.instants[0], worst.items[0].place.instants[1], {"positive_width"});

    const Row &after = row("positive_width");
    EXPECT_EQ(after.statistics.count, 59);
    EXPECT_NEAR(*after.statistics.mean, 40e-9, 1e-12);
    EXPECT_NEAR(*after.statistics.max, 40e-9, 1e-12);
    EXPECT_EQ(after.keptOutCount, 1);
    ASSERT_EQ(after.keptOut.size(), 1u);
    EXPECT_NEAR(after.keptOut[0].value, 60e-9, 1e-12);
    EXPECT_EQ(after.keptOut[0].reason, "a relay switched");
    EXPECT_EQ(after.measured->population.size(), 59u);
    EXPECT_THAT(after.provenance,
                testing::Contains(std::pair<std::string, std::string>("kept out", "1 of 60 moments")));
    EXPECT_EQ(row("rise_time").statistics.count, 60) << "another row's are its own";

    const Evidence now = evidenceFor(results, {.id = "positive_width"}, 10, progress);
    EXPECT_EQ(now.items[0].keptOutBy, "out0");
    EXPECT_TRUE(now.items[1].keptOutBy.empty());
    EXPECT_EQ(now.all, 59);
    const auto json = nlohmann::json::parse(resultsJson(results, {}));
    EXPECT_EQ(json["measurements"][0]["kept_out"][0]["reason"], "a relay switched");
    EXPECT_EQ(json["measurements"][0]["kept_out_count"], 1);
}

TEST_F(KeptOut, WhatBeginsWithinTheSpanGoesAndWhatBeginsAtItsEndStays)
{
    results = project.evaluate();
    const Population all = row("period").measured->population;
    keepOut(all.time(3), all.time(5), {"period", "positive_width"});
    EXPECT_EQ(row("period").statistics.count, std::int64_t(all.size()) - 2); // 3 and 4; 5 begins where the span ends
    EXPECT_EQ(row("positive_width").statistics.count, 58);
    EXPECT_NEAR(row("period").keptOut[1].time, all.time(4), 1e-15);
    ASSERT_TRUE(row("period").statistics.uncertainty) << "periods that do not follow on each other have one as well";
    const Row &width = row("positive_width"); // what it is made of is said once, of those that count
    std::vector<std::string> said;
    for (const auto &[what, how] : width.provenance) {
        if (what == "uncertainty") said.push_back(how);
    }
    const double scatter = width.statistics.parts.at(0).value;
    ASSERT_EQ(said.size(), 1u);
    EXPECT_THAT(said[0], testing::HasSubstr("scatter " + quantityText(scatter, width.unit, {}, 2)));
}

TEST_F(KeptOut, WhatCannotBeSaysWhere)
{
    const auto refused = [&](const KeptOutEntry &entry) -> std::string {
        project.document.keptOut = {entry};
        try {
            validate(project.document);
        } catch (const Error &error) {
            return error.what();
        }
        return {};
    };
    EXPECT_THAT(refused({"o", {"nobody"}, 0, 1, "x"}), testing::HasSubstr("no measurement has the id \"nobody\""));
    EXPECT_THAT(refused({"o", {}, 0, 1, "x"}), testing::HasSubstr("names no measurement"));
    EXPECT_THAT(refused({"o", {"period"}, 1, 0, "x"}), testing::HasSubstr("stops before its start"));
    EXPECT_THAT(refused({"o", {"period"}, 0, 1, ""}), testing::HasSubstr("say why"));
    EXPECT_EQ(refused({"o", {"period"}, 0, 1, "x"}), "");
}

TEST_F(KeptOut, AllOfThemIsAReasonAndOneNumberHasNoMoments)
{
    keepOut(-1, 1, {"rise_time", "mean"});
    EXPECT_FALSE(row("rise_time").measurable());
    EXPECT_THAT(row("rise_time").reason, testing::HasSubstr("let one of them back in"));
    EXPECT_EQ(row("rise_time").keptOutCount, 60);
    EXPECT_TRUE(row("mean").measurable());
    EXPECT_EQ(row("mean").keptOutCount, 0);
}

TEST_F(KeptOut, OutliersAreThoseThatANormalDistributionWouldNotHave)
{
    results = project.evaluate();
    Progress progress;
    const std::vector<double> far = outliersOf(results, "positive_width", 100, progress);
    ASSERT_EQ(far.size(), 1u);
    EXPECT_NEAR(far[0], 2024e-9, 1e-9);
    EXPECT_TRUE(outliersOf(results, "mean", 100, progress).empty());
    keepOut(far[0], far[0] + 60e-9, {"positive_width"});
    EXPECT_TRUE(outliersOf(results, "positive_width", 100, progress).empty());
}

TEST_F(KeptOut, InTheOrderOfTimeAllAreListed)
{
    results = project.evaluate();
    Progress progress;
    const Evidence evidence = evidenceFor(results, {.id = "positive_width", .byTime = true}, 100, progress);
    ASSERT_EQ(evidence.items.size(), 60u);
    for (std::size_t i = 1; i < evidence.items.size(); ++i)
        EXPECT_LT(evidence.items[i - 1].time, evidence.items[i].time);
    const Evidence some =
        evidenceFor(results, {.id = "positive_width", .times = {{1.0e-6, 2.0e-6}}, .byTime = true}, 100, progress);
    EXPECT_EQ(some.count, 10);
    EXPECT_NEAR(some.items[0].time, 1024e-9, 1e-9);
}

TEST_F(KeptOut, OfMoreThanAreWantedThoseAboutAMomentAreListed)
{
    results = project.evaluate();
    Progress progress;
    const auto about = [&](std::optional<double> moment, Question::Span values = {}) {
        return evidenceFor(results, {.id = "positive_width", .values = values, .byTime = true, .around = moment}, 10,
                           progress);
    };
    const Evidence all = evidenceFor(results, {.id = "positive_width", .byTime = true}, 100, progress);
    EXPECT_EQ(about({}).items[0].time, all.items[0].time);
    const double moment = all.items[30].time;
    const Evidence some = about(moment);
    EXPECT_EQ(some.count, 60);
    ASSERT_EQ(some.items.size(), 10u);
    for (std::size_t i = 0; i < 10; ++i) EXPECT_EQ(some.items[i].time, all.items[25 + i].time);
    EXPECT_EQ(about(-1).items[0].time, all.items[0].time);
    EXPECT_EQ(about(all.items[2].time).items[0].time, all.items[0].time);
    EXPECT_EQ(about(1).items.back().time, all.items[59].time);
    // Where some between do not answer, as many that do.
    double longest = 0;
    for (const Evidence::Item &item : all.items) longest = std::max(longest, item.value);
    const auto outlier =
        std::find_if(all.items.begin(), all.items.end(), [&](const auto &item) { return item.value == longest; });
    ASSERT_GT(outlier - all.items.begin(), 5);
    const Evidence narrow = about(std::next(outlier)->time, {{0, longest}});
    EXPECT_EQ(narrow.count, 59);
    ASSERT_EQ(narrow.items.size(), 10u);
    EXPECT_EQ(narrow.items[0].time, std::prev(outlier, 5)->time);
}
