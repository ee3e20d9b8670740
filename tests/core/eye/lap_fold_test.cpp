// Overlays: what lies about edges, and a pattern's repeats, laid over each other.

#include "eye_box.h"
#include "lap_fold.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;

namespace {

/// A pulse about its own moment, s in samples: a bell that a later, smaller one follows.
double twoBells(double since)
{
    const auto bell = [](double x) { return std::exp(-x * x / 2); };
    return bell(since / 9) + 0.3 * bell((since - 40) / 12);
}

/// Pulses at moments that lie anywhere between samples, never nearer than `spacing` to each other.
struct Pulses {
    std::vector<double> moments, volts;
    Pulses(int count, double spacing, std::uint64_t seed)
    {
        std::mt19937_64 random(seed);
        std::uniform_real_distribution<double> more(0, spacing);
        double at = 100.3;
        for (int i = 0; i < count; ++i, at += spacing + more(random)) moments.push_back(at);
        volts.resize(std::size_t(at + 100));
        for (const double moment : moments)
            for (auto k = std::int64_t(moment) - 90; k < std::int64_t(moment) + 130; ++k)
                if (k >= 0 && k < std::int64_t(volts.size())) volts[std::size_t(k)] += twoBells(double(k) - moment);
    }
};

EyeRule ruleOver(const UnitIntervalMap &map, double least, double most)
{
    EyeRule rule;
    rule.least = least;
    rule.most = most;
    rule.last = map.unitIntervals();
    rule.columns = 512;
    rule.rows = 256;
    rule.across.seconds = true;
    return rule;
}

} // namespace

/// Each begins where it is to, to the last digits, whatever lies between them; those within another, or that reach over
/// the ends, are left out.
TEST(LapsAbout, BeginExactlyWhereTheyAreTo)
{
    const TimeAxis axis{0, 1e-9, 10'000'000};
    std::vector<double> moments{3.5, 40.25, 70.0, 500.125, 505.0, 560.5, 9'000'000.75, 9'999'990.0};
    const UnitIntervalMap map = lapsAbout(axis, moments, 10.5, 60);
    EyeRule rule = ruleOver(map, 0, 1);
    rule.first = map.firstSettled();
    const std::vector<double> expected{40.25, 500.125, 560.5, 9'000'000.75}; // 560.5 begins right where one ends
    const auto begins = lapBegins(map, rule);
    ASSERT_EQ(begins.size(), expected.size());
    for (std::size_t i = 0; i < begins.size(); ++i) {
        EXPECT_NEAR(map.positionOf(double(begins[i])), expected[i] - 10.5, 1e-8);
        EXPECT_NEAR(map.positionOf(double(begins[i]) + 0.25), expected[i] - 10.5 + 15, 1e-8);
        // A boundary that two laps share is the end of the first and the begin of the other.
        EXPECT_NEAR(map.positionOf(double(begins[i]) + 0.999999), expected[i] - 10.5 + 60, 1e-4);
        EXPECT_EQ(lapAt(map, rule, axis.timeOf(expected[i])), begins[i]);
    }
    EXPECT_FALSE(lapAt(map, rule, axis.timeOf(300)));
    EXPECT_TRUE(lapBegins(lapsAbout(axis, std::vector<double>{}, 1, 5), rule).empty());
    EXPECT_TRUE(lapBegins(lapsAbout(axis, std::vector{2.0}, 10, 50), rule).empty());
}

/// The mean of noiseless pulses is the pulse, to half a row and what it changes by within half a column; every sample
/// of the laps is counted once.
TEST(FoldLaps, LaysPulsesOverEachOther)
{
    for (const int interpolation : {1, 4}) {
        for (const double spacing : {150.0, 90.5}) {
            SCOPED_TRACE(testing::Message() << interpolation << " " << spacing);
            const Pulses pulses(3000, spacing, 5);
            const double before = 30, length = 80;
            const SourcePtr source = makeMemorySource(pulses.volts, 1e-9);
            const UnitIntervalMap map = lapsAbout(source->axis(), pulses.moments, before, length);
            EyeRule rule = ruleOver(map, 0, 1.01);
            rule.interpolation = interpolation;
            rule.curves = 200;
            Progress progress;
            const EyeFold fold = foldLaps(source, map, rule, progress);
            EXPECT_EQ(fold.unitIntervals, 3000);
            EXPECT_EQ(fold.curves.unitIntervals, 200);
            EXPECT_NEAR(double(fold.samples), 3000 * length, 3000);
            std::uint64_t hits = 0;
            for (const std::uint64_t count : fold.picture.counts) hits += count;
            EXPECT_NEAR(double(hits), double(fold.samples) * interpolation, 3000.0 * interpolation);
            const std::vector<double> mean = meanOfLaps(fold.picture);
            ASSERT_EQ(mean.size(), 512u);
            const double column = length / 512, row = fold.picture.rows.width();
            constexpr double steepest = 0.61 / 9; // of the bell, a sample
            for (std::size_t i = 0; i < mean.size(); ++i) {
                const double since = (double(i) + 0.5) * column - before;
                EXPECT_NEAR(mean[i], twoBells(since), row / 2 + steepest * column / 2 + 1e-3) << since;
            }
        }
    }
}

