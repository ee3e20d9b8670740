#include "document_json.h"
#include "engine.h"
#include "error.h"
#include "pyramid_store.h"
#include "quantity_rows.h"
#include "signals.h"
#include "table_project.h"

#include <algorithm>
#include <cmath>
#include <gmock/gmock.h>

using namespace fulvex;

namespace {

ClockEntry loop(const std::string &source, double bandwidth)
{
    ClockEntry clock;
    clock.id = "loop";
    clock.source = source;
    clock.method = "pll";
    clock.bandwidth = bandwidth;
    return clock;
}

} // namespace

TEST(Engine, AChangeOfTheClockKeepsFileAndEdges)
{
    test::DataSpec spec;
    spec.unitIntervals = 3000;
    test::TableProject project(test::makeData(spec).volts);
    project.document.clocks.push_back(loop("a", 5e6));
    project.measure("time_interval_error", "", "loop");
    project.evaluate();
    const std::size_t first = project.engine().cache().computations();
    EXPECT_GE(first, 5u); // capture, statistics, levels, edges, timing, clock
    project.evaluate();
    EXPECT_EQ(project.engine().cache().computations(), first);
    project.document.clocks[0].bandwidth = 2e6;
    project.evaluate();
    EXPECT_EQ(project.engine().cache().computations(),
              first + 5); // the clock, its symbols and their pattern, what is told of it, its row
    project.document.channels[0].scale = 2;
    project.evaluate();
    EXPECT_GT(project.engine().cache().computations(), first + 4);
}

/// A loop of order 1 stays at the rate it is given, and the highest bandwidth is that rate's, not that of the edges.
TEST(Engine, ALoopsHighestBandwidthIsThatOfTheRateItRunsAt)
{
    test::DataSpec spec;
    spec.unitIntervals = 3000;
    spec.samplesPerUi = 10; // 1 GBd
    test::TableProject project(test::makeData(spec).volts);
    project.document.clocks.push_back(loop("a", 0.448e9));
    ClockEntry &clock = project.document.clocks[0];
    const auto reason = [&](int order, std::optional<double> rate) {
        clock.order = order;
        clock.rate = rate;
        return project.evaluate().clocks[0].reason;
    };
    EXPECT_EQ(reason(1, {}), "");
    EXPECT_EQ(reason(2, 0.993e9), ""); // of order 2 it finds the true rate
    EXPECT_THAT(reason(1, 0.993e9), testing::HasSubstr("faster than its symbols allow"));
}

TEST(Engine, ARowIsMeasuredAnewWhenWhatItRestsOnChangesAndOnlyThen)
{
    test::DataSpec spec;
    spec.unitIntervals = 3000;
    test::TableProject project(test::makeData(spec).volts);
    Document &document = project.document;
    document.clocks.push_back(loop("a", 5e6));
    document.regions.push_back({"late", 1e-6, 2e-6});
    LevelsEntry wide;
    wide.id = "wide";
    wide.low = 20;
    wide.high = 80;
    document.levels.push_back(wide);
    project.measure("rise_time", "a");
    document.measurements[0].region = "late";
    document.measurements[0].levels = "wide";
    project.measure("time_interval_error", "", "loop");
    const Results first = project.evaluate();
    const auto measuredAgain = [&](const auto &edit) {
        const Results before = project.evaluate();
        edit();
        const Results after = project.evaluate();
        return std::pair(before.rows[0].measured != after.rows[0].measured,
                         before.rows[1].measured != after.rows[1].measured);
    };
    const std::pair none(false, false), rise(true, false), error(false, true), both(true, true);
    EXPECT_EQ(measuredAgain([&] { document.measurements[0].limit.max = 1e-9; }), none);
    EXPECT_EQ(project.evaluate().rows[0].verdict, Verdict::pass);
    EXPECT_EQ(measuredAgain([&] { document.channels[0].label = "link"; }), none);
    EXPECT_EQ(measuredAgain([&] { document.measurements[0].id = "another"; }), none);
    EXPECT_EQ(project.evaluate().rows[0].id, "another");
    EXPECT_EQ(measuredAgain([&] { document.clocks[0].bandwidth = 2e6; }), error);
    EXPECT_EQ(measuredAgain([&] { document.clocks[0].damping = 1; }), error);
    EXPECT_EQ(measuredAgain([&] { document.regions[0].stop = 1.9e-6; }), rise);
    EXPECT_EQ(measuredAgain([&] { document.levels[0].low = 30; }), rise);
    EXPECT_EQ(measuredAgain([&] { document.measurements[1].edge = "rising"; }), error);
    EXPECT_EQ(measuredAgain([&] { document.captures[0].import.sampleInterval = 2e-10; }), both);
    EXPECT_EQ(measuredAgain([&] { document.channels[0].offset = 0.1; }), both);
}

