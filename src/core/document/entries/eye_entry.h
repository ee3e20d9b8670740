#pragma once

#include "field.h"

namespace fulvex {

/// A channel folded at a clock.
struct EyeEntry {
    std::string id, source, clock;
    std::string region;               ///< empty: the whole record
    std::string interpolate = "auto"; ///< auto, none, sinc
    bool operator==(const EyeEntry &) const = default;
};

std::vector<Field> fieldsOf(EyeEntry &entry);

} // namespace fulvex
