#include "mask_area.h"

#include "error.h"
#include "json_text.h"
#include "mask_geometry.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

constexpr std::size_t mostPoints = 1000, mostAreas = 100;
constexpr double farthest = 4;  ///< UI from the eye's middle: each sample is looked at against every eye it may lie in
constexpr double longest = 1e3; // s

constexpr std::pair<const char *, MaskArea::Kind> kinds[] = {
    {"closed", MaskArea::Kind::closed}, {"above", MaskArea::Kind::above}, {"below", MaskArea::Kind::below}};

MaskArea readArea(const Json &object, const std::string &where)
{
    MaskArea area;
    if (!object.is_object()) throw Error(where, "is not an object", "write {\"name\": …, \"kind\": …, \"points\": …}");
    area.name = requiredText(object, "name", where);
    const std::string kind = requiredText(object, "kind", where);
    bool known = false;
    for (const auto &[word, meant] : kinds) {
        if (kind == word) area.kind = meant, known = true;
    }
    if (!known) throw Error(where + ".kind", "\"" + kind + "\" is no kind of area", "use closed, above or below");
    const Json points = object.value("points", Json());
    const std::size_t least = area.kind == MaskArea::Kind::closed ? 3 : 2;
    if (!points.is_array() || points.size() < least)
        throw Error(where + ".points", "needs at least " + std::to_string(least) + " points", "write [[x, y], …]");
    if (points.size() > mostPoints)
        throw Error(where + ".points", "has over " + std::to_string(mostPoints) + " points", "simplify the area");
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Json &point = points[i];
        if (!point.is_array() || point.size() != 2 || !point[0].is_number() || !point[1].is_number())
            throw Error(where + ".points[" + std::to_string(i) + "]", "is not a pair of numbers", "write [x, y]");
        area.points.push_back({point[0], point[1]});
    }
    return area;
}

void checkPoint(const MaskArea &area, std::size_t i, bool seconds, const std::string &at)
{
    const MaskPoint point = area.points[i];
    if (seconds && !(std::abs(point.x) <= longest))
        throw Error(at, "lies more than 1000 s off the edge", "give x in seconds from the edge");
    if (!seconds && !(std::abs(point.x - 0.5) <= farthest))
        throw Error(at, "lies more than " + std::to_string(int(farthest)) + " unit intervals off the eye's middle",
                    "an eye is two unit intervals wide, its crossings at 0 and 1");
    if (!(std::abs(point.y) <= 1e12)) throw Error(at, "lies too high or low", "give y up to 1e12");
    if (area.kind != MaskArea::Kind::closed && i > 0 && point.x <= area.points[i - 1].x)
        throw Error(at, "does not lie right of the point before", "order the line from left to right");
}

/// Twice what it encloses, one way round positive (Gauss's formula).
double enclosed(const std::vector<MaskPoint> &points)
{
    double sum = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const MaskPoint a = points[i], b = points[(i + 1) % points.size()];
        sum += (a.x - points[0].x) * (b.y - points[0].y) - (b.x - points[0].x) * (a.y - points[0].y);
    }
    return sum;
}

void checkPolygon(const std::vector<MaskPoint> &points, const std::string &where)
{
    const std::size_t n = points.size();
    for (std::size_t i = 0; i < n; ++i) {
        for (std::size_t k = i + 2; k < n; ++k) {
            if (i == 0 && k == n - 1) continue; // neighbours share a point
            if (segmentsMeet(points[i], points[(i + 1) % n], points[k], points[(k + 1) % n]))
                throw Error(where + ".points",
                            "cross each other: side " + std::to_string(i + 1) + " meets side " + std::to_string(k + 1),
                            "order the points around the area");
        }
    }
    double left = points[0].x, right = left, low = points[0].y, high = low;
    for (const MaskPoint &point : points) {
        left = std::min(left, point.x);
        right = std::max(right, point.x);
        low = std::min(low, point.y);
        high = std::max(high, point.y);
    }
    if (!(std::abs(enclosed(points)) > 1e-12 * (right - left) * (high - low)))
        throw Error(where + ".points", "enclose no area", "give points that do not lie on one line");
}

} // namespace

std::vector<MaskArea> readAreas(const Json &areas, const std::string &where)
{
    if (!areas.is_array() || areas.empty()) throw Error(where, "holds no area", "add at least one");
    if (areas.size() > mostAreas)
        throw Error(where, "holds more than " + std::to_string(mostAreas) + " areas", "simplify the mask");
    std::vector<MaskArea> all;
    for (std::size_t i = 0; i < areas.size(); ++i)
        all.push_back(readArea(areas[i], where + "[" + std::to_string(i) + "]"));
    return all;
}

Json areasJson(const std::vector<MaskArea> &areas)
{
    Json all = Json::array();
    for (const MaskArea &area : areas) {
        Json points = Json::array();
        for (const MaskPoint &point : area.points) points.push_back({point.x, point.y});
        all.push_back({{"name", area.name}, {"kind", kinds[int(area.kind)].first}, {"points", std::move(points)}});
    }
    return all;
}

std::pair<double, double> acrossOf(const std::vector<MaskArea> &areas)
{
    std::pair<double, double> across(0, 0);
    for (const MaskArea &area : areas) {
        for (const MaskPoint &point : area.points) {
            across.first = std::min(across.first, point.x);
            across.second = std::max(across.second, point.x);
        }
    }
    return across;
}

void checkAreas(const std::vector<MaskArea> &areas, bool seconds, const std::string &where)
{
    for (std::size_t n = 0; n < areas.size(); ++n) {
        const std::string one = where + "[" + std::to_string(n) + "]";
        for (std::size_t i = 0; i < areas[n].points.size(); ++i)
            checkPoint(areas[n], i, seconds, one + ".points[" + std::to_string(i) + "]");
        if (areas[n].kind == MaskArea::Kind::closed) checkPolygon(areas[n].points, one);
    }
}

} // namespace fulvex
