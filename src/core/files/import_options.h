#pragma once

#include <optional>
#include <string>
#include <variant>

namespace fulvex {

/// How to read a file, where the file does not say it itself or says it wrongly. Everything may be left out.
struct ImportOptions {
    using Column = std::variant<int, std::string>; ///< 0-based index, or the name in the header
    std::optional<std::string> format;
    std::optional<double> sampleInterval;            ///< s
    std::optional<double> start;                     ///< s
    std::optional<std::optional<Column>> timeColumn; ///< set but empty: there is none
    std::optional<char> separator, decimal;
    std::string furtherJson; ///< what this version does not read, kept as it was given
    bool operator==(const ImportOptions &) const = default;
};

} // namespace fulvex
