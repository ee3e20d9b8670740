#pragma once

#include "field.h"

namespace fulvex {

/// A channel over frequency, or over lag.
struct SpectrumEntry {
    std::string id;
    std::string kind = "spectrum"; ///< spectrum, spectrogram, transfer, autocorrelation
    std::string source;            ///< of a transfer function the input
    std::string row;               ///< instead: of a row's values over time
    std::string to;                ///< transfer: the output
    std::string region;            ///< empty: the whole record
    std::string window = "hann";
    std::optional<double> resolution; ///< Hz, of its lines under the window; empty: as is usual for the record's length
    bool highest = false;             ///< of each line the highest of all segments, not their mean
    std::optional<double> longest;    ///< s, autocorrelation: the longest lag
    bool operator==(const SpectrumEntry &) const = default;
};

std::vector<Field> fieldsOf(SpectrumEntry &entry);
void checkEntry(const SpectrumEntry &entry, const std::string &where);

} // namespace fulvex
