#pragma once

#include "field.h"

namespace fulvex {

/// A named span of time.
struct RegionEntry {
    std::string id;
    double start = 0, stop = 0; ///< s
    bool operator==(const RegionEntry &) const = default;
};

std::vector<Field> fieldsOf(RegionEntry &entry);
void checkEntry(const RegionEntry &entry, const std::string &where);

} // namespace fulvex
