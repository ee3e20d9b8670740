#pragma once

#include "channel_entry.h"

namespace fulvex {

/// What a slider moves a parameter over: from its least to its most, or where these are not given from a tenth to ten
/// times its value (of a value of 0 from -1 to 1, below 0 from twice it to its opposite).
struct ParameterScale {
    double low, high;
    bool logarithmic; ///< as the parameter says, else where it spans more than a factor of 20 above 0
    double step;      ///< 0: none, three digits
    explicit ParameterScale(const ParameterEntry &entry);
    double valueAt(double share) const; ///< 0 the least, 1 the most; on a step, or rounded
    double shareOf(double value) const; ///< kept between 0 and 1
};

} // namespace fulvex
