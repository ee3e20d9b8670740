#include "document_json.h"
#include "engine.h"
#include "error.h"
#include "signals.h"
#include "temporary_folder.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;

namespace {

/// Long data in a file of plain doubles, with a clock, an eye and rows on it.
struct LongProject {
    explicit LongProject(const test::DataSpec &spec, double interval = 1e-10) : engine(FULVEX_SHIPPED_MASKS)
    {
        folder.write("a.raw", test::bytesOf(test::makeData(spec).volts));
        document.captures.push_back(
            {.id = "r",
             .file = "a.raw",
             .import = {.format = "raw", .sampleInterval = interval, .sampleType = SampleType::f64}});
        document.channels.push_back({.id = "a", .capture = "r"});
        document.clocks.push_back({.id = "loop", .source = "a", .method = "pll", .bandwidth = 5e6});
        document.eyes.push_back({"eye", "a", "loop", {}, "auto"});
        measure("rise_time", "a");
        measure("time_interval_error", {}, "loop");
    }
    void measure(const std::string &quantity, const std::string &source, const std::string &clock = {})
    {
        document.measurements.push_back({.id = quantity, .quantity = quantity, .source = source, .clock = clock});
    }
    /// What was on the board at the first answer, and what came of it in the end.
    struct Seen {
        Results first, last;
    };
    Seen evaluate(std::vector<std::string> inView, std::shared_ptr<const Results> older = {})
    {
        validate(document);
        Seen seen;
        ResultsBoard board;
        Engine::Options options;
        options.first = std::move(inView);
        options.older = std::move(older);
        options.answered = [&] { seen.first = board.all(); };
        Progress progress;
        seen.last = engine.evaluate(document, folder.path(), options, progress, &board);
        return seen;
    }
    Document document;
    test::TemporaryFolder folder;
    Engine engine;
};

test::DataSpec longSpec(std::uint64_t seed)
{
    test::DataSpec spec;
    spec.samplesPerUi = 8.7;
    spec.unitIntervals = 80000;
    spec.randomJitter = 0.02;
    spec.noise = 0.01;
    spec.seed = seed;
    return spec;
}

} // namespace

TEST(FirstAnswers, AreOfPartsOfTheRecordAndAgreeWithTheWhole)
{
    for (const std::uint64_t seed : {3u, 17u}) {
        LongProject project(longSpec(seed));
        const auto seen = project.evaluate({"eye", "time_interval_error"});
        const EyeResult &early = seen.first.eyes.at(0), &whole = seen.last.eyes.at(0);
        EXPECT_TRUE(early.pending);
        EXPECT_FALSE(whole.pending);
        EXPECT_EQ(whole.share, 1);
        EXPECT_NEAR(early.share, double(early.fold->unitIntervals) / 80000, 0.01);
        EXPECT_GT(early.share, 0.1);
        EXPECT_LT(early.share, 1.0 / 3);
        // The level of ones: the mean of many samples of the same distribution.
        const Moments &few = early.fold->one(), &all = whole.fold->one();
        EXPECT_NEAR(few.mean, all.mean, 5 * all.std() / std::sqrt(few.count));
        EXPECT_NEAR(few.std(), all.std(), 5 * all.std() / std::sqrt(2 * few.count));
        // Errors against the loop: what it leaves of 0.02 UI of white jitter, the same in every part. Its noise hangs
        // together over some unit intervals, so a tenth of the values count as independent.
        const auto rowOf = [](const Results &results) {
            return findEntry(results.rows, std::string("time_interval_error"));
        };
        const Row &part = *rowOf(seen.first), &full = *rowOf(seen.last);
        EXPECT_TRUE(part.pending);
        EXPECT_LT(part.share, 1.0 / 3);
        ASSERT_TRUE(part.statistics.std && full.statistics.std);
        EXPECT_NEAR(*part.statistics.std, *full.statistics.std,
                    5 * *full.statistics.std / std::sqrt(2 * 0.1 * double(part.statistics.count)));
        EXPECT_FALSE(full.pending);
        EXPECT_EQ(findEntry(seen.first.rows, std::string("rise_time")), nullptr); // not in view
        EXPECT_FALSE(findEntry(seen.last.rows, std::string("rise_time"))->pending);
    }
}