TEST(Engine, AThousandRowsThatAreAlikeAreMeasuredOnce)
{
    test::DataSpec spec;
    spec.unitIntervals = 300;
    test::TableProject project(test::makeData(spec).volts);
    project.measure("rise_time", "a");
    project.evaluate();
    const std::size_t one = project.engine().cache().computations();
    for (int i = 1; i < 1000; ++i) {
        project.measure("rise_time", "a");
        project.document.measurements.back().id += std::to_string(i);
    }
    const Results all = project.evaluate();
    EXPECT_EQ(project.engine().cache().computations(), one);
    EXPECT_EQ(all.rows[999].id, "rise_time999");
    EXPECT_EQ(all.rows[999].measured, all.rows[0].measured);
}

TEST(Engine, EveryQuantityOfTheTableGivesANumberOrAReason)
{
    test::DataSpec spec;
    spec.unitIntervals = 3000;
    spec.noise = 0.003;
    test::TableProject project(test::makeData(spec).volts);
    project.document.clocks.push_back(loop("a", 20e6));
    project.document.eyes.push_back({"eye", "a", "loop", "", "auto"});
    ChannelEntry slower; // so that a device's own rise time can be told
    slower.id = "b";
    slower.formula = "a + 5e-21 * derivative(derivative(a))"; // the heat equation's step: each edge is wider
    project.document.channels.push_back(slower);
    for (const Quantity &quantity : quantities())
        project.document.measurements.push_back(test::rowOf(quantity, {"a", "b", "loop", "eye"}));
    const Results results = project.evaluate();
    for (const Row &row : results.rows) {
        const auto isIt = [&](const Quantity &quantity) { return row.quantity == quantity.name; };
        const auto ofSines = sineQuantities().quantities, ofBits = bitQuantities().quantities; // random data are none
        const bool none = row.quantity == "bounded_uncorrelated_jitter" ||                     // the tail method's
                          std::any_of(ofSines.begin(), ofSines.end(), isIt) ||
                          std::any_of(ofBits.begin(), ofBits.end(), isIt);
        EXPECT_EQ(row.measurable(), !none) << row.quantity << ": " << row.reason;
        if (none) continue;
        ASSERT_TRUE(row.statistics.mean) << row.quantity;
        EXPECT_TRUE(std::isfinite(*row.statistics.mean)) << row.quantity;
        EXPECT_FALSE(row.provenance.empty()) << row.quantity;
    }
}

TEST(Engine, NumbersOfAKnownSignal)
{
    // A square wave: low 0.1 V for 60, high 0.9 V for 40 samples of 1 ns, edges of one sample.
    std::vector<double> volts;
    for (int i = 0; i < 100; ++i) {
        volts.insert(volts.end(), 60, 0.1);
        volts.insert(volts.end(), 40, 0.9);
    }
    test::TableProject project(volts, 1e-9);
    for (const char *quantity : {"period", "frequency", "positive_width", "duty_cycle", "high", "low", "amplitude",
                                 "peak_to_peak", "mean", "rms", "edge_count"})
        project.measure(quantity, "a");
    const Results results = project.evaluate();
    const auto mean = [&](const char *id) { return *findEntry(results.rows, id)->statistics.mean; };
    EXPECT_NEAR(mean("period"), 100e-9, 1e-16);
    EXPECT_NEAR(mean("frequency"), 1e7, 1e-2);
    EXPECT_NEAR(mean("positive_width"), 40e-9, 1e-16);
    EXPECT_NEAR(mean("duty_cycle"), 40, 1e-6);
    EXPECT_NEAR(mean("high"), 0.9, 1e-9);
    EXPECT_NEAR(mean("low"), 0.1, 1e-9);
    EXPECT_NEAR(mean("amplitude"), 0.8, 1e-9);
    EXPECT_NEAR(mean("peak_to_peak"), 0.8, 1e-12);
    EXPECT_NEAR(mean("mean"), 0.42, 1e-12);
    EXPECT_NEAR(mean("rms"), std::sqrt(0.6 * 0.01 + 0.4 * 0.81), 1e-12);
    EXPECT_EQ(mean("edge_count"), 199);
    EXPECT_EQ(findEntry(results.rows, "period")->statistics.count, 99);
}

