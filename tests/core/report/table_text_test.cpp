#include "engine.h"
#include "results_json.h"
#include "table_text.h"

#include <nlohmann/json.hpp>

using namespace fulvex;

namespace {

Row rowOf(const std::string &id, Measured measured)
{
    Row row;
    row.id = id;
    row.quantity = "rise_time";
    row.title = "rise time";
    row.source = "d";
    row.unit = "s";
    row.reason = measured.reason;
    row.measured = std::make_shared<const Measured>(std::move(measured));
    row.statistics = row.measured->statistics();
    return row;
}

/// A population, one number, a reason, and a mask.
Results someResults()
{
    auto document = std::make_shared<Document>();
    document->title = "T";
    for (const char *id : {"many", "one", "none"}) {
        document->measurements.push_back({.id = id, .quantity = "rise_time", .source = "d"});
    }
    document->measurements[0].limit = LimitEntry{1e-10, 4.5e-10};
    document->measurements[1].limit = LimitEntry{{}, 2.5e-10};
    Results results;
    results.document = document;
    Measured many;
    PopulationBuilder population;
    for (int i = 0; i < 100; ++i) population.add(i * 1e-9, 4e-10, 4e-10 + (i % 2 ? 1e-12 : -1e-12));
    many.population = population.take();
    results.rows = {rowOf("many", many), rowOf("one", Measured::scattered(3e-10, 2e-12)),
                    rowOf("none", Measured::none("no edge, \"none\" at all"))};
    for (std::size_t i = 0; i < 3; ++i)
        results.rows[i].verdict = verdictOf(results.rows[i], document->measurements[i].limit);
    results.rows[0].provenance.emplace_back("region", "whole record");
    MaskRun mask;
    mask.id = "m";
    mask.eye = "e";
    mask.definition.title = "Revision B";
    mask.definition.areas.push_back({MaskArea::Kind::closed, "centre", {{0, 0}, {1, 0}, {1, 1}}});
    MaskResult result;
    result.unitIntervals = 1000;
    result.hits = 5;
    result.failedUnitIntervals = 2;
    result.areaHits = {5};
    result.margin = -0.031;
    result.failures = {{1.5e-6, 987, 0.2, 1.5e-6, 0}, {2.5e-6, 1640, 0.1, 2.5e-6, 0}};
    mask.result = std::make_shared<const MaskResult>(result);
    mask.verdict = Verdict::fail;
    results.masks.push_back(mask);
    return results;
}

} // namespace

TEST(Ledger, SaysNumbersWithTheirUncertaintyAndLimitsAsTheyWereSet)
{
    const auto lines = ledgerLines(someResults());
    ASSERT_EQ(lines.size(), 4u);
    EXPECT_THAT(lines[0].mean, testing::StartsWith("400.0"));
    EXPECT_EQ(lines[0].limit, "100 … 450 ps");
    EXPECT_EQ(lines[0].verdict, "pass");
    EXPECT_EQ(lines[0].count, "100");
    EXPECT_EQ(lines[1].mean, "300 ± 2 ps");
    EXPECT_EQ(lines[1].limit, "< 250 ps");
    EXPECT_EQ(lines[1].verdict, "fail");
    EXPECT_EQ(lines[1].spread, "\u2014");
    EXPECT_EQ(lines[2].mean, "unmeasurable");
    EXPECT_EQ(lines[2].limit, "\u2014");
    EXPECT_EQ(lines[3].quantity, "mask Revision B");
    EXPECT_EQ(lines[3].mean, "2 failed UI");
    EXPECT_EQ(lines[3].spread, "margin \u22123.10 %");
}

TEST(Ledger, WhatIsNotMeasuredYetStandsInItsPlaceWithoutAVerdict)
{
    Results results = someResults();
    const auto all = ledgerLines(results);
    results.rows.erase(results.rows.begin() + 1); // not known yet
    results.rows[0].pending = true;               // of an older revision
    results.masks[0].pending = true;
    const auto lines = ledgerLines(results);
    ASSERT_EQ(lines.size(), all.size());
    EXPECT_TRUE(lines[0].pending);
    EXPECT_EQ(lines[0].mean, all[0].mean);
    EXPECT_EQ(lines[0].state, Verdict::none); // it was "pass"
    EXPECT_EQ(lines[0].verdict, "…");
    EXPECT_TRUE(lines[1].pending);
    EXPECT_EQ(lines[1].id, all[1].id);
    EXPECT_EQ(lines[1].quantity, "rise time");
    EXPECT_EQ(lines[1].mean, "…");
    EXPECT_EQ(lines[2], all[2]);
    EXPECT_TRUE(lines[3].pending);
    EXPECT_EQ(lines[3].state, Verdict::none);
}

