#include "mask_definition.h"

#include "atomic_file.h"
#include "error.h"
#include "json_text.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

using json = nlohmann::ordered_json;

namespace {

constexpr std::size_t mostPoints = 1000, mostAreas = 100;
constexpr double farthest = 4; ///< UI from the eye's middle: each sample is looked at against every eye it may lie in

std::string text(const json &object, const char *key, const std::string &where)
{
    if (!object.contains(key) || !object[key].is_string())
        throw Error(where, std::string("\"") + key + "\" is missing or no text",
                    std::string("add \"") + key + "\": \"…\"");
    return object[key];
}

MaskArea parseArea(const json &object, const std::string &where, bool seconds)
{
    MaskArea area;
    if (!object.is_object()) throw Error(where, "is not an object", "write {\"name\": …, \"kind\": …, \"points\": …}");
    area.name = text(object, "name", where);
    const std::string kind = text(object, "kind", where);
    if (kind == "closed")
        area.kind = MaskArea::Kind::closed;
    else if (kind == "above")
        area.kind = MaskArea::Kind::above;
    else if (kind == "below")
        area.kind = MaskArea::Kind::below;
    else
        throw Error(where + ".kind", "\"" + kind + "\" is no kind of area", "use closed, above or below");
    const json points = object.value("points", json());
    const std::size_t least = area.kind == MaskArea::Kind::closed ? 3 : 2;
    if (!points.is_array() || points.size() < least)
        throw Error(where + ".points", "needs at least " + std::to_string(least) + " points", "write [[x, y], …]");
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (i >= mostPoints)
            throw Error(where + ".points", "has over " + std::to_string(mostPoints) + " points", "simplify the area");
        const json &point = points[i];
        const std::string at = where + ".points[" + std::to_string(i) + "]";
        if (!point.is_array() || point.size() != 2 || !point[0].is_number() || !point[1].is_number())
            throw Error(at, "is not a pair of numbers", "write [x, y]");
        area.points.push_back({point[0], point[1]});
        constexpr double longest = 1e3; // s
        if (seconds && !(std::abs(area.points[i].x) <= longest))
            throw Error(at, "lies more than 1000 s off the edge", "give x in seconds from the edge");
        if (!seconds && !(std::abs(area.points[i].x - 0.5) <= farthest))
            throw Error(at, "lies more than " + std::to_string(int(farthest)) + " unit intervals off the eye's middle",
                        "an eye is two unit intervals wide, its crossings at 0 and 1");
        if (!(std::abs(area.points[i].y) <= 1e12)) throw Error(at, "lies too high or low", "give y up to 1e12");
        if (area.kind != MaskArea::Kind::closed && i > 0 && area.points[i].x <= area.points[i - 1].x)
            throw Error(at, "does not lie right of the point before", "order the line from left to right");
    }
    return area;
}

} // namespace

MaskDefinition parseMask(const std::string &source, const std::string &file)
{
    const json document = parseJson(source, file);
    if (!document.is_object() || document.value("fulvex_mask", json()) != 1)
        throw Error(file, "is no mask of version 1", "start it with {\"fulvex_mask\": 1, …}");
    MaskDefinition mask;
    mask.id = text(document, "id", file);
    mask.title = document.contains("title") ? text(document, "title", file) : mask.id;
    mask.source = document.contains("source") ? text(document, "source", file) : "";
    const std::string x = text(document, "x", file), y = text(document, "y", file);
    if (x != "ui" && x != "s")
        throw Error(file + ": x", "\"" + x + "\" is no scale",
                    "use \"ui\" for a mask of an eye, \"s\" for a template at an edge");
    mask.seconds = x == "s";
    if (y != "normalised" && y != "V") throw Error(file + ": y", "\"" + y + "\" is no scale", "use normalised or V");
    mask.normalised = y == "normalised";
    const json areas = document.value("areas", json());
    if (!areas.is_array() || areas.empty()) throw Error(file + ": areas", "holds no area", "add at least one");
    if (areas.size() > mostAreas)
        throw Error(file + ": areas", "holds more than " + std::to_string(mostAreas) + " areas", "simplify the mask");
    for (std::size_t i = 0; i < areas.size(); ++i)
        mask.areas.push_back(parseArea(areas[i], file + ": areas[" + std::to_string(i) + "]", mask.seconds));
    return mask;
}

std::vector<std::string> maskIds(const std::filesystem::path &shipped)
{
    std::vector<std::string> ids;
    std::error_code ignored; // a folder that is not there ships nothing
    for (const auto &entry : std::filesystem::directory_iterator(shipped, ignored)) {
        const std::string name = entry.path().filename().string(), ending = ".mask.json";
        if (name.ends_with(ending)) ids.push_back(name.substr(0, name.size() - ending.size()));
    }
    std::sort(ids.begin(), ids.end());
    return ids;
}

MaskDefinition loadMask(const std::string &name, const std::filesystem::path &base,
                        const std::filesystem::path &shipped)
{
    const bool plain = name.find('/') == std::string::npos;
    for (const std::filesystem::path &path : {plain ? shipped / (name + ".mask.json") : base / name, base / name}) {
        std::error_code missing; // also where the name is too long for one
        if (std::filesystem::exists(path, missing)) return parseMask(readTextFile(path, 4u << 20), path.string());
    }
    std::string known;
    for (const std::string &id : maskIds(shipped)) known += (known.empty() ? "" : ", ") + id;
    throw Error("", "no mask has the id \"" + name + "\", and no such file is in " + base.string(),
                "use one of: " + known);
}

} // namespace fulvex
