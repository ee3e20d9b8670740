#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>
#include <utility>
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
    bool operator==(const MaskArea &) const = default;
};

/// Areas as they stand in a mask file and in a document; throws Error with the place in it for what is not written as
/// such.
std::vector<MaskArea> readAreas(const nlohmann::ordered_json &areas, const std::string &where);
nlohmann::ordered_json areasJson(const std::vector<MaskArea> &areas);

/// From the leftmost to the rightmost of their points and 0, in what x is measured in: what a template looks at.
std::pair<double, double> acrossOf(const std::vector<MaskArea> &areas);

/// Throws Error, with the place, for areas that no signal can be tested against: without any, or with one that is too
/// far off, crosses itself, encloses nothing or does not go from left to right. `seconds`: x is not in unit intervals.
void checkAreas(const std::vector<MaskArea> &areas, bool seconds, const std::string &where);

} // namespace fulvex
