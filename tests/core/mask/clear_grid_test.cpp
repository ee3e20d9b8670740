// What is said to be clear of areas is clear, whatever they are like; and most lines that are clear are said to be.

#include "any_area.h"
#include "clear_grid.h"

#include <cmath>
#include <gtest/gtest.h>

namespace fulvex {
namespace {

TEST(ClearGrid, SaysOfNoLineThatTouchesAnAreaThatItIsClear)
{
    test::AnyArea random(5);
    std::int64_t clear = 0, toldClear = 0;
    for (int trial = 0; trial < 300; ++trial) {
        std::vector<MaskShape> shapes;
        for (int i = 0; i <= random.below(4); ++i) shapes.push_back(random.shape());
        const ClearGrid grid(shapes);
        for (int line = 0; line < 500; ++line) {
            const double reach = line % 5 == 0 ? 1.0 : 0.08;
            const MaskPoint a{random.between(-1, 2), random.between(-1, 1)};
            MaskPoint b{a.x + random.between(-reach, reach), a.y + random.between(-reach, reach)};
            if (line % 7 == 0) b = a;
            if (line % 11 == 0) b.x = a.x;
            bool touches = false;
            for (const MaskShape &shape : shapes) touches |= shape.touches(a, b);
            const bool told = grid.isClear(a, b);
            ASSERT_FALSE(told && touches) << trial << " " << line;
            if (touches || reach > 0.5) continue;
            ++clear;
            toldClear += told;
        }
        // On corners and borders themselves.
        for (const MaskShape &shape : shapes)
            for (const MaskPoint &corner : shape.points()) ASSERT_FALSE(grid.isClear(corner, corner));
    }
    EXPECT_GT(double(toldClear), 0.9 * double(clear));
}

TEST(ClearGrid, OfNoAreaAllIsClear)
{
    EXPECT_TRUE(ClearGrid({}).isClear({0, 0}, {1, 1}));
}

TEST(ClearGrid, FarAwayIsClearAndWhatIsNoNumberIsLookedAt)
{
    const ClearGrid grid({MaskShape(MaskArea::Kind::closed, {{0, 0}, {1, 0}, {0.5, 1}})});
    EXPECT_TRUE(grid.isClear({1e300, 0}, {1e300, 1}));
    EXPECT_TRUE(grid.isClear({-1e300, 0}, {-5, 1}));
    EXPECT_FALSE(grid.isClear({-1e300, 0.5}, {1e300, 0.5}));
    EXPECT_FALSE(grid.isClear({0.5, NAN}, {0.6, NAN}));
}

} // namespace
} // namespace fulvex
