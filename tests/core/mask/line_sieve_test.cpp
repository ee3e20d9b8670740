// What is said to be clear of areas is clear in every unit interval; and most lines that are clear are said to be.

#include "any_area.h"
#include "by_target.h"
#include "line_sieve.h"

#include <cmath>
#include <gtest/gtest.h>

namespace fulvex {
namespace {

bool touchesAny(const std::vector<MaskShape> &shapes, MaskPoint a, MaskPoint b)
{
    for (const MaskShape &shape : shapes) {
        for (double n = std::floor(a.x - shape.right()) - 1; n <= b.x - shape.left() + 1; ++n)
            if (shape.touches({a.x - n, a.y}, {b.x - n, b.y})) return true;
    }
    return false;
}

/// With something before the record's begin, which is none of it.
PhasedSamples phased(const std::vector<double> &ui, const std::vector<double> &values)
{
    constexpr std::size_t before = 5;
    PhasedSamples at;
    at.thereFirst = before;
    at.there = ui.size();
    at.samples = before + ui.size();
    at.words = at.samples / 64 + 1;
    at.phases.assign(at.words * 64 + lanePadding, 12345);
    at.values.assign(at.phases.size(), NAN);
    for (std::size_t i = 0; i < ui.size(); ++i) {
        at.phases[before + i] = std::uint32_t(std::int64_t(std::llround(ui[i] * ClockPhase::unitInterval)));
        at.values[before + i] = values[i];
    }
    return at;
}

/// As codes of a step, which the values are multiples of.
PhasedSamples asCodes(PhasedSamples at, double step)
{
    at.scale = CodeScale{step, 0};
    at.codes.resize(at.values.size());
    for (std::size_t i = 0; i < at.values.size(); ++i)
        at.codes[i] = std::isnan(at.values[i]) ? std::int16_t(0) : std::int16_t(std::lround(at.values[i] / step));
    at.values.clear();
    return at;
}

/// Whether the line to each sample is said to be clear.
std::vector<bool> clearOf(const LineSieve &sieve, const PhasedSamples &at)
{
    LineSieve::Found found;
    const auto suspects = sieve.suspects(at, found);
    std::vector<bool> clear{false};
    for (std::size_t i = 0; i + 1 < at.there; ++i) clear.push_back((suspects[i / 64] >> i % 64 & 1) == 0);
    for (std::size_t i = at.there - 1; i < 64 * suspects.size(); ++i) // of no lines
        EXPECT_EQ(suspects[i / 64] >> i % 64 & 1, 0u);
    return clear;
}

TEST(LineSieve, SaysOfNoLineThatTouchesAnAreaThatItIsClear)
{
    test::AnyArea random(7);
    std::int64_t clear = 0, toldClear = 0, toldClosely = 0;
    for (int trial = 0; trial < 200; ++trial) {
        std::vector<MaskShape> shapes;
        for (int i = 0; i <= random.below(4); ++i) shapes.push_back(random.shape());
        const double step = random.between(0.01, 0.4);
        const LineSieve sieve(step, shapes);
        std::vector<double> ui{random.between(-3, 1e6)}, values{random.between(-1, 1)};
        for (int i = 1; i < 1000; ++i) {
            ui.push_back(ui.back() + step * random.between(i % 50 == 0 ? -2 : 0.98, i % 70 == 0 ? 9 : 1.02));
            values.push_back(i % 90 == 0                      ? NAN
                             : values.back() == values.back() ? values.back() * 0.9 + random.between(-0.2, 0.2)
                                                              : 0);
        }
        const std::vector<bool> clears = clearOf(sieve, phased(ui, values));
        for (std::size_t i = 1; i < ui.size(); ++i) {
            const MaskPoint a{ui[i - 1], values[i - 1]}, b{ui[i], values[i]};
            const bool told = clears[i], closely = sieve.isClear(a, b), isNumber = a.y == a.y && b.y == b.y;
            ASSERT_FALSE(told && !isNumber);
            if (!isNumber || b.x < a.x) continue;
            const bool touches = touchesAny(shapes, a, b);
            ASSERT_FALSE((told || closely) && touches) << trial << " " << i;
            if (touches || b.x - a.x > step * 1.02) continue;
            ++clear;
            toldClear += told;
            toldClosely += closely;
        }
    }
    EXPECT_GT(double(toldClear), 0.5 * double(clear));
    EXPECT_GT(double(toldClosely), 0.8 * double(clear));
}

TEST(LineSieve, TellsLessOfLargerAreas)
{
    const MaskShape box(MaskArea::Kind::closed, {{0.3, 0.4}, {0.7, 0.4}, {0.7, 0.6}, {0.3, 0.6}}),
        smaller(MaskArea::Kind::closed, {{0.4, 0.45}, {0.6, 0.45}, {0.6, 0.55}, {0.4, 0.55}});
    const PhasedSamples at = phased({7.3, 7.4}, {0.42, 0.42});
    EXPECT_FALSE(clearOf(LineSieve(0.1, {box}), at)[1]);
    EXPECT_TRUE(clearOf(LineSieve(0.1, {smaller}), at)[1]);
}

TEST(LineSieve, OfNoAreaAllIsClearButWhatIsNoNumber)
{
    const LineSieve sieve(0.1, {});
    const std::vector<bool> clear = clearOf(sieve, phased({3.1, 3.2, 3.3, 3.4}, {0.5, -1e300, 1e300, NAN}));
    EXPECT_EQ(clear, (std::vector<bool>{false, true, true, false}));
    EXPECT_TRUE(sieve.isClear({3.1, -1e300}, {3.2, 1e300}));
}

TEST(LineSieve, KnowsAreasThatReachIntoTheNextUnitInterval)
{
    const LineSieve sieve(0.1, {MaskShape(MaskArea::Kind::closed, {{0.9, 0.4}, {1.2, 0.4}, {1.2, 0.6}, {0.9, 0.6}})});
    const std::vector<bool> clear =
        clearOf(sieve, phased({3.1, 3.2, 3.5, 3.6, 3.95, 4.05}, std::vector<double>(6, 0.5)));
    EXPECT_FALSE(clear[1]); // of the one before
    EXPECT_TRUE(clear[3]);
    EXPECT_FALSE(clear[5]);
}

TEST(LineSieve, SaysTheSameOfCodesByEachInstructionSetAndLength)
{
    test::AnyArea random(8);
    constexpr double step = 1.0 / 1024;
    for (const std::size_t length : {1, 2, 3, 8, 15, 16, 17, 18, 33, 63, 64, 65, 66, 129, 1000}) {
        const LineSieve sieve(0.25, {random.shape(), random.shape()});
        std::vector<double> ui{random.between(0, 1e4)}, values{0};
        while (ui.size() < length) {
            ui.push_back(ui.back() + random.between(0.24, 0.26));
            values.push_back(std::round(random.between(-1, 1) / step) * step);
        }
        const PhasedSamples at = phased(ui, values), codes = asCodes(at, step);
        std::vector<bool> first;
        test::byEachTarget([&] {
            const std::vector<bool> clear = clearOf(sieve, at);
            EXPECT_EQ(clearOf(sieve, codes), clear) << length;
            if (first.empty()) first = clear;
            EXPECT_EQ(clear, first) << length;
        });
    }
}

} // namespace
} // namespace fulvex
