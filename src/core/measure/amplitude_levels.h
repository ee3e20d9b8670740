#pragma once

#include "amplitude_histogram.h"

#include <vector>

namespace fulvex {

/// One of the values that a signal's samples gather around, as a keyed or stepped envelope does.
struct AmplitudeLevel {
    double at = 0;            ///< where its samples are densest, unit
    double spread = 0;        ///< their standard deviation about it, were they of a normal distribution, unit
    double share = 0;         ///< of all samples, from valley to valley: 0 … 1
    double low = 0, high = 0; ///< these valleys
};

/// In rising order: the peaks of valuePeaks(), each then moved to the mean of the samples about it, weighed by nearness
/// (a normal distribution half as wide again as theirs), until it stays: what passes between levels does not draw it.
/// Where less than 0.5 % of the samples are, the signal passes and does not stay.
/// Source: D. Comaniciu, P. Meer, "Mean shift", IEEE Trans. PAMI 24 (2002).
std::vector<AmplitudeLevel> amplitudeLevels(const AmplitudeHistogram &histogram);

/// The same level in other samples of the signal, such as a part of them.
AmplitudeLevel sameLevelIn(const AmplitudeHistogram &histogram, const AmplitudeLevel &level);

} // namespace fulvex
