// Signals that nobody would capture on purpose: every quantity must give a number or a reason, never crash, hang or
// give something that is no number.

#include "engine.h"
#include "error.h"
#include "npy_files.h"
#include "quantity_rows.h"
#include "results_json.h"
#include "temporary_folder.h"

#include <cmath>
#include <nlohmann/json.hpp>

using namespace fulvex;

namespace {

/// All quantities, two clocks, eyes on both and a mask, over one array.
Document everything()
{
    Document document;
    document.captures.push_back({"r", "a.npy", {}, {}});
    document.captures[0].import.sampleInterval = 1e-9;
    document.channels.push_back({.id = "a", .capture = "r"});
    for (const char *method : {"fixed", "pll"}) {
        document.clocks.push_back({.id = method, .source = "a", .method = method, .bandwidth = 1e7});
        document.eyes.push_back({std::string("eye_") + method, "a", method, "", "auto"});
        document.masks.push_back(
            {std::string("mask_") + method, std::string("eye_") + method, "ieee-802.3-10gbase-s", 0});
        for (const Quantity &quantity : quantities()) {
            MeasurementEntry entry = test::rowOf(quantity, {"a", "a", method, std::string("eye_") + method});
            entry.id += std::string("_") + method;
            document.measurements.push_back(entry);
        }
    }
    return document;
}

void expectSane(const std::vector<double> &values, const std::string &what)
{
    static const test::TemporaryFolder folder;
    folder.write("a.npy", test::npyOf(values));
    Engine engine(FULVEX_SHIPPED_MASKS);
    Progress progress;
    const Results results = engine.evaluate(everything(), folder.path(), {.pyramids = true}, progress);
    for (const Row &row : results.rows) {
        if (!row.measurable()) {
            EXPECT_EQ(row.statistics.count, 0) << what << " " << row.id;
            continue;
        }
        ASSERT_GT(row.statistics.count, 0) << what << " " << row.id;
        ASSERT_TRUE(row.statistics.mean) << what << " " << row.id;
        EXPECT_FALSE(std::isnan(*row.statistics.mean)) << what << " " << row.id;
    }
    for (const ClockResult &clock : results.clocks) EXPECT_NE(clock.clock == nullptr, clock.reason.empty()) << what;
    const std::string json = resultsJson(results, {"", utcNow()});
    EXPECT_TRUE(nlohmann::json::accept(json)) << what;
    EXPECT_EQ(json.find("nan"), std::string::npos) << what;
}

} // namespace

TEST(AbsurdSignals, ShortOnes)
{
    expectSane({0.5}, "one sample");
    expectSane({0, 1}, "two samples");
    expectSane({0, 1, 0}, "three");
    expectSane({0, 1, 0, 1, 0, 1, 0, 1, 0, 1}, "every sample an edge");
    expectSane({0, 0, 0, 0, 1, 1, 1, 1}, "one edge");
}

TEST(AbsurdSignals, WithoutInformation)
{
    expectSane(std::vector<double>(1000, 0.0), "zero");
    expectSane(std::vector<double>(1000, NAN), "gaps only");
    expectSane(std::vector<double>(1000, INFINITY), "infinite");
    std::vector<double> one(1000, NAN);
    one[500] = 1;
    expectSane(one, "one sample among gaps");
    for (std::size_t i = 0; i < one.size(); i += 2) one[i] = double(i % 3);
    expectSane(one, "every other sample a gap");
}

TEST(AbsurdSignals, OfAbsurdSize)
{
    for (const double scale : {1e-300, 1e-30, 1e30, 1e300}) {
        std::vector<double> square;
        for (int i = 0; i < 2000; ++i) square.push_back(i / 10 % 2 ? scale : -scale);
        expectSane(square, "square of " + std::to_string(std::log10(scale)) + " decades");
    }
    std::vector<double> tiny;
    for (int i = 0; i < 2000; ++i) tiny.push_back(1e6 + (i / 10 % 2 ? 1e-9 : 0));
    expectSane(tiny, "a few last digits on a large offset");
}

TEST(AbsurdSignals, NoiseOfEveryLength)
{
    test::Gaussian random(11);
    for (const std::size_t length : {5u, 17u, 63u, 64u, 65u, 129u, 1000u, 8192u, 8193u, 40000u}) {
        std::vector<double> noise;
        for (std::size_t i = 0; i < length; ++i) noise.push_back(random.uniform() < 0.01 ? NAN : random());
        expectSane(noise, "noise of " + std::to_string(length));
    }
}

TEST(AbsurdSignals, AStepAndADriftAndAChirp)
{
    std::vector<double> drift, chirp;
    for (int i = 0; i < 20000; ++i) {
        drift.push_back(i * 1e-3);
        chirp.push_back(std::sin(1e-7 * i * i * double(i) / 100));
    }
    expectSane(drift, "drift");
    expectSane(chirp, "chirp");
}
