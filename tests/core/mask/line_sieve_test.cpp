// What is said to be clear of areas is clear in every unit interval; and most lines that are clear are said to be.

#include "any_area.h"
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

TEST(LineSieve, SaysOfNoLineThatTouchesAnAreaThatItIsClear)
{
    test::AnyArea random(7);
    std::int64_t clear = 0, toldClear = 0, toldClosely = 0;
    for (int trial = 0; trial < 200; ++trial) {
        std::vector<MaskShape> shapes;
        for (int i = 0; i <= random.below(4); ++i) shapes.push_back(random.shape());
        const double step = random.between(0.01, 0.4);
        LineSieve sieve(step, -0.7, 0.7);
        sieve.setAreas(shapes);
        std::vector<double> ui{random.between(-3, 1e6)}, values{random.between(-1, 1)};
        for (int i = 1; i < 1000; ++i) {
            ui.push_back(ui.back() + step * random.between(i % 50 == 0 ? -2 : 0.9, i % 70 == 0 ? 9 : 1.02));
            values.push_back(i % 90 == 0                      ? NAN
                             : values.back() == values.back() ? values.back() * 0.9 + random.between(-0.2, 0.2)
                                                              : 0);
        }
        sieve.place(ui, values);
        for (std::size_t i = 1; i < ui.size(); ++i) {
            const MaskPoint a{ui[i - 1], values[i - 1]}, b{ui[i], values[i]};
            const bool told = sieve.isClear(i), closely = sieve.isClear(a, b), isNumber = a.y == a.y && b.y == b.y;
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

TEST(LineSieve, GoesByTheAreasOfTheMoment)
{
    LineSieve sieve(0.1, 0, 1);
    const MaskShape box(MaskArea::Kind::closed, {{0.3, 0.4}, {0.7, 0.4}, {0.7, 0.6}, {0.3, 0.6}}),
        smaller(MaskArea::Kind::closed, {{0.4, 0.45}, {0.6, 0.45}, {0.6, 0.55}, {0.4, 0.55}});
    const std::vector<double> ui{7.32, 7.36}, values{0.42, 0.42};
    sieve.setAreas({box});
    sieve.place(ui, values);
    EXPECT_FALSE(sieve.isClear(1));
    sieve.setAreas({smaller}); // of the samples that are placed already
    EXPECT_TRUE(sieve.isClear(1));
}

TEST(LineSieve, OfNoAreaAllIsClearButWhatIsNoNumber)
{
    LineSieve sieve(0.1, 0, 0);
    sieve.setAreas({});
    sieve.place(std::vector<double>{3.1, 3.2, 3.3, 3.4}, std::vector<double>{0.5, -1e300, 1e300, NAN});
    EXPECT_TRUE(sieve.isClear(1));
    EXPECT_TRUE(sieve.isClear(2));
    EXPECT_FALSE(sieve.isClear(3));
    EXPECT_TRUE(sieve.isClear({3.1, -1e300}, {3.2, 1e300}));
}

TEST(LineSieve, KnowsAreasThatReachIntoTheNextUnitInterval)
{
    LineSieve sieve(0.1, 0, 1);
    sieve.setAreas({MaskShape(MaskArea::Kind::closed, {{0.9, 0.4}, {1.2, 0.4}, {1.2, 0.6}, {0.9, 0.6}})});
    sieve.place(std::vector<double>{3.1, 3.18, 3.5, 3.58, 3.95, 4.03}, std::vector<double>(6, 0.5));
    EXPECT_FALSE(sieve.isClear(1)); // of the one before
    EXPECT_TRUE(sieve.isClear(3));
    EXPECT_FALSE(sieve.isClear(5));
}

} // namespace
} // namespace fulvex