TEST(Engine, ARegionHasItsOwnStatesAndCutsNoPulse)
{
    std::vector<double> volts;
    for (int i = 0; i < 40; ++i) {
        volts.insert(volts.end(), 50, 0.0);
        volts.insert(volts.end(), 50, i < 20 ? 1.0 : 3.0);
    }
    test::TableProject project(volts, 1e-9);
    project.document.regions.push_back({"late", 2000e-9, 3020e-9});
    project.measure("amplitude", "a");
    project.measure("positive_width", "a");
    for (auto &entry : project.document.measurements) entry.region = "late";
    const Results results = project.evaluate();
    EXPECT_NEAR(*results.rows[0].statistics.mean, 3, 1e-6);
    EXPECT_EQ(results.rows[1].statistics.count, 10);
}

TEST(Engine, WhatCannotBeMeasuredSaysWhyAndWhatWouldHelp)
{
    const auto reason = [](test::TableProject &project) { return project.evaluate().rows[0].reason; };
    {
        test::TableProject constant(std::vector<double>(1000, 0.5));
        constant.document.clocks.push_back(loop("a", 1e6));
        constant.measure("symbol_rate", "", "loop");
        EXPECT_EQ(reason(constant),
                  "the signal is constant: it crosses no level; check the channel or widen the region");
        constant.document.measurements[0].limit = LimitEntry{{}, 1e9};
        EXPECT_EQ(constant.evaluate().rows[0].verdict, Verdict::fail); // a limit that could not be checked is not kept
    }
    {
        test::TableProject one({0.5});
        one.measure("rise_time", "a");
        EXPECT_THAT(reason(one), testing::HasSubstr("constant"));
    }
    {
        test::TableProject step({0, 0, 0, 1, 1, 1});
        step.measure("period", "a");
        EXPECT_EQ(reason(step), "1 crossing of the mid level in the region; a period needs two edges of one direction: "
                                "widen the region, take a longer capture, or check the levels");
    }
    {
        test::TableProject gaps({1, 2, 3});
        ChannelEntry root;
        root.id = "root";
        root.formula = "sqrt(a - 10)";
        gaps.document.channels.push_back(root);
        gaps.measure("mean", "root");
        EXPECT_EQ(reason(gaps), "all samples are gaps: check the formula, which gives no number");
    }
    {
        test::TableProject outside({0, 1, 0, 1});
        outside.document.regions.push_back({"far", 1, 2});
        outside.measure("mean", "a");
        outside.document.measurements[0].region = "far";
        EXPECT_EQ(reason(outside), "no sample lies in region \"far\": move it into the record");
    }
}

TEST(Engine, AnUnknownQuantityIsTheDocumentsFault)
{
    test::TableProject project({0, 1});
    project.measure("wobble", "a");
    EXPECT_THROW(project.evaluate(), Error);
    project.document.measurements[0] = {};
    project.document.measurements[0].id = "m";
    project.document.measurements[0].quantity = "rise_time";
    EXPECT_THROW(project.evaluate(), Error); // no source
}

TEST(Engine, LimitsJudgeTheMean)
{
    Row row;
    row.statistics.mean = 5;
    EXPECT_EQ(verdictOf(row, {}), Verdict::none);
    EXPECT_EQ(verdictOf(row, LimitEntry{}), Verdict::none);
    EXPECT_EQ(verdictOf(row, LimitEntry{{}, 5}), Verdict::pass);
    EXPECT_EQ(verdictOf(row, LimitEntry{{}, 4.9}), Verdict::fail);
    EXPECT_EQ(verdictOf(row, LimitEntry{5.1, {}}), Verdict::fail);
}

