#pragma once

namespace fulvex {

/// The part of a normal distribution beyond `q` standard deviations.
double normalTail(double q);
/// Standard deviations beyond which that part lies, 0 < part < 1.
double normalQuantile(double part);

} // namespace fulvex
