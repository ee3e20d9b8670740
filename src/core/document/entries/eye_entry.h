#pragma once

#include "field.h"

namespace fulvex {

/// A channel folded at a clock.
struct EyeEntry {
    std::string id, source, clock;
    std::string region;                 ///< empty: the whole record
    std::string interpolate = "auto";   ///< auto, none, sinc
    std::optional<int> modulation = {}; ///< amplitude levels; empty: as many as its clock's channel has
    std::string resolution = "usual";   ///< coarse, usual, fine: cells of its picture
    std::string shown = "density";      ///< density, traces, hit_contours, error_ratio
    int width = 2;                      ///< unit intervals that are shown, 1 to 3
    bool operator==(const EyeEntry &) const = default;
};

std::vector<Field> fieldsOf(EyeEntry &entry);

} // namespace fulvex
