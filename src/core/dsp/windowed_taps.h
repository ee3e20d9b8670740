#pragma once

#include "filter_cascade.h"

#include <vector>

namespace fulvex {

/// A symmetric filter of an odd number of taps, the middle one at size / 2: a sinc under a Kaiser window with a stop
/// band of 60 dB, which passes to it within `transition` (shares of the sample rate, as the corners are). Gain 1 / sqrt
/// 2 at each corner; exactly 1 at 0 (a low pass, a stop band) or exactly 0 there. Source: J. F. Kaiser, "Nonrecursive
/// digital filter design using the I0-sinh window function", Proc. IEEE ISCAS (1974); Oppenheim, Schafer,
/// "Discrete-Time Signal Processing", 7.5.3.
std::vector<double> windowedTaps(FilterPass pass, double low, double high, double transition);

/// How many windowedTaps() gives.
double tapsFor(double transition);

} // namespace fulvex