TEST(FirstAnswers, AreTheSameWhetherTheEdgesAreKnownOrNot)
{
    LongProject project(longSpec(5));
    const auto fresh = project.evaluate({"eye"});
    project.document.clocks[0].bandwidth = 4e6;
    const auto again = project.evaluate({"eye"}); // by the edges of the whole record
    const EyeFold &one = *fresh.first.eyes.at(0).fold, &other = *again.first.eyes.at(0).fold;
    EXPECT_NEAR(double(one.unitIntervals), double(other.unitIntervals), 0.03 * double(one.unitIntervals));
    EXPECT_NEAR(one.one().mean, other.one().mean, 5 * one.one().std() / std::sqrt(one.one().count));
    EXPECT_LT(again.first.eyes.at(0).share, 1);
}

TEST(FirstAnswers, AWrongRateClosesTheEyeInEveryPartAsInTheWhole)
{
    LongProject project(longSpec(7));
    project.document.clocks[0].method = "fixed";
    const auto fitted = project.evaluate({"eye"});
    const double open = fitted.last.eyes.at(0).fold->one().std();
    project.document.clocks[0].rate = 1.0005 * fitted.last.clocks.at(0).rate; // 40 unit intervals too many
    const auto wrong = project.evaluate({"eye"});
    EXPECT_GT(wrong.last.eyes.at(0).fold->one().std(), 5 * open);
    ASSERT_LT(wrong.first.eyes.at(0).share, 1);
    EXPECT_GT(wrong.first.eyes.at(0).fold->one().std(), 5 * open); // no part has a line of its own
}

TEST(FirstAnswers, OlderResultsStandInAndAreMarked)
{
    LongProject project(longSpec(9));
    const auto before = std::make_shared<const Results>(project.evaluate({}).last);
    project.document.channels[0].scale = 2;
    const auto seen = project.evaluate({"eye"}, before);
    const Row &old = *findEntry(seen.first.rows, std::string("rise_time"));
    EXPECT_TRUE(old.pending);
    EXPECT_EQ(old.measured, findEntry(before->rows, std::string("rise_time"))->measured);
    EXPECT_FALSE(seen.first.channels.at(0).pending); // traces come first
    EXPECT_TRUE(seen.first.eyes.at(0).pending);
    EXPECT_LT(seen.first.eyes.at(0).share, 1); // of the new scale already
    EXPECT_NEAR(seen.first.eyes.at(0).fold->one().mean, 2 * before->eyes.at(0).fold->one().mean, 0.01);
    for (const Row &row : seen.last.rows) EXPECT_FALSE(row.pending);
    EXPECT_EQ(seen.last.document->channels[0].scale, 2);
}

TEST(FirstAnswers, OfAShortRecordTheWholeIsTheFirst)
{
    test::DataSpec spec = longSpec(2);
    spec.unitIntervals = 5000;
    LongProject project(spec);
    const auto seen = project.evaluate({"eye", "time_interval_error"});
    EXPECT_TRUE(seen.first.eyes.empty());
    EXPECT_TRUE(seen.first.rows.empty());
    EXPECT_EQ(seen.last.eyes.at(0).share, 1);
}

TEST(FirstAnswers, AQuantityOfTheWholeRecordIsNotToldFromParts)
{
    LongProject project(longSpec(4));
    project.measure("peak_to_peak", "a");
    const auto seen = project.evaluate({"peak_to_peak"});
    EXPECT_EQ(findEntry(seen.first.rows, std::string("peak_to_peak")), nullptr);
    EXPECT_TRUE(findEntry(seen.last.rows, std::string("peak_to_peak"))->measurable());
}

TEST(FirstAnswers, ADocumentThatCannotBeUsedIsToldBeforeAnythingIsMeasured)
{
    LongProject project(longSpec(6));
    project.measure("no_such_thing", "a");
    try {
        project.evaluate({"eye"});
        FAIL();
    } catch (const Error &error) {
        EXPECT_NE(std::string(error.what()).find("no_such_thing"), std::string::npos);
    }
    EXPECT_FALSE(project.engine.cache().costs().contains("edges"));
}

TEST(FirstAnswers, ARegionIsAskedOfWithinItself)
{
    LongProject project(longSpec(8));
    const double length = 80000 * 8.7 * 1e-10;
    project.document.regions.push_back({"late", 0.05 * length, 0.95 * length});
    project.document.measurements[0].region = "late";
    const auto seen = project.evaluate({"rise_time"});
    const Row &row = *findEntry(seen.first.rows, std::string("rise_time"));
    ASSERT_TRUE(row.pending && row.measurable());
    const Population &found = row.measured->population;
    EXPECT_GE(found.time(0), 0.05 * length);
    EXPECT_LE(found.end(found.size() - 1), 0.95 * length);
    EXPECT_GT(found.end(found.size() - 1) - found.time(0), 0.85 * length); // spread over all of it
}

