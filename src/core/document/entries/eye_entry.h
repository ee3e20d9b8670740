#pragma once

#include "field.h"

namespace fulvex {

/// A channel folded at a clock: its unit intervals laid over each other. Or an overlay: each repeat of the pattern that
/// the clock's channel sends, or what lies about each trigger edge.
struct EyeEntry {
    std::string id, source, clock;
    std::string region;                 ///< empty: the whole record
    std::string interpolate = "auto";   ///< auto, none, sinc
    std::optional<int> modulation = {}; ///< amplitude levels; empty: as many as its clock's channel has
    std::string resolution = "usual";   ///< coarse, usual, fine: cells of its picture
    std::string shown = "density";      ///< density, traces, hit_contours, error_ratio
    int width = 2;                      ///< unit intervals that are shown, 1 to 3

    std::string each = "unit_interval"; ///< what is laid over each other: unit_interval, pattern, or at edges:
                                        ///< rising, falling, both
    std::optional<int> pattern = {};    ///< UI after which it comes again; empty: as is found
    int patternFrom = 0;                ///< the first of them that is folded
    std::optional<int> patternTo = {};  ///< behind the last of them; empty: where it comes again
    std::string trigger = {};           ///< channel whose edges they are; empty: its own
    std::string levels = "default";     ///< that they are found at
    std::optional<double> before = {}, after = {}; ///< s, about an edge; empty: by how the edges lie

    bool atEdges() const { return each == "rising" || each == "falling" || each == "both"; }
    bool atPattern() const { return each == "pattern"; }
    bool atUnitIntervals() const { return each == "unit_interval"; }
    const std::string &triggeredBy() const { return trigger.empty() ? source : trigger; }
    bool operator==(const EyeEntry &) const = default;
};

std::vector<Field> fieldsOf(EyeEntry &entry);
void checkEntry(const EyeEntry &entry, const std::string &where);

} // namespace fulvex
