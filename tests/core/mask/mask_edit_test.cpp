#include "error.h"
#include "mask_definition.h"
#include "mask_edit.h"
#include "signals.h"

#include <cmath>

using namespace fulvex;

namespace {

/// A hexagon about the eye's middle, and a line above and below it.
std::vector<MaskArea> hexagon()
{
    return {{MaskArea::Kind::closed,
             "centre",
             {{0.25, 0.5}, {0.4, 0.75}, {0.6, 0.75}, {0.75, 0.5}, {0.6, 0.25}, {0.4, 0.25}}},
            {MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}},
            {MaskArea::Kind::below, "bottom", {{0, -0.3}, {1, -0.3}}}};
}

constexpr MaskMirror both{0.5, 0.5};

/// Whether each vertex of all areas has its image among them.
bool isMirrored(const std::vector<MaskArea> &areas, bool across, bool up)
{
    std::vector<MaskPoint> all;
    for (const MaskArea &area : areas) all.insert(all.end(), area.points.begin(), area.points.end());
    return std::all_of(all.begin(), all.end(), [&](MaskPoint p) {
        const MaskPoint image{across ? 1 - p.x : p.x, up ? 1 - p.y : p.y};
        return std::any_of(all.begin(), all.end(), [&](MaskPoint q) {
            return std::abs(q.x - image.x) < 1e-12 && std::abs(q.y - image.y) < 1e-12;
        });
    });
}

} // namespace

TEST(MaskEdit, AVertexMovesAloneOrWithItsImages)
{
    auto areas = hexagon();
    moveVertex(areas, {0, 1}, {0.35, 0.8}, {});
    EXPECT_EQ(areas[0].points[1], (MaskPoint{0.35, 0.8}));
    EXPECT_EQ(areas[0].points[2], (MaskPoint{0.6, 0.75}));

    areas = hexagon();
    moveVertex(areas, {0, 1}, {0.35, 0.8}, both);
    EXPECT_NEAR(areas[0].points[2].x, 0.65, 1e-12);
    EXPECT_NEAR(areas[0].points[5].y, 0.2, 1e-12);
    EXPECT_NEAR(areas[0].points[4].x, 0.65, 1e-12);
    EXPECT_TRUE(isMirrored(areas, true, true));

    areas = hexagon();
    moveVertex(areas, {1, 0}, {0.1, 1.4}, both); // its images are in another area as well
    EXPECT_NEAR(areas[1].points[1].x, 0.9, 1e-12);
    EXPECT_NEAR(areas[2].points[0].y, -0.4, 1e-12);
    EXPECT_TRUE(isMirrored(areas, true, true));

    areas = hexagon();
    moveVertex(areas, {0, 0}, {0.2, 0.6}, both); // which lies between top and bottom
    EXPECT_EQ(areas[0].points[0], (MaskPoint{0.2, 0.5}));
    EXPECT_NEAR(areas[0].points[3].x, 0.8, 1e-12);

    areas = hexagon();
    moveVertex(areas, {0, 1}, {0.35, 0.8}, {0.5, {}});
    EXPECT_TRUE(isMirrored(areas, true, false));
    EXPECT_FALSE(isMirrored(areas, true, true));
}

TEST(MaskEdit, AnAreaMovesWithItsImages)
{
    auto areas = hexagon();
    moveArea(areas, 1, 0, 0.1, both);
    EXPECT_NEAR(areas[1].points[0].y, 1.4, 1e-12);
    EXPECT_NEAR(areas[2].points[1].y, -0.4, 1e-12);
    moveArea(areas, 0, 0.1, 0.1, both); // its own image
    EXPECT_EQ(areas[0].points, hexagon()[0].points);
    moveArea(areas, 0, 0.1, 0.1, {});
    EXPECT_NEAR(areas[0].points[0].x, 0.35, 1e-12);
    EXPECT_NEAR(areas[0].points[0].y, 0.6, 1e-12);
}

