// Captures that change on disk, before and while they are evaluated; what results then say.

#include "document_json.h"
#include "engine.h"
#include "fingerprint.h"
#include "quantity_rows.h"
#include "results_json.h"
#include "signals.h"
#include "temporary_folder.h"

#include <atomic>
#include <cmath>
#include <fcntl.h>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <thread>
#include <unistd.h>

using namespace fulvex;
using testing::HasSubstr;
namespace fs = std::filesystem;

namespace {

Document documentOver(const std::string &file, const std::string &import)
{
    return parseDocument(R"({"fulvex": 1, "captures": [{"id": "c", "file": ")" + file + R"(", "import": )" + import +
                             R"(}], "channels": [{"id": "a", "capture": "c"}, {"id": "b", "formula": "a + a"}],
        "measurements": [{"id": "mean", "quantity": "mean", "source": "b"}, {"id": "most", "quantity": "maximum", "source": "a"}]})",
                         "d");
}

ClockEntry clockOf(const std::string &channel)
{
    ClockEntry clock;
    clock.id = "k";
    clock.source = channel;
    return clock;
}

constexpr const char *raw = R"({"format": "raw", "sample_type": "f64", "sample_interval": 1e-9})";

struct DisturbedCaptures : testing::Test {
    Results evaluate(const Document &document, Progress &progress)
    {
        return engine.evaluate(document, folder.path(), {.pyramids = true, .fingerprints = true, .check = true},
                               progress);
    }
    Results evaluate(const Document &document)
    {
        Progress progress;
        return evaluate(document, progress);
    }
    static double valueOf(const Results &results, const char *row)
    {
        return findEntry(results.rows, row)->statistics.mean.value_or(NAN);
    }
    test::TemporaryFolder folder;
    Engine engine{FULVEX_SHIPPED_MASKS};
};

} // namespace

