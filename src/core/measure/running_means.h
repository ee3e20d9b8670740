#pragma once

#include "column.h"

namespace fulvex {

/// Means over runs of a column's numbers, of which sums are kept for every few thousand.
class RunningMeans {
public:
    explicit RunningMeans(Column values);
    /// Of `length` numbers around the one at `index`, of fewer at the ends.
    double around(std::size_t index, std::size_t length) const;

private:
    static constexpr std::size_t block = 4096;
    Column m_values;
    std::vector<double> m_before; ///< sum of all blocks before each, less their first number
    double m_reference = 0;       ///< which keeps the digits that matter
};

} // namespace fulvex
