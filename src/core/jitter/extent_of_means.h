#pragma once

#include <span>

namespace fulvex {

/// A mean as it was told, with its standard uncertainty, in one unit.
struct UncertainMean {
    double mean = 0, uncertainty = 0;
};

/// From the least to the most of means of which chance made each a little too low or too high: so that the outermost of
/// many are too far out. What chance adds on the average, were the told means the true ones, is taken off.
struct ExtentOfMeans {
    double extent = 0, uncertainty = 0;
};
ExtentOfMeans extentOf(std::span<const UncertainMean> means);

} // namespace fulvex
