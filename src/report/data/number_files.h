#pragma once

#include "atomic_file.h"
#include "results.h"

#include <filesystem>
#include <string>

namespace fulvex {

/// Numbers for other programs to go on with: NPY, or text with a line of headings.
enum class NumberFormat { npy, csv };
/// By a file's name; throws Error for one that says neither.
NumberFormat numberFormatOf(const std::filesystem::path &path);

/// A row's occurrences: time of each in s, and its value in the row's unit, as two columns (NPY: 64-bit floats, of
/// occurrences x 2). What is one number for the whole record has one line, its time not a number; what cannot be
/// measured has none.
void writePopulation(AtomicFile &file, NumberFormat format, const Row &row);

/// Samples of a channel: NPY of 64-bit floats, in one dimension, or CSV of time in s and value. Throws Cancelled.
void writeChannel(AtomicFile &file, NumberFormat format, const SampleSource &source, SampleRange range,
                  const std::string &heading, Progress &progress);

} // namespace fulvex
