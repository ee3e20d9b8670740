#include "document_json.h"
#include "error.h"
#include "row_set.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

Document measured()
{
    return parseDocument(R"({"fulvex": 1, "title": "T",
  "captures": [{"id": "run", "file": "a.npy"}],
  "channels": [{"id": "p", "capture": "run"}, {"id": "n", "capture": "run", "column": 1}],
  "regions": [{"id": "start", "start": 0, "stop": 1e-6}],
  "levels": [{"id": "cmos", "kind": "absolute", "low": 0.8, "mid": 1.65, "high": 2.5}],
  "clocks": [{"id": "loop", "source": "p", "method": "fixed"}],
  "measurements": [
    {"id": "rise", "quantity": "rise_time", "source": "p", "region": "start", "levels": "cmos", "limit": {"max": 1e-9}},
    {"id": "skew", "quantity": "delay", "source": "p", "to": "n", "edge": "falling"},
    {"id": "tie", "quantity": "time_interval_error", "clock": "loop"}]})",
                         "d");
}

} // namespace

TEST(RowSet, IsLaidOnAnotherChannelWithItsLevelsAndLimits)
{
    Document document = measured();
    const RowSet set = rowSetOf(document, "usual", {"skew", "rise", "tie"});
    ASSERT_EQ(set.rows.size(), 3u);
    EXPECT_EQ(set.rows[0].id, "rise"); // in the document's order
    const RowSet read = parseRowSet(rowSetText(set), "usual.json");
    EXPECT_EQ(read.rows, set.rows);
    EXPECT_EQ(read.levels, set.levels);
    const auto added = layRowSet(document, read, "n", {"", "", "p"});
    EXPECT_THAT(added, testing::ElementsAre("rise_time", "delay")); // there is no clock
    validate(document);
    const MeasurementEntry &rise = *findEntry(document.measurements, "rise_time");
    EXPECT_EQ(rise.source, "n");
    EXPECT_EQ(rise.levels, "cmos");
    EXPECT_EQ(rise.limit.max, 1e-9);
    EXPECT_EQ(rise.region, "") << "a region belongs to its record";
    EXPECT_EQ(findEntry(document.measurements, "delay")->to, "p");
    EXPECT_EQ(findEntry(document.measurements, "delay")->edge, "falling");
    EXPECT_EQ(document.levels.size(), 1u);
}

TEST(RowSet, LevelsOfTheSameNameThatAreOthersStayApart)
{
    const RowSet set = rowSetOf(measured(), "usual", {"rise"});
    Document other = measured();
    other.levels[0].mid = 1.2;
    layRowSet(other, set, "n", {});
    validate(other);
    ASSERT_EQ(other.levels.size(), 2u);
    EXPECT_EQ(findEntry(other.measurements, "rise_time")->levels, other.levels[1].id);
    EXPECT_EQ(other.levels[1].mid, 1.65);
}

TEST(RowSet, WhatIsNoSetIsSaid)
{
    for (const char *text : {"{}", "{\"fulvex_rows\": 2}", "[", "{\"fulvex_rows\": 1, \"tilte\": \"x\"}",
                             "{\"fulvex_rows\": 1, \"measurements\": 3}"})
        EXPECT_THROW(parseRowSet(text, "x.json"), Error) << text;
}
