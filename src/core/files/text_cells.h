#pragma once

#include <string_view>
#include <vector>

namespace fulvex {

enum class CellKind {
    number,
    gap,    ///< empty, "nan" and the like
    beyond, ///< a number that is too large for a double: a gap as well, but one to be told of
    word
};

struct Cell {
    CellKind kind;
    double value; ///< NaN unless a number
};

/// One cell as a number, to the last bit as std::from_chars gives it (below its range: 0); `decimal` is '.' or ','.
Cell parseCell(std::string_view text, char decimal);

/// Reads a plain decimal number ("-1.25e-3") at `at`, which is moved behind it; false, and nothing moved, where there
/// is none or it is longer than can be converted exactly here: then parseCell is to read the cell. The same doubles, to
/// the last bit: up to 2^53 and a power of ten up to 10^22 are exact, so one operation rounds once. Source: W. D.
/// Clinger, "How to read floating point numbers accurately", PLDI 1990, the fast case.
bool takePlainNumber(const char *&at, const char *end, double &value);

/// Blanks taken away, and the double quotes where the rest is one quoted cell (`"a","b"` is not).
std::string_view bareCell(std::string_view text);

/// The cells of one line (without its line end), added to a cleared `cells`; of a line of more than mostCells, only
/// one more than that. A separator of ' ' stands for any run of blanks; '\0' means one column. Within double quotes
/// a separator is a sign like others.
constexpr std::size_t mostCells = 4100;
void splitCells(std::string_view line, char separator, std::vector<std::string_view> &cells);

/// Takes the next line off `text`, without its LF, CR LF or CR. False at the end.
bool takeLine(std::string_view &text, std::string_view &line);

} // namespace fulvex
