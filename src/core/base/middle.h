#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace fulvex {

/// The median of at least one value, the upper one of an even number of them; leaves them in another order.
template <typename Value>
Value middleOf(std::vector<Value> &values)
{
    const auto middle = values.begin() + std::ptrdiff_t(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

} // namespace fulvex
