#pragma once

#include "field.h"

namespace fulvex {

/// A set of reference levels. There is always one with the id "default".
struct LevelsEntry {
    std::string id = "default";
    std::string kind = "percent";         ///< percent, absolute
    double low = 10, mid = 50, high = 90; ///< % of the amplitude, or in the channel's unit
    std::string states = "histogram";     ///< histogram, extremes, fixed
    std::optional<double> stateLow, stateHigh;
    std::vector<double> symbolLevels, thresholds; ///< of more than two amplitude levels, channel's unit; empty: found
    std::optional<double> hysteresis;             ///< whole width of the band, in the levels' unit
    bool operator==(const LevelsEntry &) const = default;
};

std::vector<Field> fieldsOf(LevelsEntry &entry);
void checkEntry(const LevelsEntry &entry, const std::string &where);

} // namespace fulvex