TEST(MaskEdit, VerticesComeAndGoInPairs)
{
    auto areas = hexagon();
    const MaskPlace added = addVertex(areas, {0, 0}, {0.3, 0.65}, both); // a slope: four images
    EXPECT_EQ(areas[0].points.size(), 10u);
    EXPECT_EQ(areas[0].points[added.point], (MaskPoint{0.3, 0.65}));
    EXPECT_TRUE(isMirrored(areas, true, true));
    EXPECT_NO_THROW(checkAreas(areas, false, "areas"));
    ASSERT_TRUE(removeVertex(areas, added, both));
    EXPECT_EQ(areas[0].points, hexagon()[0].points);

    addVertex(areas, {0, 1}, {0.45, 0.75}, both); // the upper side, which is its own image: two on it, two below
    EXPECT_EQ(areas[0].points.size(), 10u);
    EXPECT_NO_THROW(checkAreas(areas, false, "areas"));
    areas = hexagon();
    addVertex(areas, {0, 1}, {0.5, 0.75}, both);
    EXPECT_EQ(areas[0].points.size(), 8u);
    const MaskPlace middle = addVertex(areas, {1, 0}, {0.5, 1.2}, both);
    EXPECT_EQ(middle, (MaskPlace{1, 1}));
    EXPECT_EQ(areas[2].points.size(), 3u);
    EXPECT_NEAR(areas[2].points[1].y, -0.2, 1e-12);
    EXPECT_FALSE(removeVertex(areas, {1, 0}, both)) << "a line of one point is none";
    EXPECT_EQ(areas[1].points.size(), 3u);
}

TEST(MaskEdit, AnotherScaleLeavesItWhereItIs)
{
    const MaskGround ground{2e-9, -0.4, 0.4};
    auto areas = hexagon();
    rescale(areas, {}, {true, false}, ground);
    EXPECT_NEAR(areas[0].points[1].x, 0.8e-9, 1e-21);
    EXPECT_NEAR(areas[0].points[1].y, 0.2, 1e-12);
    rescale(areas, {true, false}, {}, ground);
    for (std::size_t i = 0; i < 6; ++i) {
        EXPECT_NEAR(areas[0].points[i].x, hexagon()[0].points[i].x, 1e-12);
        EXPECT_NEAR(areas[0].points[i].y, hexagon()[0].points[i].y, 1e-12);
    }
}

TEST(MaskEdit, WhatIsWrittenIsReadAsItWas)
{
    MaskDefinition mask{"own", "Drawn by hand", "this project", true, false, hexagon()};
    EXPECT_EQ(parseMask(maskText(mask), "own.mask.json"), mask);
    rescale(mask.areas, {}, {true, false}, {1.5625e-9, -0.41, 0.39});
    mask.seconds = true;
    mask.normalised = false;
    EXPECT_EQ(parseMask(maskText(mask), "own.mask.json"), mask);
    const MaskDefinition laid = inUnitIntervals(mask, 1.5625e-9);
    EXPECT_FALSE(laid.seconds);
    EXPECT_NEAR(laid.areas[0].points[0].x, 0.25, 1e-12);
}

TEST(MaskEdit, AreasThatCrossThemselvesOrEncloseNothingAreSaid)
{
    const auto errorOf = [](std::vector<MaskPoint> points) -> std::string {
        try {
            checkAreas({{MaskArea::Kind::closed, "a", std::move(points)}}, false, "areas");
        } catch (const Error &error) {
            return error.what();
        }
        return {};
    };
    EXPECT_EQ(errorOf({{0.2, 0.2}, {0.8, 0.8}, {0.8, 0.2}, {0.2, 0.8}}),
              "areas[0].points: cross each other: side 1 meets side 3; order the points around the area");
    EXPECT_EQ(errorOf({{0.2, 0.2}, {0.5, 0.5}, {0.8, 0.8}}),
              "areas[0].points: enclose no area; give points that do not lie on one line");
    EXPECT_EQ(errorOf({{0.2, 0.2}, {0.5, 0.5}, {0.8, 0.2}}), "");
    EXPECT_EQ(errorOf({{0.2, 0.2}, {0.5, 0.2}, {0.5, 0.9}, {0.8, 0.2}}),
              "areas[0].points: cross each other: side 2 meets side 4; order the points around the area");
}
