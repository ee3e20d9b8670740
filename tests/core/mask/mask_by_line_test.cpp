// A mask's hits, many lines at a time, against each line of the record by itself.

#include "by_target.h"
#include "coded_channels.h"
#include "mask_test_run.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>
#include <set>

using namespace fulvex;

namespace {

struct Plain {
    std::int64_t hits = 0;
    std::vector<std::int64_t> areaHits;
    std::set<std::int64_t> failed; ///< unit intervals
};

/// By the definition (methods.md): a sample within an area is a hit where the one before it is not, and so is a line
/// that only passes through.
Plain byEachLine(const SampleSource &source, const UnitIntervalMap &map, const MaskDefinition &mask,
                 const MaskRule &rule)
{
    const auto count = std::size_t(source.axis().count);
    std::vector<double> values(count), ui(count);
    source.read(0, values);
    map.unitIntervalsAt(0, 1, ui);
    Plain plain;
    plain.areaHits.resize(mask.areas.size());
    std::vector<MaskShape> shapes;
    for (const MaskArea &area : mask.areas)
        shapes.push_back(MovableArea(area, mask, rule.zero, rule.one).at(rule.margin));
    for (std::size_t i = 0; i < count; ++i) {
        if (!(values[i] == values[i])) continue;
        const bool lone = i == 0 || !(values[i - 1] == values[i - 1]);
        const double from = lone ? ui[i] : ui[i - 1];
        for (auto n = std::int64_t(std::floor(from)) - 2; n <= std::int64_t(std::floor(ui[i])) + 2; ++n) {
            if (n < rule.first || n >= rule.last) continue;
            const MaskPoint b{ui[i] - double(n), values[i]}, a = lone ? b : MaskPoint{from - double(n), values[i - 1]};
            for (std::size_t area = 0; area < shapes.size(); ++area) {
                if (!(lone ? shapes[area].contains(b) : shapes[area].touches(a, b))) continue;
                if (!lone && shapes[area].contains(a) && !shapes[area].contains(b)) continue;
                ++plain.hits;
                ++plain.areaHits[area];
                plain.failed.insert(n);
            }
        }
    }
    return plain;
}

/// Straight pieces of some unit intervals, which wander.
UnitIntervalMap wanderingMap(std::int64_t samples, double period, std::mt19937_64 &random)
{
    auto numbers = std::make_shared<BoundaryNumbers>();
    RawVector<double> late;
    std::normal_distribution<double> gauss;
    double at = 0;
    for (std::int32_t n = 0; n < std::int32_t(double(samples) / period); n += 1 + std::int32_t(random() % 5)) {
        numbers->push_back(n);
        late.push_back(at = 0.99 * at + 0.01 * gauss(random));
    }
    return UnitIntervalMap({0, 1e-10, samples}, 3.7, period, numbers, std::move(late), 0);
}

MaskDefinition someMask()
{
    MaskDefinition mask;
    mask.areas = {{MaskArea::Kind::closed, "eye", {{0.3, 0.5}, {0.45, 0.2}, {0.6, 0.25}, {0.72, 0.5}, {0.5, 0.83}}},
                  {MaskArea::Kind::closed, "crossing", {{0.93, 0.65}, {1.1, 0.65}, {1.04, 0.9}}},
                  {MaskArea::Kind::above, "top", {{0, 1.12}, {0.4, 1.2}, {1, 1.12}}},
                  {MaskArea::Kind::below, "bottom", {{0, -0.15}, {1, -0.2}}}};
    return mask;
}

std::vector<double> someVolts(std::size_t count, double period, double noise, std::mt19937_64 &random)
{
    std::normal_distribution<double> gauss;
    std::vector<double> volts;
    double level = 0, slow = 0;
    for (std::size_t i = 0; i < count; ++i) {
        if (std::floor((double(i) - 3.7) / period) != std::floor((double(i) - 4.7) / period))
            level = double(random() % 2);
        slow += (level - slow) * std::min(1.0, 2.2 / period);
        volts.push_back(slow + noise * gauss(random));
    }
    return volts;
}

void expectSame(const SourcePtr &source, const UnitIntervalMap &map, MaskRule rule)
{
    const MaskDefinition mask = someMask();
    Progress progress;
    const MaskResult found = runMask(source, map, mask, rule, progress);
    const Plain plain = byEachLine(*source, map, mask, rule);
    EXPECT_EQ(found.hits, plain.hits);
    EXPECT_EQ(found.areaHits, plain.areaHits);
    EXPECT_EQ(found.failedUnitIntervals, std::int64_t(plain.failed.size()));
    for (const MaskFailure &failure : found.failures) EXPECT_TRUE(plain.failed.contains(failure.unitInterval));
    EXPECT_GT(plain.hits, 0);
}

TEST(MaskByLine, IsWhatEachLineByItselfGives)
{
    std::mt19937_64 random(21);
    constexpr std::size_t count = 60'000;
    for (const double period : {1.3, 2.5, 4.0, 10.3, 61.7, 900.0}) {
        for (const double noise : {0.02, 0.08, 0.4}) { // from a few hits to one in most unit intervals
            SCOPED_TRACE(std::to_string(period) + " " + std::to_string(noise));
            const UnitIntervalMap map = wanderingMap(count, period, random);
            const MaskRule rule{0, 1, 0, 0, map.unitIntervals(), 1};
            const std::vector<double> volts = someVolts(count, period, noise, random);
            expectSame(makeMemorySource(volts, 1e-10), map, rule);
            std::vector<std::int16_t> codes;
            for (const double v : volts) codes.push_back(std::int16_t(std::lround(v * 3000)));
            const SourcePtr coded = test::codedChannel(codes, 1.0 / 3000, 0, 1, 1e-10);
            ASSERT_TRUE(coded->codeScale().has_value());
            expectSame(coded, map, rule);
            expectSame(test::fullRangeLegs(codes, 1.0 / 3000, 1e-10), map, rule);
            std::vector<double> gaps = volts;
            for (std::size_t i = 0; i < gaps.size(); ++i)
                if (random() % 50 == 0) gaps[i] = NAN;
            expectSame(makeMemorySource(gaps, 1e-10), map, {0, 1, 0.1, 3, map.unitIntervals() - 2, 1});
        }
    }
}

TEST(MaskByLine, IsTheSameByEachInstructionSet)
{
    std::mt19937_64 random(22);
    const UnitIntervalMap map = wanderingMap(30'000, 4.1, random);
    const SourcePtr source = makeMemorySource(someVolts(30'000, 4.1, 0.1, random), 1e-10);
    test::byEachTarget([&] { expectSame(source, map, {0, 1, 0, 0, map.unitIntervals(), 1}); });
}

TEST(MaskByLine, AClockWithoutASampleAUnitIntervalIsTestedAsWell)
{
    std::mt19937_64 random(23);
    const UnitIntervalMap map({0, 1e-10, 20'000}, 0.3, 0.7);
    expectSame(makeMemorySource(someVolts(20'000, 3, 0.1, random), 1e-10), map, {0, 1, 0, 0, map.unitIntervals(), 1});
}

} // namespace