/// Far below the sample rate a filter knows all that came before: the first answer takes the last of it alone, near
/// enough for a picture, and what is kept in the end is of all of it, the same bits as without any first answer.
TEST(FirstAnswers, EstimateAFilterThatTakesTheWholeRecord)
{
    test::TemporaryFolder folder;
    std::mt19937_64 random(21);
    std::normal_distribution<double> noise;
    std::vector<double> values((std::size_t(1) << 22) + 777);
    for (std::size_t i = 0; i < values.size(); ++i) values[i] = 3 + std::sin(1e-4 * double(i)) + noise(random);
    for (std::size_t i = 2000000; i < 2000100; ++i) values[i] = std::nan("");
    folder.write("a.raw", test::bytesOf(values));
    const auto documentOf = [](const std::string &kind, const char *corner) {
        return parseDocument(R"({"fulvex": 1, "captures": [{"id": "r", "file": "a.raw",
            "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1}}],
            "parameters": [{"id": "corner", "value": )" +
                                 std::string(corner) + R"(, "min": 1e-5, "max": 1, "unit": "Hz"}],
            "channels": [{"id": "a", "capture": "r", "column": 0}, {"id": "b", "formula": ")" +
                                 kind + R"("}, {"id": "c", "formula": "smooth(b - 1, 9) * 2"}]})",
                             "test");
    };
    const auto evaluated = [&](const Document &document, bool sketches, Results &first) {
        Engine engine(FULVEX_SHIPPED_MASKS);
        ResultsBoard board;
        Engine::Options options{.pyramids = true, .sketches = sketches};
        options.first = {"b", "c"};
        options.answered = [&] { first = board.all(); };
        Progress progress;
        return engine.evaluate(document, folder.path(), options, progress, &board);
    };
    for (const auto &[kind, corner, error] : std::vector<std::tuple<std::string, const char *, double>>{
             {"lowpass(a, corner, 4)", "1e-4", 1e-3},
             {"highpass(a, corner)", "3e-4", 1e-3},
             {"bandpass(a, corner, 5 * corner, 2)", "3e-4", 1e-3},
             {"lowpass(a, corner, 4, bessel, zerophase)", "2e-4", 1e-3},
             {"lowpass(highpass(a, corner), 0.01, 3)", "2e-4", 1e-3},
             {"lowpass(a, corner, 2)", "2e-5", 0.05}, // it looks no farther back than 131072 samples
             {"lowpass(a, 0.1, 4)", "1", 0}}) {
        SCOPED_TRACE(kind);
        const Document document = documentOf(kind, corner);
        Results first, none;
        const Results last = evaluated(document, true, first), plain = evaluated(document, false, none);
        for (const std::size_t of : {1u, 2u}) {
            ASSERT_TRUE(first.channels.at(of).source) << first.channels.at(of).error;
            const auto read = [&](const Results &results, std::int64_t at) {
                std::vector<double> out(3000);
                results.channels.at(of).source->read(at, out);
                return out;
            };
            double worst = 0;
            for (const std::int64_t at : {4190000L, 0L, 100L, 2000010L, 3100000L, 3100513L, 1999000L, 2600000L}) {
                const auto near = read(first, at), exact = read(last, at), other = read(plain, at);
                for (std::size_t i = 0; i < near.size(); ++i) {
                    EXPECT_EQ(std::isnan(near[i]), std::isnan(exact[i]));
                    EXPECT_TRUE(exact[i] == other[i] || std::isnan(exact[i]));
                    if (!std::isnan(exact[i])) worst = std::max(worst, std::abs(near[i] - exact[i]));
                }
            }
            EXPECT_LE(worst, error * double(of));
            EXPECT_EQ(first.channels.at(of).source == last.channels.at(of).source, error == 0);
            EXPECT_TRUE(first.channels.at(of).pyramid->isSketch());
            EXPECT_FALSE(last.channels.at(of).pyramid->isSketch());
            EXPECT_EQ(last.channels.at(of).pyramid->whole().low, plain.channels.at(of).pyramid->whole().low);
        }
    }
}
