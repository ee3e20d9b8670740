#pragma once

#include "sample_type.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace fulvex {

/// How to read a file, where the file does not say it itself or says it wrongly. Everything may be left out.
struct ImportOptions {
    using Column = std::variant<int, std::string>; ///< 0-based index, or the name in the header
    std::optional<std::string> format;
    std::optional<double> sampleInterval;            ///< s
    std::optional<double> start;                     ///< s
    std::optional<std::optional<Column>> timeColumn; ///< set but empty: there is none
    std::optional<char> separator, decimal;
    std::vector<std::string> datasets; ///< of files that hold several arrays: which ones, in this order
    std::optional<SampleType> sampleType;
    std::optional<bool> bigEndian;
    std::optional<std::int64_t> headerBytes;
    std::optional<int> interleave; ///< channels, sample by sample in turn
    std::optional<int> segments;   ///< equally long ones that the file consists of, where it does not say so itself
    std::optional<int> segment;    ///< the one that is taken, from 0 on; none: all of the file as one record
    bool operator==(const ImportOptions &) const = default;
};

} // namespace fulvex
