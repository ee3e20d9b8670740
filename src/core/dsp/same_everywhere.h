#pragma once

#include <span>
#include <utility>

namespace fulvex {

/// Functions of additions, multiplications and divisions alone, which IEEE 754 rounds the same way on every machine;
/// those of C libraries differ in their last bits. Used wherever results of several machines are merged or compared.

/// sin(pi x) and cos(pi x), each to about 2e-16; exact at the quarters. For |x| < 2^50.
/// Source: Taylor series within an eighth of a turn of the nearest quarter.
std::pair<double, double> sinCosPi(double x);
/// The same of many at a time, to the same bits.
void sinCosPi(std::span<const double> x, double *sines, double *cosines);

/// Modified Bessel function of the first kind, order 0, to about 1e-15 relative; 0 <= x <= 50.
/// Source: NIST Digital Library of Mathematical Functions, 10.25.2.
double besselI0(double x);

} // namespace fulvex
