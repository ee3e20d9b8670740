#pragma once

#include "results.h"
#include "value_peaks.h"

namespace fulvex {

/// What is to be seen in a histogram of a row's values, in sentences: mean and spread, how many lie outside the limits
/// that its mean is judged by, what is farther out than chance takes so many normal values, and peaks, where there is
/// more than one. Empty for what is not measurable.
std::string wordsOfValues(const Row &row, const MeasurementEntry *entry, const std::vector<ValuePeak> &peaks);

/// What is to be seen in its trend: where the least and the greatest value lie.
std::string wordsOfTrend(const Row &row);

} // namespace fulvex
