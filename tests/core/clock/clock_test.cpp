#include "clock_recovery.h"
#include "signals.h"

#include <array>
#include <cmath>
#include <numbers>

using namespace fulvex;

namespace {

/// Edges as a perfect edge finder would give them.
std::shared_ptr<const EdgeList> trueEdges(const test::Data &data)
{
    auto edges = std::make_shared<EdgeList>();
    edges->positions.assign(data.edges.begin(), data.edges.end());
    for (const bool rising : data.rising) edges->flags.push_back(rising ? EdgeList::rising : 0);
    return edges;
}

test::Data instants(test::DataSpec spec)
{
    spec.edgeSigma = 0.001; // only the instants are used
    return test::makeData(spec);
}

std::shared_ptr<const SymbolTiming> timingOf(const EdgeList &edges, std::optional<double> expected = {})
{
    Progress progress;
    return std::make_shared<const SymbolTiming>(findSymbolTiming(edges, expected, progress));
}

void expectNumbers(const test::Data &data, const SymbolTiming &timing)
{
    ASSERT_EQ(timing.numbers.size(), data.numbers.size());
    const std::int64_t shift = data.numbers[0] - timing.numbers[0];
    for (std::size_t i = 0; i < data.numbers.size(); ++i) ASSERT_EQ(timing.numbers[i] + shift, data.numbers[i]) << i;
}

} // namespace

/// The slope of a line through N instants with independent jitter sigma has standard deviation sigma / sqrt(sum (n -
/// mean)^2).
TEST(SymbolTiming, RateIsAsGoodAsTheFitAllows)
{
    for (const double samplesPerUi : {2.2, 4.0, 12.5, 37.1}) {
        for (const double jitter : {0.0, 0.01, 0.05, 0.1}) {
            test::DataSpec spec;
            spec.samplesPerUi = samplesPerUi;
            spec.randomJitter = jitter;
            spec.unitIntervals = 20000;
            spec.seed = 3;
            const test::Data data = instants(spec);
            const auto timing = timingOf(*trueEdges(data));
            ASSERT_TRUE(timing->found()) << timing->reason;
            expectNumbers(data, *timing);
            double mean = 0, nn = 0;
            for (const auto n : data.numbers) mean += double(n);
            mean /= double(data.numbers.size());
            for (const auto n : data.numbers) nn += (double(n) - mean) * (double(n) - mean);
            const double sigma = jitter * samplesPerUi / std::sqrt(nn);
            EXPECT_NEAR(timing->period, samplesPerUi, 4 * sigma + 1e-11 * samplesPerUi)
                << samplesPerUi << " " << jitter;
            if (jitter > 0) {
                EXPECT_GT(timing->periodUncertainty, 0.8 * sigma);
                EXPECT_LT(timing->periodUncertainty, 2.2 * sigma); // the largest of several estimates
            }
        }
    }
}

TEST(SymbolTiming, LongRunsWithoutEdgesDoNotSlip)
{
    test::DataSpec spec;
    spec.unitIntervals = 30000;
    spec.randomJitter = 0.03;
    spec.bit = [](std::int64_t n) {
        return n / 500 % 2 ? (n * 2654435761u >> 7 & 1) != 0 : false;
    }; // bursts of 500, silence of 500
    const test::Data data = instants(spec);
    const auto timing = timingOf(*trueEdges(data));
    ASSERT_TRUE(timing->found());
    expectNumbers(data, *timing);
}

TEST(SymbolTiming, ARateOnePercentOffIsStillFound)
{
    test::DataSpec spec;
    spec.samplesPerUi = 12.5;
    spec.randomJitter = 0.04;
    const test::Data data = instants(spec);
    for (const double given : {12.5 * 0.99, 12.5 * 1.01, 12.5}) {
        const auto timing = timingOf(*trueEdges(data), given);
        expectNumbers(data, *timing);
        EXPECT_NEAR(timing->period, 12.5, 1e-4);
    }
}

