#include "mask_edit.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// One of the up to four pictures of a point that mirrors make.
struct Image {
    std::optional<double> across, up;
    MaskPoint of(MaskPoint point) const
    {
        return {across ? 2 * *across - point.x : point.x, up ? 2 * *up - point.y : point.y};
    }
};

/// The mirrored ones; the point itself is none of them.
std::vector<Image> imagesBy(const MaskMirror &mirror)
{
    std::vector<Image> images;
    if (mirror.across) images.push_back({mirror.across, {}});
    if (mirror.up) images.push_back({{}, mirror.up});
    if (mirror.across && mirror.up) images.push_back({mirror.across, mirror.up});
    return images;
}

/// How large a mask is: what is smaller by nine digits is nothing.
MaskPoint extent(const std::vector<MaskArea> &areas)
{
    MaskPoint most{0, 0};
    for (const MaskArea &area : areas) {
        for (const MaskPoint &point : area.points) {
            most.x = std::max(most.x, std::abs(point.x));
            most.y = std::max(most.y, std::abs(point.y));
        }
    }
    return most;
}

class Places {
public:
    explicit Places(const std::vector<MaskArea> &areas) : m_areas(areas), m_extent(extent(areas)) {}
    bool alike(MaskPoint a, MaskPoint b) const
    {
        constexpr double digits = 1e-9; // as far as numbers that were typed, and mirrored, agree
        return std::abs(a.x - b.x) <= digits * m_extent.x && std::abs(a.y - b.y) <= digits * m_extent.y;
    }
    std::optional<MaskPlace> at(MaskPoint point) const
    {
        for (std::size_t area = 0; area < m_areas.size(); ++area)
            for (std::size_t i = 0; i < m_areas[area].points.size(); ++i)
                if (alike(m_areas[area].points[i], point)) return MaskPlace{area, i};
        return {};
    }
    /// The side between two points, whichever way it goes.
    std::optional<MaskPlace> side(MaskPoint a, MaskPoint b) const
    {
        for (std::size_t area = 0; area < m_areas.size(); ++area) {
            const auto &points = m_areas[area].points;
            const std::size_t sides = m_areas[area].kind == MaskArea::Kind::closed ? points.size() : points.size() - 1;
            for (std::size_t i = 0; i < sides; ++i) {
                const MaskPoint from = points[i], to = points[(i + 1) % points.size()];
                if ((alike(from, a) && alike(to, b)) || (alike(from, b) && alike(to, a))) return MaskPlace{area, i};
            }
        }
        return {};
    }

private:
    const std::vector<MaskArea> &m_areas;
    MaskPoint m_extent;
};

MaskPoint &pointAt(std::vector<MaskArea> &areas, MaskPlace place)
{
    return areas[place.area].points[place.point];
}

} // namespace

void moveVertex(std::vector<MaskArea> &areas, MaskPlace vertex, MaskPoint to, const MaskMirror &mirror)
{
    const Places places(areas);
    const MaskPoint before = pointAt(areas, vertex);
    for (const Image &image : imagesBy(mirror)) {
        if (!places.alike(image.of(before), before)) continue; // it lies on that mirror, or on both
        if (image.across) to.x = *image.across;
        if (image.up) to.y = *image.up;
    }
    std::vector<std::pair<MaskPlace, MaskPoint>> moves{{vertex, to}};
    for (const Image &image : imagesBy(mirror)) {
        const auto its = places.at(image.of(before));
        if (its && *its != vertex) moves.push_back({*its, image.of(to)});
    }
    for (const auto &[place, point] : moves) pointAt(areas, place) = point;
}

