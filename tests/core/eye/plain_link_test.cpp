// The link pipeline, whatever it is made quick by, against the plain version: edges, clock, errors and the eye.

#include "by_target.h"
#include "clock_recovery.h"
#include "coded_channels.h"
#include "crossing_masks.h"
#include "edge_finder.h"
#include "eye_fold.h"
#include "plain_link.h"
#include "signals.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <oneapi/tbb/global_control.h>
#include <random>

using namespace fulvex;
using test::PlainLink;
using test::PlainLinkRule;

namespace {

struct Kind {
    const char *name;
    test::DataSpec data;
    double bandwidth = 1.5e6;
    int slopeOfCodes = 1; ///< the sign of the step
    std::function<void(std::vector<double> &)> spoil = {};
    bool coded = true;
};

std::vector<Kind> kinds()
{
    const auto data = [](double samplesPerUi, double noise, double jitter, double edgeSigma) {
        test::DataSpec spec;
        spec.samplesPerUi = samplesPerUi;
        spec.unitIntervals = std::int64_t(400000 / samplesPerUi);
        spec.noise = noise;
        spec.randomJitter = jitter;
        spec.edgeSigma = edgeSigma;
        spec.wander = [](double ui) { return 0.3 * std::sin(ui / 900); };
        return spec;
    };
    const auto constants = [](std::vector<double> &volts) {
        for (std::size_t i = 100000; i < 130000; ++i) volts[i] = 0.4;
        for (std::size_t i = 200000; i < 200700; ++i) volts[i] = -0.4;
    };
    const auto clipped = [](std::vector<double> &volts) {
        for (double &v : volts) v = std::clamp(v, -0.3, 0.35);
    };
    const auto gaps = [](std::vector<double> &volts) {
        for (std::size_t i = 50000; i < volts.size(); i += 7919) volts[i] = NAN;
        for (std::size_t i = 150000; i < 150300; ++i) volts[i] = NAN;
    };
    const auto twice = [](std::vector<double> &volts) { // two crossings within one unit interval
        for (std::size_t i = 9000; i + 2 < volts.size(); i += 4001) volts[i] = -0.4, volts[i + 1] = 0.4;
    };
    auto closed = data(10.7, 0.1, 0.03, 0.34);
    return {{"open", data(4.003, 0.01, 0.02, 0.15)},
            {"noisy", data(4.003, 0.08, 0.02, 0.15)},
            {"jittery", data(6.2, 0.01, 0.08, 0.15)},
            {"closed", closed},
            {"two samples", data(2.31, 0.005, 0.01, 0.1)},
            {"eight", data(8.0, 0.02, 0.02, 0.15)},
            {"forty", data(40.9, 0.02, 0.02, 0.1)},
            {"slow loop", data(4.003, 0.02, 0.02, 0.15), 1.1e4},
            {"fast loop", data(4.003, 0.02, 0.02, 0.15), 3e7},
            {"constant stretches", data(4.003, 0.02, 0.02, 0.15), 1.5e6, 1, constants},
            {"clipped", data(4.003, 0.08, 0.02, 0.15), 1.5e6, 1, clipped},
            {"two crossings", data(7.7, 0.02, 0.02, 0.15), 1.5e6, 1, twice},
            {"gaps", data(4.003, 0.02, 0.02, 0.15), 1.5e6, 1, gaps, false},
            {"turned round", data(4.003, 0.02, 0.02, 0.15), 1.5e6, -1}};
}

/// Over how many samples the counts differ.
std::uint64_t moved(const EyeCounts &a, const EyeCounts &b)
{
    EXPECT_EQ(a.rows, b.rows);
    std::uint64_t differ = 0;
    for (std::size_t i = 0; i < a.counts.size(); ++i)
        differ += std::max(a.counts[i], b.counts[i]) - std::min(a.counts[i], b.counts[i]);
    return differ / 2;
}

void expectAlike(const SourcePtr &source, const PlainLink &plain, const PlainLinkRule &rule)
{
    Progress progress;
    const ReferenceLevels levels{{-0.4, 0.4}, -0.3, rule.mid, 0.3, rule.top - rule.bottom};
    const auto edges = std::make_shared<const EdgeList>(
        findEdges(*source, {0, source->axis().count}, levels, EdgeInterpolation::linear, progress));
    ASSERT_EQ(edges->positions, plain.edges.positions); // to the last bit
    ASSERT_EQ(edges->flags, plain.edges.flags);

    const auto timing = std::make_shared<const SymbolTiming>(findSymbolTiming(*edges, rule.period, progress));
    ASSERT_TRUE(timing->found()) << timing->reason;
    const std::int64_t shift = timing->numbers[0] - plain.numbers[0];
    for (std::size_t i = 0; i < edges->size(); ++i) ASSERT_EQ(timing->numbers[i] - shift, plain.numbers[i]) << i;
    EXPECT_NEAR(timing->period, plain.period, 1e-9);

    const Clock clock =
        loopClock(edges, timing, source->axis(), {}, {2, rule.bandwidth, rule.damping, false}, progress);
    ASSERT_EQ(clock.map.unitIntervals(), plain.unitIntervals);
    ASSERT_EQ(std::min(clock.map.firstSettled(), plain.unitIntervals), plain.firstSettled);
    const std::vector<double> late = clock.edges.lateness(clock.map);
    double worst = 0;
    for (std::size_t i = 0; i < late.size(); ++i) worst = std::max(worst, std::abs(late[i] - plain.late[i]));
    EXPECT_LT(worst, 1e-6); // UI
    if (plain.firstSettled >= plain.unitIntervals) return;

    const EyeFold fold = foldEye(source, clock.map,
                                 {.thresholds = {rule.mid},
                                  .least = rule.least,
                                  .most = rule.most,
                                  .first = clock.map.firstSettled(),
                                  .last = clock.map.unitIntervals()},
                                 progress);
    EXPECT_EQ(fold.unitIntervals, plain.fold.unitIntervals);
    EXPECT_NEAR(double(fold.samples), double(plain.fold.samples), 2); // those that lie on a boundary, by rounding
    EXPECT_LE(double(moved(fold.picture, plain.fold.picture)), 10e-6 * double(plain.fold.samples) + 2);
    for (std::size_t symbol = 0; symbol < 2; ++symbol) {
        const Moments &own = fold.sum.level(symbol), &its = plain.fold.sum.level(symbol);
        EXPECT_NEAR(own.count, its.count, 1e-5 * its.count + 2);
        EXPECT_NEAR(own.mean, its.mean, 1e-5);
        EXPECT_NEAR(own.std(), its.std(), 1e-5);
    }
    for (std::size_t from = 0; from < 2; ++from) {
        const EyeFold::Trace &own = fold.sum.from(from, 1 - from), &its = plain.fold.sum.from(from, 1 - from);
        double off = 0, value = 0, all = 0;
        for (std::size_t i = 0; i < own.bins.size(); ++i) {
            off += std::abs(own.bins[i].count - its.bins[i].count);
            value = std::max(value, std::abs(own.bins[i].value - its.bins[i].value));
            all += its.bins[i].count;
        }
        EXPECT_LE(off, 2e-5 * all + 4);
        EXPECT_LE(value, 4 * 0.6); // of a few samples
    }
}

} // namespace

