#pragma once

#include <cmath>
#include <cstddef>
#include <span>

namespace fulvex {

/// A value at each place, and how often it counts.
struct WeighedValues {
    const double *values;
    double weight;
};

/// What is told of numbers, those that are none left out.
struct DifferenceSums {
    double count = 0, sum = 0, squares = 0, least = INFINITY, most = -INFINITY;
    void merge(const DifferenceSums &others);
};

/// Of the first `size` places' sums of two to four values times their weights, each less `about`. Lanes of a vector are
/// added up in their own order: the last bits are the machine's.
DifferenceSums sumsOfDifferences(std::span<const WeighedValues> of, std::size_t size, double about = 0);
/// The same place by place, which it is held to.
DifferenceSums plainSumsOfDifferences(std::span<const WeighedValues> of, std::size_t size, double about = 0);

} // namespace fulvex
