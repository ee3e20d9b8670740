#pragma once

#include "field.h"

namespace fulvex {

/// How a symbol clock is made from a channel.
struct ClockEntry {
    std::string id, source;
    std::string method = "fixed"; ///< fixed, pll, forwarded
    std::optional<double> rate;   ///< Bd; empty: found from the signal
    int order = 2;
    double bandwidth = 1e6, damping = 0.7071; ///< Hz
    std::string bandwidthOf = "transfer";     ///< transfer, error
    std::string from, edges = "both";         ///< forwarded
    std::string fromLevels = "default";
    int multiply = 1, divide = 1;
    double delay = 0;
    int modulation = 2;
    std::string levels = "default";
    std::string interpolate = "auto"; ///< auto, linear, sinc
    bool operator==(const ClockEntry &) const = default;
};

std::vector<Field> fieldsOf(ClockEntry &entry);

} // namespace fulvex
