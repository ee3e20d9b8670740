// Records of several chunks: what runs side by side must be what one pass would give.

#include "clock_recovery.h"

#include <bit>
#include <cmath>
#include <functional>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

using namespace fulvex;

namespace {

constexpr double samplesPerUi = 4;
constexpr std::size_t seam = 1 << 17;

/// Instants of transitions in random data, late by wander(n) unit intervals, with jitter, and their numbers.
struct Record {
    std::shared_ptr<EdgeList> edges = std::make_shared<EdgeList>();
    std::vector<std::int64_t> numbers;

    Record(std::size_t count, double jitter, const std::function<double(double)> &wander)
    {
        std::mt19937_64 random(7);
        std::normal_distribution<double> gauss(0, jitter);
        for (std::int64_t n = 5; numbers.size() < count; n += 1 + std::countr_zero(random() | 1 << 10))
            add(n, wander(double(n)) + gauss(random));
    }
    void add(std::int64_t number, double late)
    {
        numbers.push_back(number);
        edges->positions.push_back((double(number) + late) * samplesPerUi);
        edges->flags.push_back(numbers.size() % 2 ? EdgeList::rising : 0);
    }
    TimeAxis axis() const { return {0, 1e-10, std::int64_t(edges->positions.back()) + 100}; }
};

std::shared_ptr<const SymbolTiming> timingNearTruth(const EdgeList &edges)
{
    Progress progress;
    return std::make_shared<const SymbolTiming>(findSymbolTiming(edges, samplesPerUi, progress));
}

void expectNumbers(const Record &record, const SymbolTiming &timing)
{
    ASSERT_TRUE(timing.found()) << timing.reason;
    const std::int64_t shift = record.numbers[0] - timing.numbers[0];
    for (std::size_t i = 0; i < record.numbers.size(); ++i)
        ASSERT_EQ(timing.numbers[i] + shift, record.numbers[i]) << i;
}

} // namespace

TEST(SymbolTimingOfALongRecord, NumbersGoOnAcrossSeams)
{
    for (const double jitter : {0.0, 0.05, 0.08}) {
        const Record record(3 * seam + 1000, jitter,
                            [](double n) { return 40 * std::sin(2 * std::numbers::pi * n / 150000); });
        expectNumbers(record, *timingNearTruth(*record.edges));
    }
}

/// Chunks are followed eight at a time: more than eight, with some left over.
TEST(SymbolTimingOfALongRecord, NumbersGoOnWhereManyChunksAreFollowedTogether)
{
    const Record record(8 * seam + 77, 0.06, [](double n) { return 3 * std::sin(n / 40000) + 2e-4 * n; });
    expectNumbers(record, *timingNearTruth(*record.edges));
}

/// Thousands of crossings within one unit interval tell the tracker nothing, so a chunk that warms up on them starts
/// from a wrong state: it has to be followed again.
TEST(SymbolTimingOfALongRecord, ASeamThatDoesNotMeetIsFollowedAgain)
{
    const Record plain(2 * seam, 0.02, [](double) { return 0; });
    Record record(0, 0, [](double) { return 0; });
    constexpr std::size_t ringing = 6000;
    for (std::size_t i = 0; i < seam - ringing; ++i)
        record.add(plain.numbers[i], plain.edges->positions[i] / samplesPerUi - double(plain.numbers[i]));
    const std::int64_t last = record.numbers.back();
    for (std::size_t i = 0; i < ringing; ++i) record.add(last + 2, 0.45 + 1e-7 * double(i));
    for (std::size_t i = seam - ringing; i < 2 * seam; ++i) {
        const std::int64_t number = plain.numbers[i] + 3;
        record.add(number, plain.edges->positions[i] / samplesPerUi - double(plain.numbers[i]) - 0.1);
    }
    expectNumbers(record, *timingNearTruth(*record.edges));
}

/// A loop forgets where it began: 60000 edges later its errors are those of a loop that ran from the start. The two
/// differ by their base lines alone, which a loop of order 2 takes out; what is left is the rounding of positions. Of
/// two chunks, and of so many that some are followed together and some are left over: seams of the two lie elsewhere.
TEST(LoopOfALongRecord, SeamsDoNotShow)
{
    Progress progress;
    const auto wander = [](double n) { return 0.3 * std::sin(2 * std::numbers::pi * n / 7000); };
    for (const std::size_t chunks : {1, 8}) {
        const Record whole(chunks * seam + 20000, 0.03, wander);
        constexpr std::size_t left = seam - 60000;
        Record late(0, 0, wander);
        for (std::size_t i = left; i < whole.numbers.size(); ++i)
            late.add(whole.numbers[i], whole.edges->positions[i] / samplesPerUi - double(whole.numbers[i]));
        const double rate = 1 / (samplesPerUi * 1e-10);
        const LoopRule rule{2, rate / 1667, 0.7071, false};
        const Clock one = loopClock(whole.edges, timingNearTruth(*whole.edges), whole.axis(), {}, rule, progress);
        const Clock two = loopClock(late.edges, timingNearTruth(*late.edges), whole.axis(), {}, rule, progress);
        const auto lateOfOne = one.edges.lateness(one.map), lateOfTwo = two.edges.lateness(two.map);
        for (std::size_t i = seam - 5000; i < whole.numbers.size(); ++i)
            ASSERT_NEAR(lateOfOne[i], lateOfTwo[i - left], 1e-7) << i;
    }
}

/// A loop too slow for chunks runs in one go: sinusoidal jitter at its bandwidth is left by |1 - H|, to what the steps
/// between edges cost (one part in the unit intervals per radian) and the whole number of cycles looked at.
TEST(LoopOfALongRecord, ASlowLoopLeavesItsErrorTransfer)
{
    Progress progress;
    constexpr double period = 40000; // unit intervals
    const auto wander = [](double n) { return 0.2 * std::sin(2 * std::numbers::pi * n / period); };
    const Record record(2 * seam, 0, wander);
    const double rate = 1 / (samplesPerUi * 1e-10);
    const LoopRule rule{2, rate / period, 0.7071, false};
    const Clock clock = loopClock(record.edges, timingNearTruth(*record.edges), record.axis(), {}, rule, progress);
    const auto late = clock.edges.lateness(clock.map);
    double sine = 0, cosine = 0;
    std::size_t used = 0;
    for (std::size_t i = 0; i < record.numbers.size(); ++i) {
        const double n = double(record.numbers[i]);
        if (n < 5 * period || n >= 11 * period) continue;
        sine += late[i] * std::sin(2 * std::numbers::pi * n / period);
        cosine += late[i] * std::cos(2 * std::numbers::pi * n / period);
        ++used;
    }
    ASSERT_GT(used, 100000u);
    // Random data samples the six cycles unevenly: 1 / sqrt(used) of the amplitude.
    const double amplitude = 2 * std::hypot(sine, cosine) / double(used) / 0.2;
    EXPECT_NEAR(amplitude, rule.errorTransfer(rate / period), 4 / std::sqrt(double(used)) + 1e-3);
}