TEST(SymbolTiming, WanderOfManyUnitIntervalsIsFollowed)
{
    test::DataSpec spec;
    spec.unitIntervals = 40000;
    spec.wander = [](double ui) { return 6 * std::sin(2 * std::numbers::pi * ui / 20000); };
    const test::Data data = instants(spec);
    expectNumbers(data, *timingOf(*trueEdges(data)));
}

TEST(SymbolTiming, OfAClockWaveformIsHalfItsPeriodWhateverTheDuty)
{
    for (const double duty : {0.5, 0.4, 0.3}) {
        auto edges = std::make_shared<EdgeList>();
        for (int i = 0; i < 3000; ++i) {
            edges->positions.push_back(7 + 20.0 * i);
            edges->flags.push_back(EdgeList::rising);
            edges->positions.push_back(7 + 20.0 * (i + duty));
            edges->flags.push_back(0);
        }
        EXPECT_NEAR(timingOf(*edges)->period, 10, 1e-3) << duty;
    }
}

TEST(SymbolTiming, TooFewEdgesSayWhy)
{
    EdgeList edges;
    edges.positions = {1, 2};
    edges.flags = {1, 0};
    Progress progress;
    EXPECT_THAT(findSymbolTiming(edges, {}, progress).reason, testing::HasSubstr("a clock needs at least 4"));
    edges.positions.assign(40, 7); // where a region of absurd numbers puts them
    for (std::size_t i = 2; i < 40; ++i) edges.flags.push_back(i % 2 ? 0 : 1);
    EXPECT_THAT(findSymbolTiming(edges, {}, progress).reason, testing::HasSubstr("lie on one another"));
}

TEST(LoopRule, TheBandwidthIsTheMinusThreeDecibelPoint)
{
    for (const int order : {1, 2}) {
        for (const double damping : {0.5, 0.7071, 1.0, 2.0}) {
            LoopRule rule{order, 5e6, damping, false};
            EXPECT_NEAR(rule.jitterTransfer(5e6), std::sqrt(0.5), 1e-9);
            rule.ofError = true;
            EXPECT_NEAR(rule.errorTransfer(5e6), std::sqrt(0.5), 1e-9);
        }
    }
}

/// Sinusoidal jitter at f comes out of the loop as |1 - H(f)|. Worked on instants without noise; the tolerance is what
/// interpolating the phase over symbols without a transition costs at up to a hundredth of the symbol rate.
TEST(LoopClock, LeavesSinusoidalJitterByItsErrorTransfer)
{
    Progress progress;
    constexpr double interval = 1e-10, samplesPerUi = 10, rate = 1 / (interval * samplesPerUi);
    for (const int order : {1, 2}) {
        for (const double bandwidth : {rate / 1667, rate / 300}) {
            for (const double ratio : {0.2, 0.5, 1.0, 2.0, 5.0}) {
                const double frequency = ratio * bandwidth;
                if (frequency > rate / 100) continue;
                test::DataSpec spec;
                spec.samplesPerUi = samplesPerUi;
                spec.unitIntervals = 60000;
                const double cycles = std::round(frequency / rate * 50000) / 50000; // whole cycles in what is looked at
                spec.wander = [=](double ui) { return 0.05 * std::sin(2 * std::numbers::pi * cycles * ui); };
                const test::Data data = instants(spec);
                const auto edges = trueEdges(data);
                const LoopRule rule{order, bandwidth, 0.7071, false};
                const Clock clock = loopClock(edges, timingOf(*edges), {0, interval, 600010}, {}, rule, progress);
                const auto late = clock.edges.lateness(clock.map);
                double sine = 0, cosine = 0;
                int used = 0;
                for (std::size_t i = 0; i < edges->size(); ++i) {
                    const double n = double(data.numbers[i]);
                    if (n < 9000 || n >= 59000) continue;
                    sine += late[i] * std::sin(2 * std::numbers::pi * cycles * n);
                    cosine += late[i] * std::cos(2 * std::numbers::pi * cycles * n);
                    ++used;
                }
                const double amplitude = 2 * std::hypot(sine, cosine) / used;
                EXPECT_NEAR(amplitude / 0.05, rule.errorTransfer(cycles * rate),
                            0.02 * std::max(0.3, rule.errorTransfer(cycles * rate)))
                    << order << " " << bandwidth << " " << ratio;
            }
        }
    }
}

