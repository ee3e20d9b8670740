#pragma once

#include "field.h"

namespace fulvex {

/// Moments that somebody decided not to count in some rows, and why: occurrences that begin within the span.
struct KeptOutEntry {
    std::string id;
    std::vector<std::string> of; ///< measurements
    double start = 0, stop = 0;  ///< s; alike: a single instant
    std::string reason;
    bool operator==(const KeptOutEntry &) const = default;
};

std::vector<Field> fieldsOf(KeptOutEntry &entry);
void checkEntry(const KeptOutEntry &entry, const std::string &where);

} // namespace fulvex
