#pragma once

#include "field.h"

namespace fulvex {

/// Areas that an eye must not enter, or that a channel must not at each of its edges.
struct MaskEntry {
    std::string id, eye, mask;       ///< mask: a shipped one's id, or a file
    double margin = 0;               ///< fraction: 0.1 is grown by 10 %
    std::optional<int> opening = {}; ///< of more than two levels, from the bottom up; empty: of all
    std::string source = {};         ///< of a template: the channel; empty for an eye's
    std::string edge = {};           ///< of a template: rising, falling, both; empty: rising
    /// The project's own, in place of those of the mask that is named; then what x and y are in: ui or s, normalised
    /// or V.
    std::vector<MaskArea> areas = {};
    std::string x = "ui", y = "normalised";
    std::string mirrored = "both";  ///< while it is edited: both, across, up, none
    std::optional<int> stopAt = {}; ///< so many failed unit intervals end it; empty: it counts on
    bool own() const { return !areas.empty(); }
    std::string ownTitle() const { return mask.empty() ? "drawn by hand" : "edited from " + mask; }
    bool operator==(const MaskEntry &) const = default;
};

std::vector<Field> fieldsOf(MaskEntry &entry);
void checkEntry(const MaskEntry &entry, const std::string &where);

} // namespace fulvex
