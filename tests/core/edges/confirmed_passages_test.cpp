// Crossings of a part of a record as bits, against the scanner over all of it.

#include "by_target.h"
#include "confirmed_passages.h"
#include "difficult_signal.h"
#include "edge_scanner.h"

#include <cmath>
#include <gtest/gtest.h>
#include <set>
#include <utility>

using namespace fulvex;

namespace {

/// Samples that crossings lie before or at, and directions.
using Places = std::set<std::pair<std::int64_t, bool>>;

Places scanned(const std::vector<double> &volts, CrossingLevel level)
{
    EdgeScanner scanner(level, 0);
    EdgeList edges;
    scanner.feedPlainly(volts, edges);
    Places places;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double at = edges.positions[i];
        places.insert({std::int64_t(edges.isRising(i) ? std::ceil(at) : std::floor(at) + 1), edges.isRising(i)});
    }
    return places;
}

/// Of the samples first <= i < last, that stand `before` places behind the words' begin.
void expectPlaces(const std::vector<double> &volts, CrossingLevel level, SampleRange part, std::int64_t before)
{
    const Places all = scanned(volts, level);
    const SourcePtr source = makeMemorySource(volts, 1);
    const SampleRange there{before, before + part.size()};
    const auto words = std::size_t(there.last / 64 + 1);
    std::vector<double> samples(words * 64, 0.0); // what is not there is no gap
    std::copy(volts.begin() + part.first, volts.begin() + part.last, samples.begin() + before);
    std::vector<CrossingMasks> masks(words);
    crossingMasks(samples.data(), words, level, masks.data());
    Places expected;
    for (const auto &[place, rising] : all)
        if (place > part.first && place < part.last) expected.insert({place, rising});
    const bool hasGaps = std::any_of(volts.begin(), volts.end(), [](double v) { return v != v; });
    for (const bool plainly : {true, false}) {
        if (hasGaps && !plainly) continue;
        ConfirmedPassages passages;
        if (plainly)
            passages.findPlainly([&](std::size_t i) { return samples[i]; }, level, words, there);
        else
            passages.find(masks, there);
        passages.settle(*source, part.first - before, level, {0, std::int64_t(words * 64)});
        Places found;
        for (const bool rising : {false, true})
            for (std::size_t i = 0; i < words * 64; ++i)
                if (passages.of(rising)[i / 64] >> (i % 64) & 1)
                    found.insert({std::int64_t(i) - before + part.first, rising});
        ASSERT_EQ(found, expected) << (plainly ? "plainly, " : "by words, ") << part.first << " to " << part.last
                                   << " behind " << before;
    }
}

const CrossingLevel levels[] = {{0, 0, 0}, {0.1, -0.3, 0.5}, {0, -2, 2}, {0.4, 0.4, 1.2}, {-9, -9, -9}};

} // namespace

TEST(ConfirmedPassages, AreThoseOfTheRecordWhereverThePartLies)
{
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
        const std::vector<double> volts = test::difficult(700, seed, seed % 3 == 0);
        for (const CrossingLevel level : levels) {
            for (const SampleRange part :
                 {SampleRange{0, 700}, SampleRange{0, 64}, SampleRange{3, 640}, SampleRange{300, 301},
                  SampleRange{191, 320}, SampleRange{448, 700}, SampleRange{500, 502}}) {
                for (const std::int64_t before : {0, 1, 63, 64, 130}) {
                    expectPlaces(volts, level, part, before);
                    if (testing::Test::HasFatalFailure()) return;
                }
            }
        }
    }
}

/// A passage that is confirmed long before or behind the part, or never.
TEST(ConfirmedPassages, HangOnWhatLiesFarBeyondThePart)
{
    for (const double begin : {-1.0, 1.0, 0.1}) {
        for (const double end : {-1.0, 1.0, 0.1}) {
            for (const bool gap : {false, true}) {
                std::vector<double> volts(20'000, 0.1); // within the band
                volts.front() = begin;
                volts.back() = end;
                volts[9990] = -0.1;  // passes the level twice
                volts[10010] = -0.1; // and again
                if (gap) volts[4000] = volts[15000] = NAN;
                expectPlaces(volts, {0, -0.5, 0.5}, {9980, 10100}, 7);
                expectPlaces(volts, {0, -0.5, 0.5}, {9995, 10011}, 7);
                expectPlaces(volts, {0, -0.5, 0.5}, {10000, 20'000}, 7);
            }
        }
    }
}

TEST(ConfirmedPassages, AreTheSameByEveryInstructionSet)
{
    test::byEachTarget([] {
        for (std::uint64_t seed = 21; seed <= 24; ++seed)
            expectPlaces(test::difficult(3000, seed, false), levels[seed % 3], {100, 2900}, std::int64_t(seed));
    });
}
