#pragma once

#include "field.h"

namespace fulvex {

/// Another result that this project is laid beside: a project, a pack, or a results.json.
struct ComparisonEntry {
    std::string id, file;
    bool operator==(const ComparisonEntry &) const = default;
};

std::vector<Field> fieldsOf(ComparisonEntry &entry);

} // namespace fulvex
