// Rows between two channels, from documents over two captures of unlike grids.

#include "engine.h"
#include "error.h"
#include "npy_header.h"
#include "quantity_rows.h"
#include "signals.h"
#include "temporary_folder.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// Channels a and b, each of a capture of its own.
class PairRows : public testing::Test {
protected:
    void capture(const std::string &id, const std::vector<double> &values, double interval, double start = 0)
    {
        folder.write(id + ".npy", npyHeader("<f8", std::int64_t(values.size())) + test::bytesOf(values));
        CaptureEntry entry{"r" + id, id + ".npy", {}, {}};
        entry.import.sampleInterval = interval;
        entry.import.start = start;
        document.captures.push_back(entry);
        document.channels.push_back({.id = id, .capture = entry.id});
    }
    MeasurementEntry &measure(const std::string &quantity)
    {
        document.measurements.push_back(test::rowOf(*findQuantity(quantity), {"a", "b", "", ""}));
        return document.measurements.back();
    }
    Row row(const std::string &id)
    {
        validate(document);
        const Results results = engine.evaluate(document, folder.path(), {}, progress);
        return *findEntry(results.rows, id);
    }
    test::TemporaryFolder folder;
    Engine engine{FULVEX_SHIPPED_MASKS};
    Progress progress;
    Document document;
};

/// A sine of 20 kHz from 0 on, a delay of `late` s in it, `count` samples of `interval` from `start`.
std::vector<double> sine(double amplitude, double late, double interval, double start, int count, double noise = 0,
                         std::uint64_t seed = 1)
{
    test::Gaussian random(seed);
    std::vector<double> values;
    for (int i = 0; i < count; ++i)
        values.push_back(amplitude * std::sin(2 * M_PI * 20e3 * (start + interval * i - late)) + noise * random());
    return values;
}

} // namespace

/// Noise of 1 mV on 0.8 and 0.2 V at 20 kHz: instants are good to 10 and 40 ns, the mean of 600 differences to 2 ns.
TEST_F(PairRows, DelayPhaseAndGainOfUnlikeGrids)
{
    constexpr double late = 6.21e-6;
    capture("a", sine(0.8, 0, 1e-6, 0, 30000, 1e-3, 1), 1e-6);
    capture("b", sine(0.2, late, 0.7e-6, -2e-3, 50000, 1e-3, 2), 0.7e-6, -2e-3);
    measure("delay");
    measure("phase");
    measure("gain");
    measure("gain_db");
    measure("trigger_jitter");
    const Row delay = row("delay"), phase = row("phase"), gain = row("gain"), decibels = row("gain_db"),
              jitter = row("trigger_jitter");
    EXPECT_NEAR(double(delay.statistics.count), 600, 2);
    EXPECT_NEAR(*delay.statistics.mean, late, 5 * *delay.statistics.uncertainty);
    EXPECT_LT(*delay.statistics.uncertainty, 4e-9);
    EXPECT_NEAR(*phase.statistics.mean, 360 * 20e3 * late, 5 * *phase.statistics.uncertainty);
    EXPECT_NEAR(*gain.statistics.mean, 0.25, 5 * *gain.statistics.uncertainty + 0.25 * 2e-5); // noise in both rms
    EXPECT_LT(*gain.statistics.uncertainty, 1e-3);
    EXPECT_NEAR(*decibels.statistics.mean, 20 * std::log10(*gain.statistics.mean), 1e-9);
    EXPECT_NEAR(*jitter.statistics.mean, 0, 1e-15);
    EXPECT_NEAR(*jitter.statistics.std, *delay.statistics.std, 1e-15);
    const auto said = [&](const Row &one, const std::string &what) {
        for (const auto &[key, how] : one.provenance)
            if (key == what) return how;
        return std::string();
    };
    EXPECT_EQ(said(delay, "between"), "rising edges of a and the nearest rising edge of b");
    EXPECT_NE(said(delay, "levels of b"), "");
}