TEST(Ledger, LinesThatAreKeptAreThoseThatWouldBeMade)
{
    LedgerLines kept;
    Results results = someResults();
    auto document = std::make_shared<Document>(*results.document);
    results.document = document;
    const auto check = [&](const char *what) { EXPECT_EQ(kept.of(results), ledgerLines(results)) << what; };
    check("first");
    check("again");
    document->measurements[0].limit.max = 1;
    check("a limit");
    results.rows[0].pending = true;
    check("pending");
    results.rows[1].measured = std::make_shared<const Measured>(Measured::one(7));
    results.rows[1].statistics = results.rows[1].measured->statistics();
    check("another number");
    results.rows[0].unit = "V";
    check("another unit");
    results.rows.erase(results.rows.begin());
    check("one is gone");
    document->measurements.erase(document->measurements.begin() + 1);
    results.rows.erase(results.rows.begin());
    check("one is removed");
    results.masks.clear();
    check("no mask");
    results.rows.clear();
    check("none");
    results = someResults();
    check("all back");
}

TEST(Csv, HasPlainNumbersAndQuotesWhatNeedsIt)
{
    const std::string csv = measurementsCsv(someResults());
    EXPECT_THAT(csv, testing::HasSubstr("many,rise_time,d,s,ok,100,"));
    EXPECT_THAT(csv, testing::HasSubstr("one,rise_time,d,s,ok,1,3e-10,,3e-10,3e-10,3e-10,2e-12,,2.5e-10,fail,"));
    EXPECT_THAT(
        csv, testing::HasSubstr("none,rise_time,d,s,unmeasurable,0,,,,,,,,,none,\"no edge, \"\"none\"\" at all\"\r\n"));
    for (std::size_t at = 0, next; (next = csv.find("\r\n", at)) != std::string::npos; at = next + 2)
        EXPECT_GT(next, at);
}

TEST(ResultsJson, HasTheContractsKeysAndNullWhereNothingIsKnown)
{
    const auto json = nlohmann::json::parse(resultsJson(someResults(), {"ab", "2026-11-23T08:00:00Z"}));
    for (const char *key : {"fulvex", "project", "made", "captures", "clocks", "measurements", "eyes", "masks"})
        EXPECT_TRUE(json.contains(key)) << key;
    const auto &many = json["measurements"][0], &one = json["measurements"][1], &none = json["measurements"][2];
    for (const char *key : {"id", "quantity", "source", "unit", "status", "reason", "count", "mean", "std", "min",
                            "max", "last", "uncertainty", "verdict"})
        EXPECT_TRUE(many.contains(key)) << key;
    EXPECT_EQ(many["made_by"]["region"], "whole record");
    EXPECT_EQ(one["count"], 1);
    EXPECT_TRUE(one["std"].is_null());
    EXPECT_EQ(none["status"], "unmeasurable");
    EXPECT_EQ(none["count"], 0);
    EXPECT_TRUE(none["mean"].is_null());
    const auto &mask = json["masks"][0];
    EXPECT_EQ(mask["hits"], 5);
    EXPECT_EQ(mask["failed_unit_intervals"], 2);
    EXPECT_EQ(mask["areas"][0]["name"], "centre");
    EXPECT_EQ(mask["first_failures"][0]["unit_interval"], 987);
    EXPECT_EQ(mask["verdict"], "fail");
    EXPECT_DOUBLE_EQ(mask["margin"].get<double>(), -0.031);
}

TEST(TerminalTable, AlignsItsColumnsAndTellsReasonsBelow)
{
    Results results = someResults();
    results.clocks = {ClockResult{"link", "no edges"}, ClockResult{"well", {}}};
    results.eyes.emplace_back();
    results.eyes[0].id = "e";
    results.eyes[0].reason = "no clock";
    const std::string table = terminalTable(results);
    EXPECT_THAT(table, testing::HasSubstr("none: no edge, \"none\" at all\n"));
    EXPECT_THAT(table, testing::StartsWith("id    quantity"));
    EXPECT_THAT(table, testing::HasSubstr("\nclock link: no edges\neye e: no clock\n"));
    EXPECT_THAT(table, testing::Not(testing::HasSubstr("clock well")));
}