/// What captures repeat is told of all of them as long as it is the same.
TEST(Engine, APatternIsThatOfAllCapturesOrOfNone)
{
    const auto run = [](std::int64_t repeats, std::uint64_t seed) {
        test::DataSpec spec;
        spec.unitIntervals = 4000;
        spec.noise = 0.01;
        spec.seed = seed;
        spec.bit = [repeats](std::int64_t ui) {
            const std::uint64_t at = std::uint64_t(ui % repeats) + 1;
            return int((at * 0x9E3779B97F4A7C15 >> 40) & 1);
        };
        test::TableProject project(test::makeData(spec).volts);
        project.document.clocks.push_back({.id = "fixed", .source = "a"});
        project.document.eyes.push_back({.id = "eye", .source = "a", .clock = "fixed"});
        return project.evaluate();
    };
    const Results one = run(127, 1), same = run(127, 2), other = run(61, 3);
    const auto length = [](const Results &of) { return of.clocks[0].pattern ? of.clocks[0].pattern->length : 0; };
    ASSERT_EQ(length(one), 127);
    ASSERT_EQ(length(other), 61);
    EXPECT_EQ(length(accumulated({one, same})), 127);
    EXPECT_EQ(length(accumulated({one, other})), 0);
    EXPECT_EQ(length(accumulated({accumulated({one, same}), other})), 0);
}

TEST(Engine, AccumulatedRunsAddUp)
{
    test::DataSpec spec;
    spec.unitIntervals = 2000;
    spec.noise = 0.01;
    spec.edgeSigma = 0.08;
    const auto run = [](const test::DataSpec &of) {
        test::TableProject project(test::makeData(of).volts);
        project.document.clocks.push_back(loop("a", 50e6));
        project.document.eyes.push_back({"eye", "a", "loop", "", "auto"});
        project.document.masks.push_back({"mask", "eye", "ieee-802.3-1000base-x", 0});
        project.measure("rise_time", "a");
        project.measure("amplitude", "a");
        project.measure("eye_height", "", "", "eye");
        return project.evaluate();
    };
    const Results one = run(spec);
    spec.seed = 2;
    spec.unitIntervals = 3500;
    spec.noise = 0.03; // a smaller eye
    spec.high = 0.5;
    const Results other = run(spec), both = accumulated({one, other}), turned = accumulated({other, one});
    const auto mean = [](const Results &of, int row) { return *of.rows[std::size_t(row)].statistics.mean; };
    const auto count = [](const Results &of) { return of.rows[0].statistics.count; };
    EXPECT_NE(count(one), count(other));
    EXPECT_EQ(count(both), count(one) + count(other));
    EXPECT_NEAR(mean(both, 0),
                (mean(one, 0) * double(count(one)) + mean(other, 0) * double(count(other))) / double(count(both)),
                1e-14 * mean(one, 0));
    EXPECT_EQ(both.rows[0].statistics.max, std::max(one.rows[0].statistics.max, other.rows[0].statistics.max));
    EXPECT_EQ(both.rows[1].statistics.count, 2); // one number a run
    EXPECT_EQ(both.rows[1].statistics.min, one.rows[1].statistics.mean);
    EXPECT_EQ(both.rows[1].statistics.max, other.rows[1].statistics.mean);
    EXPECT_EQ(both.rows[2].statistics.count, 1); // of the eye of both
    EXPECT_LT(mean(both, 2), mean(one, 2));
    EXPECT_EQ(mean(both, 2), mean(turned, 2));
    EXPECT_EQ(both.eyes[0].fold->samples, one.eyes[0].fold->samples + other.eyes[0].fold->samples);
    const MaskResult &a = *one.masks[0].result, &b = *other.masks[0].result, &all = *both.masks[0].result;
    EXPECT_NE(*a.margin, *b.margin);
    EXPECT_EQ(all.unitIntervals, a.unitIntervals + b.unitIntervals);
    EXPECT_EQ(all.hits, a.hits + b.hits);
    EXPECT_EQ(*all.margin, std::min(*a.margin, *b.margin));
    // And of each capture by itself, whatever the order, and added up in whatever groups.
    const auto captures = both.masks[0].captures;
    ASSERT_EQ(captures.size(), 2u);
    EXPECT_EQ(captures, turned.masks[0].captures);
    const auto &first = captures[captures[0].unitIntervals != a.unitIntervals];
    EXPECT_EQ(first.unitIntervals, a.unitIntervals);
    EXPECT_EQ(first.hits, a.hits);
    EXPECT_EQ(first.failedUnitIntervals, a.failedUnitIntervals);
    EXPECT_EQ(first.areaHits, a.areaHits);
    EXPECT_EQ(first.margin, a.margin);
    EXPECT_EQ(captures[0].failedUnitIntervals + captures[1].failedUnitIntervals, all.failedUnitIntervals);
    EXPECT_EQ(accumulated({both, one}).masks[0].captures, accumulated({one, turned}).masks[0].captures);
    EXPECT_TRUE(one.masks[0].captures.empty());
}

