#pragma once

#include "progress.h"

#include <span>
#include <vector>

namespace fulvex {

/// Sums of a[i] * b[i + lag] for lag = -(n - 1) … n - 1, at index lag + n - 1, of two sequences of the same length n
/// >= 1. By fast Fourier transform, O(n log n); rounding is about 1e-15 of sqrt(sum a^2 sum b^2). Thread-safe. A cancel
/// ends it with Cancelled after any of its transforms.
std::vector<double> crossCorrelation(std::span<const double> a, std::span<const double> b, Progress &progress);

} // namespace fulvex
