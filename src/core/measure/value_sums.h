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

/// What is told of numbers, those that are none left out; sums of how far they lie from a reference.
struct ValueSums {
    double count = 0, sum = 0, squares = 0, least = INFINITY, most = -INFINITY;
    void merge(const ValueSums &others);
};

/// Of the first `size` places' sums of one to four values times their weights, by how far they lie from `about`. Eight
/// places are added up side by side whatever the machine's vectors are: the same bits on every machine.
ValueSums sumsOf(std::span<const WeighedValues> of, std::size_t size, double about = 0);
inline ValueSums sumsOf(std::span<const double> values, double about = 0)
{
    const WeighedValues of[] = {{values.data(), 1}};
    return sumsOf(of, values.size(), about);
}
/// The same place by place, which it is held to.
ValueSums plainSumsOf(std::span<const WeighedValues> of, std::size_t size, double about = 0);

} // namespace fulvex
