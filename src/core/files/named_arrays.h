#pragma once

#include "capture_reader.h"

#include <functional>

namespace fulvex {

/// An array in a file that holds several under names, columns of one length.
struct NamedArray {
    std::string name;                      ///< as the file has it, a path where it has folders
    std::vector<Waveform> columns;         ///< named by what tells them apart; empty where nobody asked for them
    std::optional<double> interval, start; ///< s, where the file states them beside the array
    std::vector<StatedFact> stated = {};   ///< what it says besides; an array without a name has nothing else
    std::int64_t count() const { return columns.empty() ? 0 : columns[0].count; }
};

/// Takes arrays one by one, as they are unpacked.
using ArraySink = std::function<void(const NamedArray &)>;

/// Whether the options ask for an array, however its path is written: "/scope/ch1" and "scope/ch1".
bool isAskedFor(const std::vector<std::string> &datasets, std::string_view name);

/// A number as a file states it, in the digits that it has.
std::string numberText(double value);

/// Makes a capture of the arrays of a file: those the options name, else all of the greatest length. One named as time
/// gives the time axis; single numbers named as a sample interval, rate or start give theirs (see timeFact). Remarks
/// tell what was taken for what, and what was left out. Throws Error where nothing of it makes a record.
Capture captureOf(const std::string &file, std::vector<NamedArray> arrays, const ImportOptions &options);

} // namespace fulvex