TEST(Engine, APatternThatRepeatsTooSeldomIsTold)
{
    for (const auto &[unitIntervals, told] : {std::pair(4000, true), std::pair(2200, true), std::pair(130, false)}) {
        test::DataSpec spec;
        spec.unitIntervals = unitIntervals;
        unsigned state = 1;
        std::vector<bool> bits; // x^9 + x^5 + 1: 511 symbols
        for (std::int64_t i = 0; i < spec.unitIntervals + 8; ++i) {
            bits.push_back(state & 1);
            state = state >> 1 | ((state ^ state >> 4) & 1) << 8;
        }
        spec.bit = [&](std::int64_t ui) {
            return bits[std::size_t(std::clamp<std::int64_t>(ui, 0, std::int64_t(bits.size()) - 1))];
        };
        test::TableProject project(test::makeData(spec).volts);
        project.document.clocks.push_back(loop("a", 5e6));
        const Results results = project.evaluate({.check = true});
        int found = 0;
        for (const Finding &finding : results.captures[0].findings) {
            if (finding.check != "pattern_repeats") continue;
            ++found;
            EXPECT_THAT(finding.text, testing::HasSubstr("pattern of 511 symbols"));
        }
        EXPECT_EQ(found, told) << unitIntervals; // with less than two of them there is no pattern to be seen
    }
}

TEST(Engine, LongRecordsAreSketchedThenReadAndThenKept)
{
    const test::TemporaryFolder folder;
    setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
    const std::int64_t samples = PyramidStore::leastSamples;
    std::string bytes(std::size_t(samples), '\x05');
    bytes[12345678] = '\x7f'; // one spike
    folder.write("long.raw", bytes);
    Document document;
    document.captures.push_back({"r", "long.raw", {}, {}});
    document.captures[0].import.format = "raw";
    document.captures[0].import.sampleType = SampleType::i8;
    document.captures[0].import.sampleInterval = 1e-9;
    document.channels.push_back({.id = "a", .capture = "r"});
    Progress progress;
    struct Seen {
        std::shared_ptr<const Pyramid> first, last;
    };
    const auto pyramidsOf = [&](Engine &engine) {
        Seen seen;
        ResultsBoard board;
        Engine::Options options{.pyramids = true, .sketches = true};
        options.answered = [&] { seen.first = board.all().channels[0].pyramid; };
        seen.last = engine.evaluate(document, folder.path(), options, progress, &board).channels[0].pyramid;
        return seen;
    };
    {
        Engine engine(FULVEX_SHIPPED_MASKS);
        const Seen seen = pyramidsOf(engine);
        EXPECT_TRUE(seen.first->isSketch());
        EXPECT_FALSE(seen.last->isSketch());
        EXPECT_EQ(seen.last->whole(), (Extent{5, 127}));
    }
    Engine another(FULVEX_SHIPPED_MASKS); // as after a new start: from the cache folder
    const Seen kept = pyramidsOf(another);
    EXPECT_FALSE(kept.first->isSketch());
    EXPECT_EQ(kept.first->whole(), (Extent{5, 127}));
}

