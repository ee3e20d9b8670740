#pragma once

#include "mask_area.h"

#include <filesystem>

namespace fulvex {

inline constexpr const char *maskEnding = ".mask.json"; ///< of files that hold one

/// A mask file (contract: NAME.mask.json). x in unit intervals, crossings at 0 and 1, or in seconds from the first
/// crossing, of a template from a trigger edge; y normalised (zero level 0, one level 1) or in the channel's unit.
struct MaskDefinition {
    std::string id, title, source;
    bool normalised = true;
    bool seconds = false; ///< x is
    std::vector<MaskArea> areas;
    bool operator==(const MaskDefinition &) const = default;
};

/// Parses and validates; throws Error with `file` and the JSON path.
MaskDefinition parseMask(const std::string &json, const std::string &file);

/// The same as text, which parseMask() reads as what it was.
std::string maskText(const MaskDefinition &mask);

/// A mask in seconds as it lies on an eye whose unit intervals last so long (s); any other one as it is.
MaskDefinition inUnitIntervals(MaskDefinition mask, double unitInterval);

/// `name` is a shipped mask's id (found in `shipped`), or a file relative to `base`.
MaskDefinition loadMask(const std::string &name, const std::filesystem::path &base,
                        const std::filesystem::path &shipped);

/// Ids of all masks in a folder, sorted.
std::vector<std::string> maskIds(const std::filesystem::path &shipped);

} // namespace fulvex