TEST(LinkPipeline, GivesWhatThePlainOneGives)
{
    for (const Kind &kind : kinds()) {
        SCOPED_TRACE(kind.name);
        std::vector<double> volts = test::makeData(kind.data).volts;
        if (kind.spoil) kind.spoil(volts);
        // As codes of 16 bits; what is compared with is of the very same values.
        const double step = kind.slopeOfCodes * 1.5 / 65536;
        std::vector<std::int16_t> codes;
        for (const double v : volts) codes.push_back(v == v ? std::int16_t(std::lround(v / step)) : std::int16_t(0));
        const SourcePtr coded = test::codedChannel(codes, step, 0);
        if (kind.coded) coded->read(0, volts);

        PlainLinkRule rule;
        rule.mid = 0.003;
        rule.bottom = rule.mid - 0.04;
        rule.top = rule.mid + 0.04;
        rule.period = kind.data.samplesPerUi;
        rule.bandwidth = kind.bandwidth;
        rule.interval = 1e-9 / kind.data.samplesPerUi;
        rule.least = -0.5;
        rule.most = 0.5;
        const PlainLink plain(volts, rule);
        ASSERT_GT(plain.edges.size(), 1000u);
        expectAlike(makeMemorySource(volts, rule.interval), plain, rule);
        if (!kind.coded) continue;
        expectAlike(test::codedChannel(codes, step, 0, 1, rule.interval), plain, rule);
        expectAlike(test::fullRangeLegs(codes, step, rule.interval), plain, rule);
    }
}

