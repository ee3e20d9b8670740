#pragma once

#include "import_options.h"
#include "waveform.h"

#include <string>
#include <string_view>
#include <vector>

namespace fulvex {

/// How a text table is written, found from its beginning.
struct TextDialect {
    char separator = ','; ///< '\0': one column; ' ': blanks
    char decimal = '.';
    std::size_t columns = 0;               ///< without empty ones that only trailing separators make
    std::size_t dataOffset = 0;            ///< bytes before the first row of numbers
    std::size_t dataLine = 1;              ///< its 1-based line number
    std::vector<std::string> names;        ///< per column, may be empty
    std::vector<std::string> units;        ///< per column, may be empty
    std::optional<double> interval, start; ///< s, where lines before the table state them plainly
    std::vector<ReadFact> facts;           ///< offsets in the text
    std::vector<StatedFact> stated;        ///< of the lines before the table
};

/// Finds the dialect of `text` (UTF-8, without a byte order mark; at least the first rows of numbers). What the
/// options fix is taken as given. Throws Error naming `file` when no row of numbers is found.
TextDialect findDialect(std::string_view text, const ImportOptions &options, const std::string &file);

} // namespace fulvex
