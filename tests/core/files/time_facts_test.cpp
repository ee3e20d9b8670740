#include "error.h"
#include "memory_budget.h"
#include "named_arrays.h"
#include "time_facts.h"
#include "uniform_times.h"

#include <cmath>

using namespace fulvex;

namespace {

std::optional<double> intervalOf(const char *name, double value, const char *unit = "")
{
    const auto fact = timeFact(name, value, unit);
    return fact && fact->kind == TimeFact::Kind::interval ? std::optional(fact->value) : std::nullopt;
}

std::optional<double> startOf(const char *name, double value, const char *unit = "")
{
    const auto fact = timeFact(name, value, unit);
    return fact && fact->kind == TimeFact::Kind::start ? std::optional(fact->value) : std::nullopt;
}

Waveform column(std::vector<double> values, const char *unit = "")
{
    Waveform waveform = makeWaveform("", std::move(values));
    waveform.unit = unit;
    return waveform;
}

NamedArray array(const char *name, std::vector<double> values, const char *unit = "")
{
    return {name, {column(std::move(values), unit)}, {}, {}};
}

std::string errorJoining(std::vector<NamedArray> arrays, const ImportOptions &options = {})
{
    try {
        captureOf("f", std::move(arrays), options);
    } catch (const Error &error) {
        return error.what();
    }
    return "none";
}

} // namespace

TEST(TimeFacts, AreTakenWhereTheNameIsPlain)
{
    for (const char *name : {"sample interval", "Sample_Interval", "SAMPLE-INTERVAL:", "sampling interval", "dt",
                             "delta_t", "time step", "Time Increment"})
        EXPECT_DOUBLE_EQ(intervalOf(name, 2e-9).value_or(0), 2e-9) << name;
    for (const char *name : {"sample rate", "Sampling_Rate", "fs", "sample frequency"})
        EXPECT_DOUBLE_EQ(intervalOf(name, 5e8).value_or(0), 2e-9) << name;
    for (const char *name : {"start", "start time", "t0", "Time Offset"})
        EXPECT_DOUBLE_EQ(startOf(name, -1e-6).value_or(0), -1e-6) << name;
}

TEST(TimeFacts, UnitsCountWhereverTheyStand)
{
    EXPECT_DOUBLE_EQ(*intervalOf("Sample interval (ns)", 2), 2e-9);
    EXPECT_DOUBLE_EQ(*intervalOf("dt [us]", 2), 2e-6);
    EXPECT_DOUBLE_EQ(*intervalOf("dt", 2, "ms"), 2e-3);
    EXPECT_DOUBLE_EQ(*intervalOf("sample rate", 500, "MHz"), 2e-9);
    EXPECT_DOUBLE_EQ(*intervalOf("sample rate (MS/s)", 500), 2e-9);
    EXPECT_DOUBLE_EQ(*startOf("start/us", -1), -1e-6);
}

TEST(TimeFacts, NothingElseIsTaken)
{
    EXPECT_FALSE(timeFact("refresh rate", 60));
    EXPECT_FALSE(timeFact("baud rate", 115200));
    EXPECT_FALSE(timeFact("interval count", 5));
    EXPECT_FALSE(timeFact("sample interval", 0));
    EXPECT_FALSE(timeFact("sample interval", -1e-9));
    EXPECT_FALSE(timeFact("sample rate", NAN));
    EXPECT_FALSE(timeFact("sample interval", 5, "V"));
    EXPECT_FALSE(timeFact("start", 5, "V"));
    EXPECT_FALSE(timeFact("", 5));
}