TEST(LoopClock, OfOrderTwoEndsAtTheTrueRate)
{
    Progress progress;
    test::DataSpec spec;
    spec.unitIntervals = 20000;
    const test::Data data = instants(spec);
    const auto edges = trueEdges(data);
    const Clock clock = loopClock(edges, timingOf(*edges), {0, 1e-10, 250000}, spec.samplesPerUi * 1.0005,
                                  {2, 1e6, 0.7071, false}, progress);
    const auto late = clock.edges.lateness(clock.map);
    for (std::size_t i = 0; i < edges->size(); ++i) ASSERT_NEAR(late[i], 0, 1e-6);
}

TEST(FixedClock, WithARateKeepsItExactly)
{
    test::DataSpec spec;
    spec.unitIntervals = 10000;
    spec.samplesPerUi = 10;
    const test::Data data = instants(spec);
    const auto edges = trueEdges(data);
    const double given = 10 * (1 + 20e-6);
    const Clock clock = fixedClock(edges, timingOf(*edges, given), {0, 1e-10, 100010}, given);
    const auto late = clock.edges.lateness(clock.map);
    EXPECT_DOUBLE_EQ(clock.map.rate(), 1 / (given * 1e-10));
    // 20 ppm over 10 000 unit intervals is 0.2 UI, and the best offset shares it out.
    EXPECT_NEAR(late.front(), 0.1, 0.003);
    EXPECT_NEAR(late.back(), -0.1, 0.003);
}

TEST(Clock, MapsBothWaysAndCountsWholeUnitIntervals)
{
    Progress progress;
    test::DataSpec spec;
    spec.unitIntervals = 3000;
    spec.randomJitter = 0.05;
    const test::Data data = instants(spec);
    const auto edges = trueEdges(data);
    const TimeAxis axis{0, 1e-10, std::int64_t(data.volts.size())};
    for (const Clock &clock : {fixedClock(edges, timingOf(*edges), axis, {}),
                               loopClock(edges, timingOf(*edges), axis, {}, {2, 5e6, 0.7071, false}, progress)}) {
        for (double ui = -2; ui < 3002; ui += 0.37)
            ASSERT_NEAR(clock.map.unitIntervalAt(clock.map.positionOf(ui)), ui, 1e-9);
        std::size_t hint = 0;
        for (double position = 0; position < double(axis.count); position += 0.9) {
            const UnitIntervalMap::Piece piece = clock.map.pieceAt(position, hint);
            ASSERT_NEAR(piece.number + (position - piece.from) * piece.slope, clock.map.unitIntervalAt(position), 1e-9);
        }
        // From anywhere, whatever was looked at before: forwards by all steps, and back.
        hint = 0;
        std::array<double, 5> from, afresh;
        for (const std::int64_t step : {1, 7, 150, 4000, -9000, 20000, -1, -300}) {
            for (std::int64_t first = step > 0 ? 0 : axis.count - 5; first >= 0 && first + 5 <= axis.count;
                 first += step) {
                clock.map.unitIntervalsAt(first, 1, from, hint);
                clock.map.unitIntervalsAt(first, 1, afresh);
                ASSERT_EQ(from, afresh) << first << " by " << step;
            }
        }
        EXPECT_GE(clock.map.positionOf(0), -1e-6);
        EXPECT_LT(clock.map.positionOf(-1), 0);
        EXPECT_EQ(clock.map.unitIntervals(), 3000); // the record ends half a unit interval after boundary 3000
    }
}

