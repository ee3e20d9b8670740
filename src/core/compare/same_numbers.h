#pragma once

#include "comparison.h"

namespace fulvex {

/// Whether two numbers are the same one computed twice, on any machine: with the same verdict, and apart by no more
/// than a part in 10^9 or a hundredth of their uncertainty. What is counted, summed and interpolated has the same bits
/// everywhere; functions of the C library and transforms may differ in their last bits (docs/architecture.md).
bool isSame(const Comparison::Pair &pair);

} // namespace fulvex