namespace {

struct FoldedByLoop {
    EdgeList edges;
    EyeFold fold;
};

FoldedByLoop foldedByLoop(const SourcePtr &source, double period)
{
    Progress progress;
    const ReferenceLevels levels{{-0.4, 0.4}, -0.3, 0.003, 0.3, 0.08};
    const auto edges = std::make_shared<const EdgeList>(
        findEdges(*source, {0, source->axis().count}, levels, EdgeInterpolation::linear, progress));
    const auto timing = std::make_shared<const SymbolTiming>(findSymbolTiming(*edges, period, progress));
    const Clock clock = loopClock(edges, timing, source->axis(), {}, {2, 1.5e6, 0.7071, false}, progress);
    EyeRule rule{.least = -0.5, .most = 0.5, .first = clock.map.firstSettled(), .last = clock.map.unitIntervals()};
    return {copyOf(*edges), foldEye(source, clock.map, rule, progress)};
}

} // namespace

TEST(LinkPipeline, GivesTheSameBitsByEveryInstructionSetAndOnOneCore)
{
    for (const double samplesPerUi : {3.1, 4.003, 16.2}) {
        test::DataSpec spec;
        spec.samplesPerUi = samplesPerUi;
        spec.unitIntervals = 40000;
        spec.noise = 0.03;
        spec.randomJitter = 0.02;
        std::vector<std::int16_t> codes;
        for (const double v : test::makeData(spec).volts) codes.push_back(std::int16_t(std::lround(v * 40000)));
        const SourcePtr coded = test::codedChannel(codes, 1 / 40000.0, 0, 1, 1e-10);
        std::vector<double> values(codes.size());
        coded->read(0, values);
        for (const SourcePtr &source :
             {coded, test::fullRangeLegs(codes, 1 / 40000.0, 1e-10), makeMemorySource(values, 1e-10)}) {
            const FoldedByLoop usual = foldedByLoop(source, samplesPerUi);
            const auto expectTheSame = [&](const FoldedByLoop &other) {
                EXPECT_EQ(other.edges.positions, usual.edges.positions);
                EXPECT_EQ(other.fold.picture.counts, usual.fold.picture.counts);
                EXPECT_TRUE((other.fold.sum <=> usual.fold.sum) == 0);
                EXPECT_EQ(other.fold.stretches.size(), usual.fold.stretches.size());
            };
            test::byEachTarget([&] { expectTheSame(foldedByLoop(source, samplesPerUi)); });
            const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
            expectTheSame(foldedByLoop(source, samplesPerUi));
        }
    }
}