TEST(NumberedEdges, OnItsOwnMapAreWhatTimingFoundAndOfAnotherChannelAsLateAsItsDelay)
{
    Progress progress;
    for (const double samplesPerUi : {3.1, 12.5}) {
        for (const double delay : {-0.31, 0.0, 0.22}) { // unit intervals
            test::DataSpec spec;
            spec.samplesPerUi = samplesPerUi;
            spec.unitIntervals = 5000;
            spec.randomJitter = 0.02;
            spec.seed = 9;
            const test::Data data = instants(spec);
            const auto edges = trueEdges(data);
            const TimeAxis axis{0, 1e-10, std::int64_t(data.volts.size())};
            auto other = std::make_shared<EdgeList>(*edges);
            for (double &position : other->positions) position += delay * samplesPerUi;
            for (const Clock &clock :
                 {fixedClock(edges, timingOf(*edges), axis, {}),
                  loopClock(edges, timingOf(*edges), axis, {}, {2, 5e6, 0.7071, false}, progress)}) {
                const NumberedEdges again(edges, clock.map), delayed(other, clock.map);
                const auto own = clock.edges.lateness(clock.map), same = again.lateness(clock.map),
                           late = delayed.lateness(clock.map);
                for (std::size_t i = 0; i < edges->size(); ++i) {
                    ASSERT_EQ(again.numberOf(i), clock.edges.numberOf(i));
                    ASSERT_EQ(same[i], own[i]);
                    ASSERT_EQ(delayed.numberOf(i), clock.edges.numberOf(i));
                    ASSERT_NEAR(late[i], own[i] + delay, 1e-4); // the measured rate is that far from 1 in the ratio
                }
            }
        }
    }
}

/// However narrow, the loop settles after the record at the latest: then nothing is left, and no number is absurd.
TEST(LoopClock, OneThatNeverSettlesLeavesNothing)
{
    Progress progress;
    test::DataSpec spec;
    spec.unitIntervals = 3000;
    const test::Data data = instants(spec);
    const auto edges = trueEdges(data);
    const TimeAxis axis{0, 1e-10, std::int64_t(data.volts.size())};
    for (const double bandwidth : {1.0, 1e-12, 1e-300}) {
        const Clock clock = loopClock(edges, timingOf(*edges), axis, {}, {2, bandwidth, 0.7071, false}, progress);
        EXPECT_GT(clock.map.firstSettled(), 3000) << bandwidth;
        EXPECT_LT(clock.map.firstSettled(), 10000) << bandwidth;
        EXPECT_EQ(clock.map.unitIntervals(), 3000);
    }
}

