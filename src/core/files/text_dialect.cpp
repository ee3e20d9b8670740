#include "text_dialect.h"

#include "error.h"
#include "number_text.h"
#include "text_cells.h"

#include <algorithm>
#include <optional>
#include <tuple>

namespace fulvex {

namespace {

constexpr std::size_t looked = 64; ///< lines looked at before the first row of numbers must have come

struct Rows {
    std::size_t columns = 0, offset = 0, line = 0, consistent = 0;
};

/// Columns of a row of numbers; 0 when it is not one. Empty cells at the end do not count.
std::size_t numericColumns(const std::vector<std::string_view> &cells, char decimal)
{
    std::size_t numbers = 0, columns = 0;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const Cell cell = parseCell(cells[i], decimal);
        if (cell.kind == CellKind::word) return 0;
        if (cell.kind == CellKind::number) ++numbers;
        if (!bareCell(cells[i]).empty()) columns = i + 1;
    }
    return numbers > 0 ? columns : 0;
}

/// Where rows of numbers start under one reading of the separators, and how many alike follow (up to 20).
Rows rowsUnder(std::string_view text, char separator, char decimal)
{
    const char *begin = text.data();
    std::vector<std::string_view> cells;
    std::string_view line;
    Rows rows;
    for (std::size_t number = 1; number <= looked || rows.columns; ++number) {
        const auto offset = std::size_t(text.data() - begin);
        if (!takeLine(text, line)) break;
        if (bareCell(line).empty()) continue;
        splitCells(line, separator, cells);
        const std::size_t columns = numericColumns(cells, decimal);
        if (columns == 0 || columns != rows.columns) {
            if (rows.consistent >= 2)
                break; // a table that goes wrong later is an error there, not the header of another
            rows = columns ? Rows{columns, offset, number, 1} : Rows{};
        } else if (++rows.consistent >= 20) {
            break;
        }
    }
    return rows;
}

std::string_view withoutBrackets(std::string_view text)
{
    text = bareCell(text);
    if (text.size() >= 2 &&
        ((text.front() == '(' && text.back() == ')') || (text.front() == '[' && text.back() == ']')))
        text = text.substr(1, text.size() - 2);
    return text;
}

/// A unit of time, voltage, current or the like with an SI prefix, as it stands in a unit row.
bool isUnit(std::string_view text)
{
    text = withoutBrackets(text);
    for (const std::string_view base : {"s", "V", "A", "W", "Hz", "m", "Pa", "sec", "Volt", "volt", "Volts", "volts"}) {
        if (text.ends_with(base) && prefixFactor(text.substr(0, text.size() - base.size()))) return true;
    }
    return text == "%" || text == "1";
}

/// "Time (us)", "CH1 [V]" or "time/s" into name and unit.
void splitNameAndUnit(std::string_view cell, std::string &name, std::string &unit)
{
    cell = bareCell(cell);
    const char close = cell.empty() ? ' ' : cell.back();
    const std::size_t open = close == ')' ? cell.rfind('(') : close == ']' ? cell.rfind('[') : cell.rfind('/');
    if (open != std::string_view::npos && isUnit(cell.substr(open + (close == ')' || close == ']' ? 0 : 1)))) {
        unit = withoutBrackets(cell.substr(open + (close == ')' || close == ']' ? 0 : 1)));
        cell = bareCell(cell.substr(0, open));
    }
    name = cell;
}

void readHeader(std::string_view header, TextDialect &dialect)
{
    dialect.names.resize(dialect.columns);
    dialect.units.resize(dialect.columns);
    std::vector<std::string_view> lines, cells;
    for (std::string_view line; takeLine(header, line);) {
        if (!bareCell(line).empty()) lines.push_back(line);
    }
    bool unitsSeen = false;
    for (auto line = lines.rbegin(); line != lines.rend(); ++line) { // the lines next to the numbers speak of columns
        std::string_view text = bareCell(*line);
        while (!text.empty() && (text.front() == '#' || text.front() == '%')) text.remove_prefix(1);
        splitCells(text, dialect.separator, cells);
        while (cells.size() > dialect.columns && bareCell(cells.back()).empty()) cells.pop_back();
        if (cells.size() != dialect.columns) return;
        const bool unitRow =
            std::all_of(cells.begin(), cells.end(), [](auto c) { return bareCell(c).empty() || isUnit(c); });
        if (unitRow && !unitsSeen) {
            for (std::size_t i = 0; i < cells.size(); ++i) dialect.units[i] = withoutBrackets(cells[i]);
            unitsSeen = true;
            continue;
        }
        for (std::size_t i = 0; i < cells.size(); ++i) splitNameAndUnit(cells[i], dialect.names[i], dialect.units[i]);
        return;
    }
}

} // namespace

TextDialect findDialect(std::string_view text, const ImportOptions &options, const std::string &file)
{
    struct Reading {
        char separator, decimal;
    };
    static constexpr Reading readings[] = {{'\t', '.'}, {'\t', ','}, {';', '.'},  {';', ','}, {',', '.'},
                                           {' ', '.'},  {' ', ','},  {'\0', '.'}, {'\0', ','}};
    std::optional<Reading> best;
    Rows bestRows;
    for (Reading reading : readings) {
        if (options.separator && *options.separator != reading.separator) continue;
        if (options.decimal && *options.decimal != reading.decimal) continue;
        const Rows rows = rowsUnder(text, reading.separator, reading.decimal);
        // Two cells and more before one ("0,1" is two), then more rows alike, then more columns.
        const auto rank = [](const Rows &r) {
            return std::tuple(r.columns > 1 && r.consistent > 1, r.consistent, r.columns);
        };
        const bool better = rank(rows) > rank(bestRows);
        if (rows.columns && better) best = reading, bestRows = rows;
    }
    if (options.separator && options.decimal && !best) { // an unusual separator is taken at the user's word
        bestRows = rowsUnder(text, *options.separator, *options.decimal);
        if (bestRows.columns) best = Reading{*options.separator, *options.decimal};
    }
    if (!best)
        throw Error(file + ": line 1", "no row of numbers in the first " + std::to_string(looked) + " lines",
                    "set \"separator\" and \"decimal\", or save the table as numbers in columns");
    TextDialect dialect;
    dialect.separator = best->separator;
    dialect.decimal = best->decimal;
    dialect.columns = bestRows.columns;
    dialect.dataOffset = bestRows.offset;
    dialect.dataLine = bestRows.line;
    readHeader(text.substr(0, bestRows.offset), dialect);
    return dialect;
}

} // namespace fulvex