/// A leg turned round: falling edges answer rising ones, and a deskew moves them.
TEST_F(PairRows, EdgesAndDeskewAreHeeded)
{
    constexpr double late = 3e-6;
    capture("a", sine(1, 0, 1e-6, 0, 20000), 1e-6);
    capture("b", sine(-1, late, 1e-6, 0, 20000), 1e-6);
    measure("delay").toEdge = "falling";
    EXPECT_NEAR(*row("delay").statistics.mean, late, 1e-10);
    document.channels[1].delay = -late;
    EXPECT_NEAR(*row("delay").statistics.mean, 0, 1e-10);
    document.measurements[0].toEdge = "both"; // the nearest of any direction
    document.channels[1].delay = 0;
    EXPECT_NEAR(*row("delay").statistics.mean, late, 1e-10);
}

/// Gaussian steps through a device of a Gaussian step add by squares.
TEST_F(PairRows, ADevicesRiseTimeIsTheRootOfTheDifferenceOfSquares)
{
    test::DataSpec spec;
    spec.samplesPerUi = 40;
    spec.unitIntervals = 2000;
    spec.noise = 1e-3;
    spec.edgeSigma = 0.06;
    capture("a", test::makeData(spec).volts, 1e-10);
    spec.edgeSigma = 0.1;
    spec.seed = 5;
    capture("b", test::makeData(spec).volts, 1e-10);
    measure("device_rise_time");
    const Row device = row("device_rise_time");
    ASSERT_TRUE(device.measurable()) << device.reason;
    EXPECT_NEAR(*device.statistics.mean, 2 * 1.281552 * 0.08 * 40e-10, 5 * *device.statistics.uncertainty);
    EXPECT_LT(*device.statistics.uncertainty, 0.01 * *device.statistics.mean);
    std::swap(document.measurements[0].source, document.measurements[0].to);
    EXPECT_THAT(row("device_rise_time").reason, testing::HasSubstr("the input is not faster"));
}

TEST_F(PairRows, WhatCannotBeHadSaysWhyAndWhatHelps)
{
    capture("a", sine(1, 0, 1e-6, 0, 5000), 1e-6);
    capture("b", sine(1, 0, 1e-6, 1, 5000), 1e-6, 1); // a second later
    for (const char *quantity : {"delay", "phase", "gain", "gain_db", "setup_time", "hold_time", "trigger_jitter"})
        measure(quantity);
    for (const char *quantity : {"delay", "phase", "gain", "gain_db", "trigger_jitter"}) {
        const Row apart = row(quantity);
        EXPECT_FALSE(apart.measurable()) << quantity;
        EXPECT_THAT(apart.reason, testing::HasSubstr("overlap in time")) << quantity;
        EXPECT_EQ(apart.statistics.count, 0);
    }
    folder.write("b.npy", npyHeader("<f8", 5000) + test::bytesOf(std::vector<double>(5000, 0.3)));
    document.captures[1].import.start = 0;
    for (const char *quantity : {"delay", "phase", "gain_db", "setup_time", "hold_time", "trigger_jitter"}) {
        const Row still = row(quantity);
        EXPECT_FALSE(still.measurable()) << quantity;
        EXPECT_THAT(still.reason, testing::HasSubstr("constant")) << quantity;
    }
    EXPECT_NEAR(*row("gain").statistics.mean, 0, 1e-12); // a constant output is a gain of nothing
    std::swap(document.measurements[2].source, document.measurements[2].to);
    EXPECT_THAT(row("gain").reason, testing::HasSubstr("constant"));
    document.measurements[0].to.clear();
    try {
        row("delay");
        FAIL() << "a delay without a second channel";
    } catch (const Error &error) {
        EXPECT_THAT(error.what(), testing::HasSubstr("needs a second channel"));
    }
}

/// Of one edge there is no period, but a delay.
TEST_F(PairRows, OneEdgeEach)
{
    std::vector<double> step(400, 0.0), later(400, 0.0);
    std::fill(step.begin() + 100, step.end(), 1.0);
    std::fill(later.begin() + 150, later.end(), 1.0);
    capture("a", step, 1e-9);
    capture("b", later, 1e-9);
    measure("delay");
    measure("phase");
    measure("trigger_jitter");
    EXPECT_EQ(row("delay").statistics.count, 1);
    EXPECT_NEAR(*row("delay").statistics.mean, 50e-9, 1e-15);
    EXPECT_THAT(row("phase").reason, testing::HasSubstr("needs a period"));
    EXPECT_THAT(row("trigger_jitter").reason, testing::HasSubstr("needs two"));
}
