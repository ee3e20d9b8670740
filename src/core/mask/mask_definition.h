#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace fulvex {

struct MaskPoint {
    double x, y;
    bool operator==(const MaskPoint &) const = default;
};

/// One keep-out area. Closed: a simple polygon. Above or below: everything over or under the line, left to right.
struct MaskArea {
    enum class Kind { closed, above, below } kind = Kind::closed;
    std::string name;
    std::vector<MaskPoint> points;
};

/// A mask file (contract: NAME.mask.json). x in unit intervals, crossings at 0 and 1, or of a template in seconds from
/// a trigger edge; y normalised (zero level 0, one level 1) or in the channel's unit.
struct MaskDefinition {
    std::string id, title, source;
    bool normalised = true;
    bool seconds = false; ///< a template
    std::vector<MaskArea> areas;
};

/// Parses and validates; throws Error with `file` and the JSON path.
MaskDefinition parseMask(const std::string &json, const std::string &file);

/// `name` is a shipped mask's id (found in `shipped`), or a file relative to `base`.
MaskDefinition loadMask(const std::string &name, const std::filesystem::path &base,
                        const std::filesystem::path &shipped);

/// Ids of all masks in a folder, sorted.
std::vector<std::string> maskIds(const std::filesystem::path &shipped);

} // namespace fulvex
