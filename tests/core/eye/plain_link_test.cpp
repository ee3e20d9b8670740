// The link pipeline, whatever it is made quick by, against the plain version: edges, clock, errors and the eye.

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
#include <hwy/highway.h>
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
    const ReferenceLevels levels{{-0.4, 0.4, 0, 0}, -0.3, rule.mid, 0.3, rule.top - rule.bottom};
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
        if (kind.coded) expectAlike(test::codedChannel(codes, step, 0, 1, rule.interval), plain, rule);
    }
}

namespace {

/// Kernels run by one instruction set alone.
struct ByTarget {
    explicit ByTarget(std::int64_t target)
    {
        hwy::SetSupportedTargetsForTest(target);
        hwy::GetChosenTarget().Update(hwy::SupportedTargets());
    }
    ~ByTarget()
    {
        hwy::SetSupportedTargetsForTest(0);
        hwy::GetChosenTarget().Update(hwy::SupportedTargets());
    }
    ByTarget(const ByTarget &) = delete;
    ByTarget &operator=(const ByTarget &) = delete;
};

struct Folded {
    EdgeList edges;
    EyeFold fold;
};

Folded folded(const SourcePtr &source, double period)
{
    Progress progress;
    const ReferenceLevels levels{{-0.4, 0.4, 0, 0}, -0.3, 0.003, 0.3, 0.08};
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
        const SourcePtr source = test::codedChannel(codes, 1 / 40000.0, 0, 1, 1e-10);
        const Folded usual = folded(source, samplesPerUi);
        const auto expectTheSame = [&](const Folded &other) {
            EXPECT_EQ(other.edges.positions, usual.edges.positions);
            EXPECT_EQ(other.fold.picture.counts, usual.fold.picture.counts);
            EXPECT_TRUE((other.fold.sum <=> usual.fold.sum) == 0);
            EXPECT_EQ(other.fold.stretches.size(), usual.fold.stretches.size());
        };
        int targets = 0;
        for (const std::int64_t target : {HWY_AVX3, HWY_AVX2, HWY_SSE4, HWY_SSSE3}) {
            if (!(hwy::SupportedTargets() & target)) continue;
            SCOPED_TRACE(hwy::TargetName(target));
            const ByTarget only(target);
            ASSERT_STREQ(crossingMasksTarget(), hwy::TargetName(target));
            expectTheSame(folded(source, samplesPerUi));
            ++targets;
        }
        EXPECT_GT(targets, 1);
        const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
        expectTheSame(folded(source, samplesPerUi));
    }
}
