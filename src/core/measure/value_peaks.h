#pragma once

#include "population.h"

namespace fulvex {

/// One of the values that a population gathers around, and the share of it that belongs there.
struct ValuePeak {
    double at = 0, share = 0;          ///< mean of its values; 0 … 1
    double top = 0, low = 0, high = 0; ///< where its smoothed counts are highest; the valleys beside it
};

/// In rising order. A peak belongs to itself from valley to valley, where the smoothed counts (by a triangle a
/// sixteenth of the bins wide) fall below seven tenths of the lower of two tops and farther below it than three
/// standard deviations of their counts; so one peak is one. Empty for fewer than 16 values.
std::vector<ValuePeak> valuePeaks(const ValueHistogram &histogram);

double medianOf(const Population &population); ///< of at least one value

} // namespace fulvex
