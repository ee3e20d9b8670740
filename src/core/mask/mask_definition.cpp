#include "mask_definition.h"

#include "atomic_file.h"
#include "error.h"
#include "json_text.h"
#include "shipped_names.h"
#include "word_list.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

using json = nlohmann::ordered_json;

MaskDefinition parseMask(const std::string &source, const std::string &file)
{
    const json document = parseJson(source, file);
    if (!document.is_object() || document.value("fulvex_mask", json()) != 1)
        throw Error(file, "is no mask of version 1", "start it with {\"fulvex_mask\": 1, …}");
    MaskDefinition mask;
    mask.id = requiredText(document, "id", file);
    mask.title = document.contains("title") ? requiredText(document, "title", file) : mask.id;
    mask.source = document.contains("source") ? requiredText(document, "source", file) : "";
    const std::string x = requiredText(document, "x", file), y = requiredText(document, "y", file);
    if (x != "ui" && x != "s")
        throw Error(file + ": x", "\"" + x + "\" is no scale", "use \"ui\" for unit intervals, \"s\" for seconds");
    mask.seconds = x == "s";
    if (y != "normalised" && y != "V") throw Error(file + ": y", "\"" + y + "\" is no scale", "use normalised or V");
    mask.normalised = y == "normalised";
    mask.areas = readAreas(document.value("areas", json()), file + ": areas");
    checkAreas(mask.areas, mask.seconds, file + ": areas");
    return mask;
}

std::string maskText(const MaskDefinition &mask)
{
    const json document{{"fulvex_mask", 1},
                        {"id", mask.id},
                        {"title", mask.title},
                        {"source", mask.source},
                        {"x", mask.seconds ? "s" : "ui"},
                        {"y", mask.normalised ? "normalised" : "V"},
                        {"areas", areasJson(mask.areas)}};
    return document.dump(2) + "\n";
}

MaskDefinition inUnitIntervals(MaskDefinition mask, double unitInterval)
{
    if (!std::exchange(mask.seconds, false)) return mask;
    for (MaskArea &area : mask.areas)
        for (MaskPoint &point : area.points) point.x /= unitInterval;
    return mask;
}

std::vector<std::string> maskIds(const std::filesystem::path &shipped)
{
    return shippedNames(shipped, maskEnding);
}

MaskDefinition loadMask(const std::string &name, const std::filesystem::path &base,
                        const std::filesystem::path &shipped)
{
    const bool plain = name.find('/') == std::string::npos;
    for (const std::filesystem::path &path : {plain ? shipped / (name + maskEnding) : base / name, base / name}) {
        std::error_code missing; // also where the name is too long for one
        if (std::filesystem::exists(path, missing)) return parseMask(readTextFile(path, 4u << 20), path.string());
    }
    throw Error("", "no mask has the id \"" + name + "\", and no such file is in " + base.string(),
                "use one of: " + listed(maskIds(shipped)));
}

} // namespace fulvex
