#include "text_dialect.h"

#include "capture_reader.h"
#include "error.h"
#include "number_text.h"
#include "stated_facts.h"
#include "text_cells.h"
#include "time_facts.h"

#include <algorithm>
#include <optional>
#include <tuple>

namespace fulvex {

namespace {

constexpr std::size_t linesLooked = 64; ///< lines looked at before the first row of numbers must have come

struct Rows {
    std::size_t columns = 0, cells = 0, offset = 0, line = 0, consistent = 0;
    std::size_t tooWide = 0; ///< a line of more cells than are read, where there is one
};

/// Columns of a row of numbers; 0 when it is not one, or has more than are read. Empty cells at the end do not count.
std::size_t numericColumns(const std::vector<std::string_view> &cells, char decimal)
{
    if (cells.size() > mostCells) return 0;
    std::size_t numbers = 0, columns = 0;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const Cell cell = parseCell(cells[i], decimal);
        if (cell.kind == CellKind::word) return 0;
        if (cell.kind == CellKind::number || cell.kind == CellKind::beyond) ++numbers;
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
    std::size_t tooWide = 0;
    for (std::size_t number = 1; number <= linesLooked || rows.columns; ++number) {
        const auto offset = std::size_t(text.data() - begin);
        if (!takeLine(text, line)) break;
        if (bareCell(line).empty()) continue;
        splitCells(line, separator, cells);
        if (cells.size() > mostCells && !tooWide) tooWide = number;
        const std::size_t columns = numericColumns(cells, decimal);
        // A gap at the end of a row looks like a trailing separator, but has as many cells as the others.
        const bool alike = columns > 0 && (columns == rows.columns || cells.size() == rows.cells);
        if (!alike) {
            if (rows.consistent >= 2)
                break; // a table that goes wrong later is an error there, not the header of another
            rows = columns ? Rows{columns, cells.size(), offset, number, 1, 0} : Rows{};
        } else {
            rows.columns = std::max(rows.columns, columns);
            if (++rows.consistent >= 20) break;
        }
    }
    rows.tooWide = tooWide;
    return rows;
}

/// A line before the table, without the sign of a comment.
std::string_view bareLine(std::string_view line)
{
    line = bareCell(line);
    while (!line.empty() && (line.front() == '#' || line.front() == '%' || line.front() == ';')) line.remove_prefix(1);
    return line;
}

/// Where header and metadata stand: offsets in the whole text, from views into it.
class HeaderReader {
public:
    HeaderReader(std::string_view text, TextDialect &dialect) : m_text(text), m_dialect(dialect) {}
    void read()
    {
        m_dialect.names.resize(m_dialect.columns);
        m_dialect.units.resize(m_dialect.columns);
        std::string_view rest = m_text.substr(0, m_dialect.dataOffset);
        std::vector<std::string_view> lines;
        for (std::string_view line; takeLine(rest, line);) {
            if (!bareCell(line).empty()) lines.push_back(line);
        }
        const std::size_t titles = readTitles(lines);
        for (std::size_t i = 0; i < titles; ++i) readMetadata(lines[i]);
        std::stable_sort(m_dialect.facts.begin(), m_dialect.facts.end(),
                         [](const ReadFact &a, const ReadFact &b) { return a.offset < b.offset; });
    }

private:
    std::string_view m_text;
    TextDialect &m_dialect;

