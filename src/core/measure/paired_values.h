#pragma once

#include "population.h"

#include <cstdint>
#include <vector>

namespace fulvex {

/// Occurrences of two quantities that belong together: each of the first with the one of the second that begins nearest
/// in time, where that is not nearer to another one.
struct PairedValues {
    std::vector<double> x, y;      ///< their units
    std::vector<std::uint32_t> of; ///< index of each in the first population
    double correlation = 0;        ///< Pearson's; NaN where one of them does not vary
};

PairedValues pairedValues(const Population &first, const Population &second);

} // namespace fulvex
