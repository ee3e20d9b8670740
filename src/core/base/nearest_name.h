#pragma once

#include <span>
#include <string>

namespace fulvex {

/// What mends a name that is none of these: the nearest of them where one is within three changed letters and less than
/// half of the name changed (Levenshtein's distance), else all of them.
std::string remedyForName(const std::string &name, std::span<const std::string> known);

} // namespace fulvex
