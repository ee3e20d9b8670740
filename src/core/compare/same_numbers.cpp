#include "same_numbers.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

bool isSame(const Comparison::Pair &pair)
{
    const ComparedNumber &a = pair.first, &b = pair.second;
    if (a.verdict != b.verdict || a.unit != b.unit || a.value.has_value() != b.value.has_value()) return false;
    if (!a.value) return true;
    constexpr double part = 1e-9, ofUncertainty = 0.01;
    const double uncertainty = std::min(a.uncertainty.value_or(0), b.uncertainty.value_or(0));
    return std::abs(*a.value - *b.value) <=
           std::max(part * std::max(std::abs(*a.value), std::abs(*b.value)), ofUncertainty * uncertainty);
}

} // namespace fulvex