TEST(TimeFacts, ColumnsOfTimeAreTold)
{
    for (const char *name : {"t", "Time", "time (s)", "TIME_2", "t1", "x", "seconds"})
        EXPECT_TRUE(namesTime(name)) << name;
    for (const char *name : {"trigger", "voltage", "text", "", "ch1"}) EXPECT_FALSE(namesTime(name)) << name;
    for (const char *name : {"index", "#", "n", "Sample", "Row"}) EXPECT_TRUE(namesIndex(name)) << name;
    EXPECT_FALSE(namesIndex("noise"));
    EXPECT_TRUE(risesEvenly({0, 1, 2, 3.05}));
    EXPECT_FALSE(risesEvenly({0, 1, 2, 5}));
    EXPECT_FALSE(risesEvenly({0, 1, 1, 2}));
    EXPECT_FALSE(risesEvenly({0, 1}));
}

TEST(UniformTimes, AreFoundByTheirEnds)
{
    const auto at = [](std::size_t row) { return "row " + std::to_string(row); };
    std::vector<double> times;
    for (int i = 0; i < 1000; ++i) times.push_back(std::round((-5 + i / 3.0) * 100) / 100); // two decimals
    const auto [axis, doubt] = uniformTimes(times, 1e-6, "f", at);
    EXPECT_EQ(doubt, "");
    EXPECT_EQ(axis.count, 1000);
    EXPECT_NEAR(axis.start, -5e-6, 1e-12);
    EXPECT_NEAR(axis.interval, 1e-6 / 3, 0.01e-6 / 999);
    const auto refused = [&](std::vector<double> bad) {
        try {
            uniformTimes(bad, 1, "f", at);
        } catch (const Error &error) {
            return std::string(error.what());
        }
        return std::string("none");
    };
    EXPECT_THAT(refused({0, 1, NAN, 3}), testing::StartsWith("row 2: the time is missing"));
    EXPECT_THAT(refused({0, 2, 1, 3}), testing::StartsWith("row 2: the time runs backwards"));
    EXPECT_THAT(refused({0, 0, 0}), testing::HasSubstr("stands still"));
    EXPECT_THAT(refused({5}), testing::HasSubstr("one row"));
    EXPECT_THAT(refused({0, 1, 2, 9, 10}), testing::HasSubstr("off a uniform grid"));
}

TEST(UniformTimes, ThatScatterAreTakenWithADoubt)
{
    const auto at = [](std::size_t row) { return "row " + std::to_string(row); };
    std::vector<double> times;
    for (int i = 0; i < 100; ++i) times.push_back(i * 1e-9 + (i == 40 ? 0.3e-9 : 0));
    const auto [axis, doubt] = uniformTimes(times, 1, "f", at);
    EXPECT_NEAR(axis.interval, 1e-9, 1e-21);
    EXPECT_THAT(doubt, testing::HasSubstr("up to 300 ps off a uniform grid of 1.000 ns (at row 40)"));
    times[40] = 40e-9 + 0.015e-9; // below 2 % of the interval: as any clock is
    EXPECT_EQ(uniformTimes(times, 1, "f", at).doubt, "");
}

TEST(UniformTimes, RowsThatAreLeftOutHaveTheirPlaces)
{
    EXPECT_THAT(placesOnGrid(std::vector<double>{0, 1, 2, 5, 6, 7}), testing::ElementsAre(0, 1, 2, 5, 6, 7, 8));
    EXPECT_TRUE(placesOnGrid(std::vector<double>{0, 1, 2, 3, 4}).empty());          // all there
    EXPECT_TRUE(placesOnGrid(std::vector<double>{0, 1, 2, 4.5, 5.5, 6.5}).empty()); // on no grid
    EXPECT_TRUE(placesOnGrid(std::vector<double>{0, 1, 2, 1, 3}).empty());
    EXPECT_TRUE(placesOnGrid(std::vector<double>{0, 1, 2, 3, 1e18}).empty()); // mostly gap
    EXPECT_TRUE(placesOnGrid(std::vector<double>{0, NAN, 2, 9}).empty());
    EXPECT_TRUE(placesOnGrid({}).empty());
    const std::vector<double> spread = spreadOver(std::vector<std::int64_t>{0, 2, 3}, std::vector<double>{5, 6});
    ASSERT_EQ(spread.size(), 3u);
    EXPECT_EQ(spread[0], 5);
    EXPECT_TRUE(std::isnan(spread[1]));
    EXPECT_EQ(spread[2], 6);
}