void moveArea(std::vector<MaskArea> &areas, std::size_t area, double across, double up, const MaskMirror &mirror)
{
    // By where each of its vertices goes, as if they were moved together.
    const Places places(areas);
    const std::vector<MaskPoint> before = areas[area].points;
    const auto isItself = [&](const Image &image) {
        return std::all_of(before.begin(), before.end(), [&](MaskPoint point) {
            const auto its = places.at(image.of(point));
            return its && its->area == area;
        });
    };
    for (const Image &image : imagesBy(mirror)) {
        if (!isItself(image)) continue;
        if (image.across && !image.up) across = 0;
        if (image.up && !image.across) up = 0;
    }
    std::vector<std::pair<MaskPlace, MaskPoint>> moves;
    for (std::size_t i = 0; i < before.size(); ++i) {
        const MaskPoint to{before[i].x + across, before[i].y + up};
        moves.push_back({{area, i}, to});
        for (const Image &image : imagesBy(mirror)) {
            const auto its = places.at(image.of(before[i]));
            if (its && its->area != area) moves.push_back({*its, image.of(to)});
        }
    }
    for (const auto &[place, point] : moves) pointAt(areas, place) = point;
}

MaskPlace addVertex(std::vector<MaskArea> &areas, MaskPlace side, MaskPoint at, const MaskMirror &mirror)
{
    struct Added {
        MaskPlace side;
        MaskPoint point;
    };
    const Places places(areas);
    const auto &points = areas[side.area].points;
    const MaskPoint from = points[side.point], to = points[(side.point + 1) % points.size()];
    std::vector<Added> added{{side, at}};
    for (const Image &image : imagesBy(mirror)) {
        const auto its = places.side(image.of(from), image.of(to));
        const MaskPoint point = image.of(at);
        const bool twice = std::any_of(added.begin(), added.end(), [&](const Added &one) {
            return its && one.side == *its && places.alike(one.point, point);
        });
        if (its && !twice) added.push_back({*its, point});
    }
    // From behind, so that places stay; of one side that which is farther along it first.
    const auto along = [&](const Added &one) {
        const MaskPoint start = pointAt(areas, one.side);
        return std::hypot(one.point.x - start.x, one.point.y - start.y);
    };
    std::sort(added.begin(), added.end(), [&](const Added &a, const Added &b) {
        if (a.side.area != b.side.area) return a.side.area > b.side.area;
        if (a.side.point != b.side.point) return a.side.point > b.side.point;
        return along(a) > along(b);
    });
    for (const Added &one : added) {
        auto &into = areas[one.side.area].points;
        into.insert(into.begin() + std::ptrdiff_t(one.side.point) + 1, one.point);
    }
    const auto &now = areas[side.area].points;
    const auto its = std::find(now.begin(), now.end(), at);
    return {side.area, std::size_t(its - now.begin())};
}

bool removeVertex(std::vector<MaskArea> &areas, MaskPlace vertex, const MaskMirror &mirror)
{
    const Places places(areas);
    std::vector<MaskPlace> going{vertex};
    for (const Image &image : imagesBy(mirror)) {
        const auto its = places.at(image.of(pointAt(areas, vertex)));
        if (its && std::find(going.begin(), going.end(), *its) == going.end()) going.push_back(*its);
    }
    std::vector<MaskArea> left = areas;
    std::sort(going.begin(), going.end(), [](MaskPlace a, MaskPlace b) { return a.point > b.point; });
    for (const MaskPlace &place : going) {
        auto &points = left[place.area].points;
        points.erase(points.begin() + std::ptrdiff_t(place.point));
    }
    for (const MaskArea &area : left)
        if (area.points.size() < (area.kind == MaskArea::Kind::closed ? 3u : 2u)) return false;
    areas = std::move(left);
    return true;
}

void rescale(std::vector<MaskArea> &areas, MaskScale from, MaskScale to, const MaskGround &ground)
{
    const double swing = ground.one - ground.zero;
    for (MaskArea &area : areas) {
        for (MaskPoint &point : area.points) {
            if (from.seconds != to.seconds)
                point.x = to.seconds ? point.x * ground.unitInterval : point.x / ground.unitInterval;
            if (from.normalised != to.normalised)
                point.y = to.normalised ? (point.y - ground.zero) / swing : ground.zero + point.y * swing;
        }
    }
}

} // namespace fulvex
