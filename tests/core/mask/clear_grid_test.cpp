// What is said to be clear of areas is clear, whatever they are like; and most lines that are clear are said to be.

#include "clear_grid.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

namespace fulvex {
namespace {

class Random {
public:
    explicit Random(unsigned seed) : m_engine(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(m_engine); }
    int below(int count) { return int(m_engine() % unsigned(count)); }

private:
    std::mt19937 m_engine;
};

/// A star about a middle, so that it is a simple polygon, also one with vertical sides.
MaskShape anyArea(Random &random)
{
    const int kind = random.below(4);
    std::vector<MaskPoint> points;
    if (kind < 2) {
        const MaskPoint middle{random.between(0, 1), random.between(-0.5, 0.5)};
        const int corners = 3 + random.below(6);
        for (int i = 0; i < corners; ++i) {
            const double angle = 2 * std::numbers::pi * i / corners, far = random.between(0.02, 0.4);
            points.push_back({middle.x + far * std::cos(angle), middle.y + far * std::sin(angle)});
        }
        if (kind == 1) // a box
            points = {{middle.x, middle.y},
                      {middle.x + 0.3, middle.y},
                      {middle.x + 0.3, middle.y + 0.2},
                      {middle.x, middle.y + 0.2}};
        return {MaskArea::Kind::closed, points};
    }
    double x = random.between(-0.5, 0.2);
    const double level = kind == 2 ? 0.6 : -0.6;
    for (int i = 0; i < 2 + random.below(4); ++i, x += random.between(0.05, 0.4))
        points.push_back({x, level + random.between(-0.2, 0.2)});
    return {kind == 2 ? MaskArea::Kind::above : MaskArea::Kind::below, points};
}

TEST(ClearGrid, SaysOfNoLineThatTouchesAnAreaThatItIsClear)
{
    Random random(5);
    std::int64_t clear = 0, toldClear = 0;
    for (int trial = 0; trial < 300; ++trial) {
        std::vector<MaskShape> shapes;
        for (int i = 0; i <= random.below(4); ++i) shapes.push_back(anyArea(random));
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