TEST(NamedArrays, OfTheGreatestLengthAreTakenAndTheRestIsTold)
{
    const Capture capture = captureOf(
        "f", {array("b", {1, 2, 3, 4}), array("dt", {0.5}), array("short", {1, 2}), array("a", {5, 6, 7, 8}, "mV")},
        {});
    ASSERT_EQ(capture.columns.size(), 2u);
    EXPECT_EQ(capture.columns[0].name, "b");
    EXPECT_EQ(capture.axis.interval, 0.5);
    EXPECT_TRUE(capture.intervalKnown);
    EXPECT_EQ(capture.columns[1].unit, "V");
    double value = 0;
    capture.columns[1].read(1, std::span(&value, 1));
    EXPECT_DOUBLE_EQ(value, 6e-3);
    EXPECT_THAT(capture.remarks, testing::Contains(testing::HasSubstr("\"short\"")));
}

TEST(NamedArrays, TheUsersChoiceCounts)
{
    ImportOptions options;
    options.datasets = {"/g/b", "a"};
    options.sampleInterval = 3;
    const std::vector<NamedArray> arrays{array("a", {1, 2, 3}), array("g/b", {4, 5, 6}), array("time", {0, 1, 2})};
    const Capture capture = captureOf("f", arrays, options);
    ASSERT_EQ(capture.columns.size(), 2u);
    EXPECT_EQ(capture.columns[0].name, "b");
    EXPECT_EQ(capture.axis.interval, 3);
    options.datasets = {"c"};
    EXPECT_THAT(errorJoining(arrays, options), testing::HasSubstr("it has \"a\", \"g/b\", \"time\""));
    options.datasets = {"a", "long"};
    EXPECT_THAT(errorJoining({array("a", {1, 2, 3}), array("long", {1, 2, 3, 4})}, options),
                testing::HasSubstr("arrays of one length"));
    options.datasets.clear();
    options.timeColumn = ImportOptions::Column("g/b");
    EXPECT_EQ(captureOf("f", arrays, options).axis.start, 4);
    options.timeColumn = ImportOptions::Column("nowhere");
    EXPECT_THAT(errorJoining(arrays, options), testing::HasSubstr("time_column"));
    options.timeColumn = std::optional<ImportOptions::Column>(); // none: the times are a channel
    EXPECT_EQ(captureOf("f", arrays, options).columns.size(), 3u);
}

TEST(NamedArrays, WhatIsStatedBesideAnArrayCountsMost)
{
    NamedArray stated = array("v", {1, 2, 3});
    stated.interval = 1e-9;
    stated.start = 5e-9;
    const Capture capture = captureOf("f", {array("dt", {1}), stated}, {});
    EXPECT_EQ(capture.axis.interval, 1e-9);
    EXPECT_EQ(capture.axis.start, 5e-9);
    EXPECT_FALSE(captureOf("f", {array("v", {1, 2, 3})}, {}).intervalKnown);
    EXPECT_THAT(errorJoining({}), testing::HasSubstr("holds no array of numbers"));
}

TEST(MemoryBudget, AllowsALotAndNotEverything)
{
    MemoryBudget small("f", 1000);
    EXPECT_NO_THROW(small.take(200e6));
    EXPECT_THROW(small.take(200e6), Error);
    MemoryBudget large("f", 100'000'000);
    EXPECT_NO_THROW(large.take(9e9));
    EXPECT_THROW(large.take(2e9), Error);
    MemoryBudget odd("f", 1000);
    EXPECT_THROW(odd.take(std::numeric_limits<double>::infinity()), Error);
}
