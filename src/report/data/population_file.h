#pragma once

#include "results.h"

#include <filesystem>

namespace fulvex {

/// Writes a row's occurrences for other programs to go on with, whole or not at all: time of each in s, and its value
/// in the row's unit. By the file's name as NPY (64-bit floats, of occurrences x 2) or CSV (a line of headings). What
/// is one number for the whole record has one line, its time not a number; what cannot be measured has none. Throws
/// Error, for another name as well, and Cancelled.
void writePopulation(const std::filesystem::path &path, const Row &row, Progress &progress);

/// Writes a row's histogram: lower and upper bound of each bar, in the row's unit, and how many values it counts. As
/// NPY (64-bit floats, of bars x 3) or CSV, as above. A row without one has no line.
void writeHistogram(const std::filesystem::path &path, const Row &row, const ValueHistogram &histogram);

} // namespace fulvex