    void note(const char *what, std::string value, std::string_view place)
    {
        m_dialect.facts.push_back({what, std::move(value), std::size_t(place.data() - m_text.data()), place.size()});
    }
    std::vector<std::string_view> cellsOf(std::string_view line) const
    {
        std::vector<std::string_view> cells;
        splitCells(bareLine(line), m_dialect.separator, cells);
        while (cells.size() > m_dialect.columns && bareCell(cells.back()).empty()) cells.pop_back();
        return cells;
    }
    /// Names and units from the lines next to the numbers, upwards; how many lines above them are left.
    std::size_t readTitles(const std::vector<std::string_view> &lines)
    {
        bool unitsSeen = false;
        for (std::size_t left = lines.size(); left > 0; --left) {
            const auto cells = cellsOf(lines[left - 1]);
            if (cells.size() != m_dialect.columns) return left;
            const bool unitRow =
                std::all_of(cells.begin(), cells.end(), [](auto c) { return bareCell(c).empty() || isUnit(c); });
            if (unitRow && !unitsSeen) {
                for (std::size_t i = 0; i < cells.size(); ++i) m_dialect.units[i] = withoutBrackets(cells[i]);
                note("units", {}, lines[left - 1]);
                unitsSeen = true;
                continue;
            }
            if (cells.size() == 2 && isMetadata(lines[left - 1])) return left;
            for (std::size_t i = 0; i < cells.size(); ++i)
                splitNameAndUnit(cells[i], m_dialect.names[i], m_dialect.units[i]);
            note("names", {}, lines[left - 1]);
            return left - 1;
        }
        return 0;
    }
    struct Entry {
        std::string_view key, value, unit;
    };
    /// "key,value[,unit]", "key: value" or "key = value".
    std::optional<Entry> entryOf(std::string_view line) const
    {
        line = bareLine(line);
        std::vector<std::string_view> cells;
        const std::size_t mark = line.find_first_of(":=");
        if (m_dialect.separator && m_dialect.separator != ' ' && line.find(m_dialect.separator) < mark) {
            splitCells(line, m_dialect.separator, cells);
            if (cells.size() < 2) return {}; // it stands within quotes
            return Entry{bareCell(cells[0]), bareCell(cells[1]),
                         cells.size() > 2 ? bareCell(cells[2]) : std::string_view()};
        }
        if (mark == std::string_view::npos) return {};
        std::string_view value = line.substr(mark + 1);
        while (!value.empty() && m_dialect.separator && value.back() == m_dialect.separator) value.remove_suffix(1);
        if (!value.empty() && m_dialect.separator && value.front() == m_dialect.separator) value.remove_prefix(1);
        return Entry{bareCell(line.substr(0, mark)), bareCell(value), {}};
    }
    std::optional<TimeFact> timeOf(const Entry &entry) const
    {
        std::string_view value = entry.value;
        std::string unit(withoutBrackets(entry.unit));
        const std::size_t end = std::min(value.find_first_not_of("+-0123456789.,eE"), value.size());
        if (const std::string_view behind = bareCell(value.substr(end)); !behind.empty()) {
            if (!isUnit(behind)) return {};
            unit = withoutBrackets(behind);
        }
        const std::string_view digits = bareCell(value.substr(0, end));
        Cell number = parseCell(digits, m_dialect.decimal);
        if (number.kind == CellKind::word && m_dialect.decimal == ',') number = parseCell(digits, '.');
        if (number.kind != CellKind::number) return {};
        return timeFact(entry.key, number.value, unit);
    }
    bool isMetadata(std::string_view line) const
    {
        const auto entry = entryOf(line);
        return entry && timeOf(*entry);
    }
    void readMetadata(std::string_view line)
    {
        const auto entry = entryOf(line);
        const auto fact = entry ? timeOf(*entry) : std::nullopt;
        if (!fact) {
            if (!readUnits(entry, line) && entry)
                addStated(m_dialect.stated, entry->key,
                          entry->unit.empty() ? std::string(entry->value)
                                              : std::string(entry->value) + " " + std::string(entry->unit));
            return;
        }
        const bool interval = fact->kind == TimeFact::Kind::interval;
        (interval ? m_dialect.interval : m_dialect.start) = fact->value;
        note(interval ? "sample interval" : "start", quantityText(fact->value, "s", {}, 6), line);
    }
    /// "units: V" for the columns that state none themselves, or "units;V;A" with one for each. Gives whether it is
    /// such a line.
    bool readUnits(const std::optional<Entry> &entry, std::string_view line)
    {
        if (!entry || !isUnit(entry->value)) return false;
        std::string key(entry->key);
        for (char &c : key) c = char(std::tolower(static_cast<unsigned char>(c)));
        const bool vertical = key == "unit" || key == "units" || key == "vertical unit" || key == "vertical units" ||
                              key == "y unit" || key == "y units";
        if (!vertical) return false;
        auto cells = cellsOf(line);
        while (!cells.empty() && bareCell(cells.back()).empty()) cells.pop_back();
        const std::size_t given = cells.size() - 1; // behind the word
        const bool each = given > 1 && std::all_of(cells.begin() + 1, cells.end(), [](auto c) { return isUnit(c); });
        if (each && given <= m_dialect.columns) {
            const std::size_t first = m_dialect.columns - given; // the word may stand over the times
            for (std::size_t i = 0; i < given; ++i)
                if (m_dialect.units[first + i].empty()) m_dialect.units[first + i] = withoutBrackets(cells[1 + i]);
            note("units", {}, line);
            return true;
        }
        if (plainUnit(withoutBrackets(entry->value)).second == "s") return false;
        for (std::size_t i = 0; i < m_dialect.columns; ++i) {
            if (m_dialect.units[i].empty() && !(i == 0 && namesTime(m_dialect.names[i])))
                m_dialect.units[i] = withoutBrackets(entry->value);
        }
        note("units", std::string(withoutBrackets(entry->value)), line);
        return true;
    }
};

} // namespace

TextDialect findDialect(std::string_view text, const ImportOptions &options, const std::string &file)
{
    struct Reading {
        char separator, decimal;
    };
    static constexpr Reading readings[] = {{'\t', '.'}, {'\t', ','}, {';', '.'}, {';', ','},  {',', '.'},
                                           {',', ','},  {' ', '.'},  {' ', ','}, {'\0', '.'}, {'\0', ','}};
    std::optional<Reading> best;
    Rows bestRows;
    std::size_t tooWide = 0;
    for (Reading reading : readings) {
        if (options.separator && *options.separator != reading.separator) continue;
        if (options.decimal && *options.decimal != reading.decimal) continue;
        const Rows rows = rowsUnder(text, reading.separator, reading.decimal);
        if (rows.tooWide && !tooWide) tooWide = rows.tooWide;
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
    if (tooWide && (!best || bestRows.columns == 1))
        throw Error(file + ": line " + std::to_string(tooWide),
                    "has more than " + std::to_string(mostColumns) + " columns, which is more than are read",
                    "save fewer of them in one file, or set \"separator\"");
    if (!best)
        throw Error(file + ": line 1", "no row of numbers in the first " + std::to_string(linesLooked) + " lines",
                    "set \"separator\" and \"decimal\", or save the table as numbers in columns");
    TextDialect dialect;
    dialect.separator = best->separator;
    dialect.decimal = best->decimal;
    dialect.columns = bestRows.columns;
    dialect.dataOffset = bestRows.offset;
    dialect.dataLine = bestRows.line;
    HeaderReader(text, dialect).read();
    return dialect;
}

} // namespace fulvex