/// Of several levels, by the codes and by the values: the same counts, and sums but for their rounding.
TEST(EyeFold, OfCodesIsThatOfTheirValues)
{
    Progress progress;
    std::mt19937_64 random(5);
    std::normal_distribution<double> noise(0, 300);
    for (const double samplesPerUi : {1.3171, 2.7183, 4.1093, 9.3317, 70.1234}) {
        for (const int levels : {2, 3, 4, 7}) {
            SCOPED_TRACE(std::to_string(samplesPerUi) + " a unit interval, " + std::to_string(levels) + " levels");
            std::vector<std::int16_t> codes;
            const auto symbols = std::int64_t(60000 / samplesPerUi);
            double level = 0;
            std::int64_t last = -1;
            for (std::int64_t i = 0; i < std::int64_t(double(symbols) * samplesPerUi); ++i) {
                const auto n = std::int64_t(double(i) / samplesPerUi);
                if (n != last) level = double(random() % std::uint64_t(levels)), last = n;
                codes.push_back(std::int16_t(std::lround(-9000 + level * 18000 / (levels - 1) + noise(random))));
            }
            EyeRule rule{.least = -10001, .most = 10001, .first = 0, .last = symbols};
            rule.thresholds.clear();
            for (int t = 1; t < levels; ++t) rule.thresholds.push_back(-9000 + (t - 0.5) * 18000 / (levels - 1));
            const SourcePtr coded = test::codedChannel(codes, 1, 0.25);
            std::vector<double> values(codes.size());
            coded->read(0, values);
            const UnitIntervalMap map(coded->axis(), 0.1, samplesPerUi);
            const EyeFold one = foldEye(coded, map, rule, progress),
                          other = foldEye(makeMemorySource(values, 1e-9), map, rule, progress);
            EXPECT_EQ(one.picture.counts, other.picture.counts);
            EXPECT_EQ(one.samples, other.samples);
            double held = 0;
            for (std::size_t k = 0; k < std::size_t(levels); ++k) {
                const Moments &own = one.sum.level(k), &its = other.sum.level(k);
                EXPECT_EQ(own.count, its.count);
                EXPECT_NEAR(own.mean, its.mean, 1e-8);
                EXPECT_NEAR(own.std(), its.std(), 1e-7);
                if (samplesPerUi > 4) { // with fewer, lines between them decide wrongly now and then
                    EXPECT_NEAR(own.mean, -8999.75 + double(k) * 18000 / (levels - 1), 5 * 300 / std::sqrt(own.count));
                }
                held += own.count;
                for (std::size_t to = 0; to < std::size_t(levels); ++to) {
                    if (to == k) continue;
                    const auto &a = one.sum.from(k, to).bins, &b = other.sum.from(k, to).bins;
                    for (std::size_t i = 0; i < a.size(); ++i) {
                        EXPECT_EQ(a[i].count, b[i].count);
                        EXPECT_EQ(a[i].phase, b[i].phase);
                        EXPECT_NEAR(a[i].value, b[i].value, 1e-7 * (1 + std::abs(b[i].value)));
                    }
                }
            }
            EXPECT_NEAR(held, 0.2 * double(codes.size()), 6 * std::sqrt(double(codes.size())) + double(symbols) / 50);
        }
    }
}

/// A clock with unit intervals that no sample lies in, here and there or throughout, or that steps back, is folded
/// sample by sample: each sample counts once.
TEST(EyeFold, CountsEachSampleOnceWhateverTheClockDoes)
{
    Progress progress;
    std::mt19937_64 random(6);
    std::vector<std::int16_t> codes(50000);
    for (std::int16_t &code : codes) code = std::int16_t(random() % 2000) - 1000;
    const SourcePtr source = test::codedChannel(codes, 0.001, 0);
    const auto countsOnce = [&](const UnitIntervalMap &map) {
        EyeRule rule{.least = -1, .most = 1, .first = 10, .last = map.unitIntervals() - 10};
        const EyeFold fold = foldEye(source, map, rule, progress);
        std::uint64_t counted = 0;
        for (const std::uint64_t count : fold.picture.counts) counted += count;
        EXPECT_EQ(std::int64_t(counted), fold.samples);
        const double samples = map.positionOf(double(rule.last)) - map.positionOf(double(rule.first));
        EXPECT_NEAR(double(fold.samples), samples, 1.01);
    };
    countsOnce(UnitIntervalMap(source->axis(), 3.3, 0.8));
    countsOnce(UnitIntervalMap(source->axis(), 3.3, 1.0005));
    for (const double jump : {-3.4, 0.9, 3.4}) { // unit intervals, from one boundary to the next, and back
        BoundaryNumbers numbers;
        RawVector<double> late;
        for (std::int32_t n = 0; n < 12000; n += 3) {
            numbers.push_back(n);
            late.push_back(n % 1500 == 750 ? jump : 0);
        }
        countsOnce(UnitIntervalMap(source->axis(), 5, 4.1, std::make_shared<const BoundaryNumbers>(std::move(numbers)),
                                   std::move(late), 0));
    }
}