/// A thousand signals: 2 to 100 samples a unit interval, runs of up to 31, jitter of 20 % of a unit interval from peak
/// to peak, the rate unknown or given up to 1 % off. Every edge has its number.
TEST(SymbolTiming, SlipsNoUnitIntervalInAThousandSignals)
{
    int slipped = 0;
    double worst = 0; // of the rates, in standard uncertainties of white jitter
    for (std::uint64_t seed = 1; seed <= 1000; ++seed) {
        test::Gaussian random(seed);
        const double samplesPerUi = 2 * std::pow(50.0, random.uniform()), offset = 5 + 10 * random.uniform();
        const auto count = std::size_t(60 * std::pow(20.0, random.uniform())); // edges
        const double longest = 1 + 30 * random.uniform(), steepness = 1 + 4 * random.uniform();
        EdgeList edges;
        std::vector<std::int64_t> truth;
        std::int64_t n = 0;
        double numbers = 0, squares = 0;
        for (std::size_t i = 0; i < count; ++i) {
            n += 1 + std::int64_t((longest - 1) * std::pow(random.uniform(), steepness));
            truth.push_back(n);
            numbers += double(n);
            squares += double(n) * double(n);
            edges.positions.push_back(offset + (double(n) + 0.2 * (random.uniform() - 0.5)) * samplesPerUi);
            edges.flags.push_back(i % 2 ? EdgeList::rising : 0);
        }
        const bool given = seed % 2;
        const double off = 1 + 0.02 * (random.uniform() - 0.5);
        Progress progress;
        const SymbolTiming timing =
            findSymbolTiming(edges, given ? std::optional(samplesPerUi * off) : std::nullopt, progress);
        ASSERT_TRUE(timing.found()) << seed;
        const std::int64_t shift = timing.numbers[0] - truth[0];
        bool right = true;
        for (std::size_t i = 0; i < count; ++i) right &= timing.numbers[i] - truth[i] == shift;
        if (!right)
            std::printf("seed %d: %g samples a UI, %zu edges, runs to %g, %s\n", int(seed), samplesPerUi, count,
                        longest, given ? "given" : "unknown");
        slipped += !right;
        const double spread = squares - numbers * numbers / double(count);
        const double sigma = 0.2 / std::sqrt(12.0) * samplesPerUi / std::sqrt(spread);
        if (right) worst = std::max(worst, std::abs(timing.period - samplesPerUi) / sigma);
    }
    EXPECT_EQ(slipped, 0);
    EXPECT_LT(worst, 4.5); // of a thousand
}

/// The same over three decades, within 0.1 dB, by the transfer and by the error's corner, whatever the damping.
TEST(LoopClock, ResidualIsTheoryWithinATenthOfADecibel)
{
    Progress progress;
    constexpr double interval = 1e-10, samplesPerUi = 10, rate = 1 / (interval * samplesPerUi);
    constexpr double bandwidth = rate / 3000;
    for (const auto &[order, damping, ofError] : std::vector<std::tuple<int, double, bool>>{
             {1, 0.7071, false}, {2, 0.7071, false}, {2, 2.0, false}, {2, 1.0, true}}) {
        for (const double ratio : {1 / 30.0, 0.1, 0.3, 1.0, 3.0, 10.0, 30.0}) {
            constexpr double looked = 450000; // unit intervals, in which whole cycles lie
            const double cycles = std::round(ratio * bandwidth / rate * looked) / looked;
            test::DataSpec spec;
            spec.samplesPerUi = samplesPerUi;
            spec.unitIntervals = std::int64_t(looked) + 60000;
            spec.wander = [=](double ui) { return 0.2 * std::sin(2 * std::numbers::pi * cycles * ui); };
            const test::Data data = instants(spec);
            const auto edges = trueEdges(data);
            const LoopRule rule{order, bandwidth, damping, ofError};
            const Clock clock =
                loopClock(edges, timingOf(*edges), {0, interval, spec.unitIntervals * 10 + 10}, {}, rule, progress);
            const auto late = clock.edges.lateness(clock.map);
            // Least squares for a sine and a cosine, since edges do not lie evenly.
            double ss = 0, cc = 0, sc = 0, ys = 0, yc = 0;
            for (std::size_t i = 0; i < edges->size(); ++i) {
                const double n = double(data.numbers[i]);
                if (n < 50000 || n >= 50000 + looked) continue;
                const double s = std::sin(2 * std::numbers::pi * cycles * n),
                             c = std::cos(2 * std::numbers::pi * cycles * n);
                ss += s * s, cc += c * c, sc += s * c, ys += late[i] * s, yc += late[i] * c;
            }
            const double det = ss * cc - sc * sc;
            const double amplitude = std::hypot(ys * cc - yc * sc, yc * ss - ys * sc) / det;
            EXPECT_NEAR(20 * std::log10(amplitude / 0.2 / rule.errorTransfer(cycles * rate)), 0, 0.1)
                << order << " " << damping << " " << ratio;
        }
    }
}