TEST(Engine, AnEyeOfARegionAnywhereIsAnEyeOrAReason)
{
    test::DataSpec spec;
    spec.unitIntervals = 2000;
    test::TableProject project(test::makeData(spec).volts);
    project.document.clocks.push_back(loop("a", 20e6));
    project.document.eyes.push_back({"eye", "a", "loop", "part", "auto"});
    project.measure("eye_height", "", "", "eye");
    const auto with = [&](double start, double stop) {
        project.document.regions = {{"part", start, stop}};
        return project.evaluate();
    };
    for (const auto &[start, stop] : {std::pair(1e11, 1e12), std::pair(-1e12, -1e11), std::pair(1e-9, 1.1e-9)})
        EXPECT_THAT(with(start, stop).rows[0].reason, testing::HasSubstr("no whole unit interval")) << start;
    const Results all = with(-1e12, 1e12);
    EXPECT_TRUE(all.rows[0].measurable()) << all.rows[0].reason;
    EXPECT_GT(all.eyes[0].fold->unitIntervals, 1000);
}

/// However it is written: what a formula makes is computed once, and so is all that stands on it.
TEST(Engine, ChannelsOfTheSameFormulaShareWhatIsComputed)
{
    test::DataSpec spec;
    spec.unitIntervals = 300;
    test::TableProject project(test::makeData(spec).volts);
    const auto addFormula = [&](const char *id, const char *formula) {
        project.document.channels.push_back({.id = id, .formula = formula});
    };
    addFormula("twice", "a + a");
    addFormula("again", " (a)+a ");
    addFormula("other", "a + 2 * a");
    project.measure("rise_time", "twice");
    const Results first = project.evaluate();
    const auto edges = [&] { return project.engine().cache().costs().at("edges").computations; };
    const std::size_t one = edges();
    project.measure("fall_time", "again");
    project.evaluate();
    EXPECT_EQ(edges(), one);
    project.measure("period", "other");
    project.evaluate();
    EXPECT_EQ(edges(), 2 * one);
}

TEST(Engine, AParametersUnitCounts)
{
    test::TableProject project({0, 1, 2, 3, 4, 5});
    project.document.parameters.push_back({"load", 50, {}, {}, "Ω"});
    project.document.parameters.push_back({"k", 3, {}, {}, ""});
    for (const auto &[id, formula] : {std::pair("current", "a / load"), std::pair("thrice", "k * a")}) {
        project.document.channels.push_back({.id = id, .formula = formula});
        project.measure("maximum", id);
        project.document.measurements.back().id = std::string("max_") + id;
    }
    const Results results = project.evaluate();
    EXPECT_EQ(results.rows[0].unit, "A");
    EXPECT_DOUBLE_EQ(*results.rows[0].statistics.mean, 0.1);
    EXPECT_EQ(results.rows[1].unit, "V");
}

TEST(Engine, AColumnIsNamedOrCounted)
{
    const test::TemporaryFolder folder;
    folder.write("a.csv", "t,low,high\n0,1,5\n1e-9,1,5\n2e-9,1,5\n3e-9,1,5\n");
    const Document document = parseDocument(R"({"fulvex": 1, "captures": [{"id": "r", "file": "a.csv"}],
        "channels": [{"id": "first", "capture": "r", "column": 0}, {"id": "second", "capture": "r", "column": 1},
                     {"id": "low", "capture": "r", "column": "low"}, {"id": "high", "capture": "r", "column": "high"},
                     {"id": "none", "capture": "r", "column": "middle"}]})",
                                            "test");
    Engine engine(FULVEX_SHIPPED_MASKS);
    Progress progress;
    const Results results = engine.evaluate(document, folder.path(), {}, progress);
    for (const auto &[id, volts] : {std::pair("first", 1.0), {"second", 5.0}, {"low", 1.0}, {"high", 5.0}}) {
        const ChannelResult &channel = *findEntry(results.channels, id);
        ASSERT_EQ(channel.error, "") << id;
        std::vector<double> values(4);
        channel.source->read(0, values);
        EXPECT_THAT(values, testing::Each(volts)) << id;
    }
    EXPECT_THAT(
        findEntry(results.channels, "none")->error,
        testing::AllOf(testing::HasSubstr("no column named \"middle\""), testing::HasSubstr("\"low\", \"high\"")));
}