/// Planted dents are found, and none else, by a box that no sound pulse passes.
TEST(FoldLaps, BoxesFindTheLapsThatPassThere)
{
    Pulses pulses(2000, 100, 9);
    const std::vector<std::size_t> dented{3, 17, 600, 1998};
    for (const std::size_t i : dented)
        for (std::int64_t k = -3; k <= 3; ++k) pulses.volts[std::size_t(std::llround(pulses.moments[i]) + k)] = 0.5;
    const SourcePtr source = makeMemorySource(pulses.volts, 1e-9);
    const UnitIntervalMap map = lapsAbout(source->axis(), pulses.moments, 30, 80);
    EyeRule rule = ruleOver(map, 0, 1.01);
    rule.first = map.firstSettled();
    Progress progress;
    for (const double wide : {0.02, 0.6}) { // looked at by its own points, or all
        const EyeBox box{30.0 / 80 - wide / 100, 30.0 / 80 + wide / 100, 0.45, 0.55};
        const EyePasses passes = passesThrough(source, map, rule, box, 100, progress);
        EXPECT_EQ(passes.unitIntervals, 2000);
        ASSERT_EQ(passes.count, std::int64_t(dented.size()));
        for (std::size_t i = 0; i < dented.size(); ++i)
            EXPECT_NEAR(passes.first[i].time, pulses.moments[dented[i]] * 1e-9, 4e-9);
    }
}

/// Repeats of a pattern, by a clock whose unit intervals wander within each.
TEST(FoldLaps, LaysPatternsOverEachOther)
{
    for (const std::int64_t length : {7, 127}) {
        test::DataSpec spec;
        spec.samplesPerUi = 9.7;
        spec.unitIntervals = length * 40 + 3;
        spec.edgeSigma = 0.05;
        std::mt19937_64 random(4);
        std::vector<int> bits(static_cast<std::size_t>(length));
        for (int &bit : bits) bit = int(random() & 1);
        bits[0] = 0, bits[1] = 1;
        spec.bit = [&](std::int64_t ui) { return bits[std::size_t(((ui % length) + length) % length)]; };
        spec.wander = [](double ui) { return 0.4 * std::sin(ui / 30); };
        const test::Data data = test::makeData(spec);
        const SourcePtr source = data.source();
        // The clock that was sent, with a knot at each boundary.
        BoundaryNumbers numbers;
        RawVector<double> late;
        for (std::int64_t n = 0; n <= spec.unitIntervals; ++n) {
            numbers.push_back(n);
            late.push_back(spec.wander(double(n)));
        }
        const UnitIntervalMap map(source->axis(), spec.offset, spec.samplesPerUi,
                                  std::make_shared<const BoundaryNumbers>(std::move(numbers)), std::move(late), 0);
        EyeRule rule = ruleOver(map, spec.low, spec.high);
        rule.across.seconds = false;
        rule.columns = int(length) * 16;
        rule.laps = {length, 0, int(length)};
        rule.first = 0;
        Progress progress;
        const EyeFold fold = foldLaps(source, map, rule, progress);
        EXPECT_GE(fold.unitIntervals, 39);
        const std::vector<double> mean = meanOfLaps(fold.picture);
        for (std::int64_t ui = 0; ui < length; ++ui) {
            const double middle = mean[std::size_t(ui * 16 + 8)];
            EXPECT_EQ(middle > 0, spec.bit(ui + map.lineNumber()) == 1) << ui;
            EXPECT_NEAR(std::abs(middle), 0.4, fold.picture.rows.width()) << "no repeat lies beside the others";
        }
        // A part of it is the same, on columns of its own.
        rule.laps.from = 2;
        rule.laps.lasts = 4;
        rule.columns = 64;
        const std::vector<double> part = meanOfLaps(foldLaps(source, map, rule, progress).picture);
        for (std::size_t i = 0; i < part.size(); i += 16)
            EXPECT_NEAR(part[i + 8], mean[32 + i + 8], 2 * fold.picture.rows.width());
    }
}

/// A clock that pauses, and what reaches over its ends, make no laps.
TEST(FoldLaps, TakesWholeLapsAlone)
{
    UnitIntervalMap map(TimeAxis{0, 1e-9, 1000}, 0, 10);
    map.runOnly({{5, 26}, {40, 47}});
    EyeRule rule;
    rule.last = map.unitIntervals();
    rule.laps = {8, 3, 5};
    EXPECT_EQ(lapBegins(map, rule), (std::vector<std::int64_t>{11, 19}));
    EXPECT_EQ(rule.laps.beginOf(3), 3);
    EXPECT_EQ(rule.laps.beginOf(2), -5);
    EXPECT_EQ(rule.laps.beginOf(10), 3);
}