TEST_F(DisturbedCaptures, OneReplacedDuringRunsIsStatedByItsOwnFingerprintAndLength)
{
    // Three recordings take each other's place without a pause, while results are made.
    std::vector<std::string> contents;
    for (int i = 0; i < 3; ++i)
        contents.push_back(test::bytesOf(std::vector<double>(std::size_t(200'000 + 1000 * i), i + 1.0)));
    folder.write("a.raw", contents[0]);
    const Document document = documentOver("a.raw", raw);
    std::jthread replacing([&](std::stop_token stop) {
        for (int i = 0; !stop.stop_requested(); ++i) {
            folder.write("next", contents[std::size_t(i % 3)]);
            fs::rename(folder / "next", folder / "a.raw");
        }
    });
    int agreed = 0;
    for (int run = 0; run < 25; ++run) {
        const Results results = evaluate(document);
        const CaptureResult &capture = results.captures[0];
        if (!capture.error.empty()) continue; // replaced again and again: told
        const int which = int(valueOf(results, "most")) - 1;
        ASSERT_TRUE(which >= 0 && which < 3);
        EXPECT_EQ(capture.samples, 200'000 + 1000 * which);
        EXPECT_EQ(capture.sha256, sha256(contents[std::size_t(which)]));
        EXPECT_EQ(valueOf(results, "mean"), 2 * (which + 1.0));
        ++agreed;
    }
    EXPECT_GT(agreed, 0);
}

TEST_F(DisturbedCaptures, OneThatIsWrittenToOrCutMeanwhileIsAnErrorWithAllThatStandsOnIt)
{
    std::string path;
    const Document document = documentOver("a.raw", raw);
    // Disturbed while it is read: once more where the machine let the other thread wait until that was over.
    const auto disturbed = [&](Engine &fresh, bool cut, bool &inTime) {
        path = folder.write("a.raw", test::bytesOf(std::vector<double>(1'000'000, 1.0)));
        Progress progress;
        std::atomic<bool> done = false;
        std::jthread disturbing([&](std::stop_token stop) {
            while (progress.fraction() <= 0 && !stop.stop_requested())
                std::this_thread::yield(); // it is opened by then
            if (cut) {
                ASSERT_EQ(::truncate(path.c_str(), 4096), 0);
            } else {
                const int file = ::open(path.c_str(), O_WRONLY);
                const double other = 7;
                ASSERT_EQ(::pwrite(file, &other, sizeof other, 8 * 999'999), 8);
                ::close(file);
            }
            done = true;
        });
        Results results = fresh.evaluate(document, folder.path(), {.fingerprints = true, .check = true}, progress);
        inTime = done;
        return results;
    };
    for (const bool cut : {false, true}) {
        Engine fresh(FULVEX_SHIPPED_MASKS);
        bool inTime = false;
        Results results;
        for (int tries = 0; tries < 50 && !inTime; ++tries) results = disturbed(fresh, cut, inTime);
        ASSERT_TRUE(inTime);
        EXPECT_THAT(results.captures[0].error, testing::AnyOf(HasSubstr("was written to"), HasSubstr("was cut from")));
        EXPECT_THAT(results.firstError(), HasSubstr("a.raw"));
        for (const Row &row : results.rows) {
            EXPECT_FALSE(row.measurable());
            EXPECT_FALSE(row.statistics.mean);
        }
        // The next evaluation takes it as it is now.
        Progress progress;
        EXPECT_EQ(fresh.evaluate(document, folder.path(), {}, progress).captures[0].error, "");
    }
}

TEST_F(DisturbedCaptures, NewSamplesUnderOldMetadataAreSeen)
{
    folder.write("a.sigmf-meta", R"({"global": {"core:datatype": "rf64_le", "core:sample_rate": 1e6}})");
    folder.write("a.sigmf-data", test::bytesOf({1, 1, 1, 1}));
    const Document document = documentOver("a.sigmf-meta", "{}");
    EXPECT_EQ(valueOf(evaluate(document), "most"), 1);
    const auto time = fs::last_write_time(folder / "a.sigmf-data");
    folder.write("a.sigmf-data", test::bytesOf({2, 2, 2, 2})); // of the same length
    fs::last_write_time(folder / "a.sigmf-data", time);        // and the same time
    EXPECT_EQ(valueOf(evaluate(document), "most"), 2);
}

TEST_F(DisturbedCaptures, ACopyThatKeepsItsTimeIsReadAnew)
{
    const std::string path = folder.write("a.raw", test::bytesOf(std::vector<double>(1000, 1.0)));
    const Document document = documentOver("a.raw", raw);
    const Results first = evaluate(document);
    const auto time = fs::last_write_time(path);
    folder.write("other", test::bytesOf(std::vector<double>(1000, 3.0)));
    fs::last_write_time(folder / "other", time);
    fs::rename(folder / "other", path);
    const Results second = evaluate(document);
    EXPECT_EQ(valueOf(second, "most"), 3);
    EXPECT_NE(second.captures[0].sha256, first.captures[0].sha256);
}

TEST_F(DisturbedCaptures, SamplesThatNoInstrumentMeasuredAreUnmeasurableWithAReason)
{
    std::vector<std::vector<double>> absurd{{-1.7e308, 1.7e308}, {0, 1e-310},      {1e200, 2e200},
                                            {-1e160, 0},         {1e-200, 2e-200}, {5e-324, 0}};
    for (const auto &pair : absurd) {
        std::vector<double> values;
        for (int i = 0; i < 100; ++i) values.insert(values.end(), pair.begin(), pair.end());
        folder.write("a.raw", test::bytesOf(values));
        Document document = documentOver("a.raw", raw);
        document.clocks.push_back(clockOf("a"));
        document.eyes.push_back({"e", "a", "k", {}});
        document.masks.push_back({"m", "e", "ieee-802.3-1000base-x", 0});
        document.measurements.clear();
        for (const Quantity &quantity : quantities())
            document.measurements.push_back(test::rowOf(quantity, {"a", "a", "k", "e"}));
        const Results results = evaluate(document);
        for (const Row &row : results.rows) {
            EXPECT_FALSE(row.measurable()) << row.id;
            EXPECT_GT(row.reason.size(), 20u) << row.id;
            EXPECT_FALSE(row.statistics.mean) << row.id;
        }
        EXPECT_TRUE(nlohmann::json::accept(resultsJson(results, {})));
        EXPECT_NE(results.channels[0].pyramid, nullptr); // it can be looked at
    }
}

TEST_F(DisturbedCaptures, RatesAndCornersThatCannotBeAreRefusedAtOnce)
{
    test::DataSpec spec;
    spec.unitIntervals = 500;
    folder.write("a.raw", test::bytesOf(test::makeData(spec).volts));
    Document document = documentOver("a.raw", raw);
    const auto reason = [&](std::optional<double> rate, double bandwidth) {
        ClockEntry clock = clockOf("a");
        clock.method = bandwidth > 0 ? "pll" : "fixed";
        clock.rate = rate;
        if (bandwidth > 0) clock.bandwidth = bandwidth;
        document.clocks = {clock};
        return evaluate(document).clocks[0].reason;
    };
    const double rate = 1e9 / spec.samplesPerUi; // 81.3 MBd at 1 GS/s
    EXPECT_EQ(reason(rate, 0), "");
    for (const double absurd : {1e13, 1e14, 1e19, 1e300})
        EXPECT_THAT(reason(absurd, 0), HasSubstr("is above the sample rate of 1.000 GS/s")) << absurd;
    for (const double absurd : {1e-300, 1e-19, 1.0, 1e5})
        EXPECT_THAT(reason(absurd, 0), HasSubstr("not one unit interval fits the record")) << absurd;
    EXPECT_EQ(reason({}, 0.44 * rate), "");
    EXPECT_THAT(reason({}, 0.46 * rate), HasSubstr("give a bandwidth of at most 36.6 MHz"));
    EXPECT_THAT(reason({}, 1e20), HasSubstr("faster than its symbols allow"));
}

TEST_F(DisturbedCaptures, UnitsAreTheChannelsElseTheFilesElseVolts)
{
    folder.write("a.csv", "t (us),I (uA),v\n0,1,2\n1,3,4\n2,1,2\n3,3,4\n");
    Document document = parseDocument(R"({"fulvex": 1, "captures": [{"id": "c", "file": "a.csv"}],
        "channels": [{"id": "i", "capture": "c"}, {"id": "v", "capture": "c", "column": 1},
                     {"id": "p", "capture": "c", "unit": "Pa"}, {"id": "twice", "formula": "2 * i"},
                     {"id": "power", "formula": "i * v"}, {"id": "named", "formula": "i + i", "unit": "C"}],
        "clocks": [{"id": "k", "source": "i"}], "eyes": [{"id": "e", "source": "i", "clock": "k"}],
        "measurements": [{"id": "m1", "quantity": "maximum", "source": "i"}, {"id": "m2", "quantity": "maximum", "source": "v"},
          {"id": "m3", "quantity": "high", "source": "p"}, {"id": "m4", "quantity": "mean", "source": "twice"},
          {"id": "m5", "quantity": "mean", "source": "named"}, {"id": "m6", "quantity": "slew_rate_rising", "source": "i"},
          {"id": "m7", "quantity": "one_level", "eye": "e"}, {"id": "m8", "quantity": "one_noise", "eye": "e"},
          {"id": "m9", "quantity": "mean", "source": "power"}, {"id": "m10", "quantity": "rise_time", "source": "p"}]})",
                                      "d");
    std::vector<std::string> units;
    const Results results = evaluate(document);
    for (const Row &row : results.rows) units.push_back(row.unit);
    EXPECT_EQ(units, (std::vector<std::string>{"A", "V", "Pa", "A", "C", "A/s", "A", "A", "W", "s"}));
    EXPECT_NEAR(valueOf(results, "m1"), 3e-6, 1e-18);
}

/// Seconds since 1970 keep a quarter of a microsecond; the samples lie 100 ps apart.
TEST_F(DisturbedCaptures, PicosecondsAreNotLostBesideSecondsSince1970)
{
    test::DataSpec spec;
    spec.unitIntervals = 2000;
    spec.randomJitter = 0.01;
    folder.write("a.raw", test::bytesOf(test::makeData(spec).volts));
    const auto documentAt = [&](double start, double origin) {
        Document document =
            documentOver("a.raw", R"({"format": "raw", "sample_type": "f64", "sample_interval": 1e-10})");
        document.captures[0].import.start = start;
        document.timeOrigin = origin;
        ChannelEntry late;
        late.id = "late";
        late.capture = "c";
        late.delay = 40e-12; // deskewed by 40 ps
        document.channels[1] = late;
        document.channels.push_back({.id = "d", .formula = "a - late"});
        document.clocks = {clockOf("a")};
        document.measurements.clear();
        for (const char *quantity : {"cycle_to_cycle_jitter", "period", "time_interval_error", "rise_time"}) {
            document.measurements.push_back({.id = quantity,
                                             .quantity = quantity,
                                             .source = "a",
                                             .clock = quantity == std::string("time_interval_error") ? "k" : ""});
        }
        document.measurements.push_back({.id = "left", .quantity = "ac_rms", .source = "d"});
        return document;
    };
    const Results zero = evaluate(documentAt(0, 0)), far = evaluate(documentAt(1764057600.0, 0)),
                  moved = evaluate(documentAt(1764057600.0, 1764057600.0));
    ASSERT_GT(valueOf(zero, "left"), 1e-3); // 40 ps of skew leave something
    for (const Results *late : {&far, &moved}) {
        for (std::size_t i = 0; i < zero.rows.size(); ++i) {
            const Statistics &is = late->rows[i].statistics, &should = zero.rows[i].statistics;
            EXPECT_EQ(is.count, should.count) << zero.rows[i].id;
            EXPECT_EQ(is.mean, should.mean) << zero.rows[i].id; // to the last bit
            EXPECT_EQ(is.std, should.std) << zero.rows[i].id;
        }
    }
    const auto hasFinding = [](const Results &results) {
        return std::any_of(results.captures[0].findings.begin(), results.captures[0].findings.end(),
                           [](const Finding &finding) { return finding.check == "far_start" && finding.remedy; });
    };
    EXPECT_TRUE(hasFinding(far)); // moments are rounded there, and that is said, with the remedy
    EXPECT_FALSE(hasFinding(moved));
    EXPECT_FALSE(hasFinding(zero));
}
