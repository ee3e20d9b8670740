#include "text_reader.h"

#include "error.h"
#include "number_text.h"
#include "parallel.h"
#include "plain_text.h"
#include "text_cells.h"
#include "text_dialect.h"
#include "time_facts.h"
#include "uniform_times.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstring>

namespace fulvex {

namespace {

using Columns = std::vector<std::vector<double>>;

struct Table {
    Columns columns;
    std::int64_t beyond = 0;    ///< cells with numbers that are too large: gaps
    std::optional<Error> error; ///< what was wrong in it
};

std::string lineOf(const std::string &file, std::string_view before, std::size_t firstLine)
{
    return file + ": line " + std::to_string(firstLine + std::size_t(std::count(before.begin(), before.end(), '\n')));
}

/// The usual row, one plain number between each two separators: appends it, and moves `text` behind it. False, and
/// nothing done, for any other.
bool takePlainRow(std::string_view &text, const TextDialect &dialect, std::vector<double> &row)
{
    const char *p = text.data(), *end = p + text.size();
    for (std::size_t i = 0; i < row.size(); ++i) {
        if (!takePlainNumber(p, end, row[i])) return false;
        if (i + 1 == row.size()) break;
        if (p == end || *p != dialect.separator) return false;
        ++p;
    }
    if (p != end && *p == '\r') ++p;
    if (p == end || *p != '\n') return false; // also the last line, where the file may end within a row
    text.remove_prefix(std::size_t(p + 1 - text.data()));
    return true;
}

/// The rows of one stretch of whole lines. `all` starts at the table's first row, for line numbers in errors.
void parseRows(std::string_view part, std::string_view all, const TextDialect &dialect, const std::string &file,
               Table &table)
{
    Columns &columns = table.columns;
    columns.assign(dialect.columns, {});
    std::vector<std::string_view> cells;
    std::vector<double> row(dialect.columns);
    const bool plain = dialect.decimal == '.' && dialect.separator != ' ';
    for (auto &column : columns) column.reserve(part.size() / (8 * dialect.columns));
    const auto where = [&](std::string_view line) {
        return lineOf(file, all.substr(0, std::size_t(line.data() - all.data())), dialect.dataLine);
    };
    while (true) {
        while (plain && takePlainRow(part, dialect, row)) {
            for (std::size_t i = 0; i < row.size(); ++i) columns[i].push_back(row[i]);
        }
        std::string_view line;
        if (!takeLine(part, line)) break;
        if (bareCell(line).empty()) continue;
        splitCells(line, dialect.separator, cells);
        while (cells.size() > dialect.columns && bareCell(cells.back()).empty()) cells.pop_back();
        const bool last = part.empty() && line.data() + line.size() == all.data() + all.size();
        if (cells.size() != dialect.columns) {
            throw Error(
                where(line),
                std::to_string(cells.size()) + " columns where the rows above have " + std::to_string(dialect.columns),
                last ? "the file seems to end within a row: export it again" : "mend the row or set \"separator\"");
        }
        for (std::size_t i = 0; i < cells.size(); ++i) {
            const Cell cell = parseCell(cells[i], dialect.decimal);
            if (cell.kind == CellKind::word)
                throw Error(where(line),
                            "column " + std::to_string(i) + ": \"" + std::string(bareCell(cells[i]).substr(0, 40)) +
                                "\" is not a number",
                            "mend the cell, or leave it empty for a gap");
            table.beyond += cell.kind == CellKind::beyond;
            columns[i].push_back(cell.value);
        }
    }
}

Table parseTable(std::string_view table, const TextDialect &dialect, const std::string &file, Progress &progress)
{
    std::vector<std::string_view> parts; // about 1 MiB each, cut at line ends
    for (std::size_t at = 0; at < table.size();) {
        const std::size_t wanted = std::min(at + (1u << 20), table.size());
        const std::size_t end = std::min(table.find('\n', wanted), table.size() - 1) + 1;
        parts.push_back(table.substr(at, end - at));
        at = end;
    }
    // What is told is what comes first in the file, whichever part of it is read first.
    std::atomic<std::int64_t> broken = std::int64_t(parts.size());
    auto parsed = inChunks<Table>({0, std::int64_t(parts.size())}, 1, progress, [&](SampleRange mine, Table &part) {
        if (mine.first > broken) return;
        try {
            parseRows(parts[std::size_t(mine.first)], table, dialect, file, part);
        } catch (const Error &error) {
            part.error = error;
            for (std::int64_t first = broken; mine.first < first && !broken.compare_exchange_weak(first, mine.first);) {
            }
        }
    });
    for (const Table &part : parsed)
        if (part.error) throw Error(*part.error);
    Table all;
    Columns &columns = all.columns;
    columns.resize(dialect.columns);
    std::size_t rows = 0;
    for (const Table &part : parsed) {
        rows += part.columns.empty() ? 0 : part.columns[0].size();
        all.beyond += part.beyond;
    }
    struct Nothing {};
    inChunks<Nothing>({0, std::int64_t(columns.size())}, 1, progress, [&](SampleRange mine, Nothing &) {
        const auto i = std::size_t(mine.first);
        columns[i].reserve(rows);
        for (Table &part : parsed) {
            if (part.columns.empty()) continue;
            columns[i].insert(columns[i].end(), part.columns[i].begin(), part.columns[i].end());
            part.columns[i] = {};
        }
    });
    return all;
}

std::optional<std::size_t> findTimeColumn(const Columns &columns, const TextDialect &dialect,
                                          const ImportOptions &options, const std::string &file)
{
    if (options.timeColumn) {
        if (!*options.timeColumn) return {};
        if (const int *index = std::get_if<int>(&**options.timeColumn)) {
            if (*index >= 0 && std::size_t(*index) < columns.size()) return std::size_t(*index);
            throw Error(file,
                        "has no column " + std::to_string(*index) + " for \"time_column\": it has " +
                            std::to_string(columns.size()),
                        "count columns from 0");
        }
        const auto &wanted = std::get<std::string>(**options.timeColumn);
        const auto found = std::find(dialect.names.begin(), dialect.names.end(), wanted);
        if (found == dialect.names.end())
            throw Error(file, "has no column named \"" + wanted + "\" for \"time_column\"",
                        "use a name of its header, or an index");
        return std::size_t(found - dialect.names.begin());
    }
    if (columns.size() < 2) return {};
    if (namesIndex(dialect.names[0]) && namesTime(dialect.names[1])) return 1;
    const bool named = namesTime(dialect.names[0]) || plainUnit(dialect.units[0]).second == "s";
    const bool asked = options.sampleInterval || dialect.interval; // else a time column is what must tell
    if (named || (!namesIndex(dialect.names[0]) && !asked && risesEvenly(columns[0]))) return 0;
    return {};
}

/// Later columns that are the time once more, as pairs of time and channel have them, and columns without a number.
void dropIdleColumns(Columns &columns, TextDialect &dialect, std::optional<std::size_t> &timeColumn, Capture &capture)
{
    const auto drop = [&](std::size_t i, const char *why) {
        capture.remarks.push_back("column " + std::to_string(i) +
                                  (dialect.names[i].empty() ? "" : " \"" + dialect.names[i] + "\"") + " " + why +
                                  " and is left out");
        columns[i].clear();
    };
    const auto same = [](double a, double b) { return a == b || (std::isnan(a) && std::isnan(b)); };
    for (std::size_t i = 0; i < columns.size(); ++i) {
        if (timeColumn && i == *timeColumn) continue;
        const std::vector<double> &column = columns[i];
        const std::size_t others =
            std::size_t(std::count_if(columns.begin(), columns.end(), [](const auto &c) { return !c.empty(); }));
        if (others > (timeColumn ? 2u : 1u) &&
            std::all_of(column.begin(), column.end(), [](double v) { return std::isnan(v); }))
            drop(i, "holds no number");
        else if (timeColumn && namesTime(dialect.names[i]) && others > 2 &&
                 std::equal(column.begin(), column.end(), columns[*timeColumn].begin(), same))
            drop(i, "holds the same times again");
        else if (timeColumn == i + 1 && namesIndex(dialect.names[i]) && others > 2)
            drop(i, "counts the rows");
    }
}

/// Start and interval by the time column; rows that are left out become gaps.
void takeTimes(Columns &columns, std::size_t timeColumn, double factor, std::size_t firstLine, Capture &capture)
{
    const auto at = [&](std::size_t row) { return capture.file + ": line " + std::to_string(firstLine + row); };
    const std::vector<std::int64_t> places = placesOnGrid(columns[timeColumn]);
    if (!places.empty()) {
        const std::size_t rows = columns[timeColumn].size();
        const double first = columns[timeColumn].front(), last = columns[timeColumn].back();
        for (auto &column : columns) column = spreadOver(places, column);
        capture.doubts.push_back(
            std::to_string(places.back() - std::int64_t(rows)) + " of " + std::to_string(places.back()) +
            " rows are missing, as the times tell: they are gaps, which nothing is measured across");
        for (std::size_t i = 0; i < columns[timeColumn].size(); ++i) // so that it is a whole column again
            columns[timeColumn][i] = first + (last - first) * double(i) / double(places.back() - 1);
    }
    const UniformTimes times = uniformTimes(columns[timeColumn], factor, capture.file, at);
    capture.axis = times.axis;
    if (!times.doubt.empty()) capture.doubts.push_back(times.doubt);
}

/// A time column is believed, but for the last digits, which lines before the table state exactly.
void takeStatedTimes(const TextDialect &dialect, bool timed, Capture &capture)
{
    if (!timed) {
        if (dialect.interval) capture.axis.interval = *dialect.interval, capture.intervalKnown = true;
        if (dialect.start) capture.axis.start = *dialect.start;
        return;
    }
    const double span = capture.axis.interval * double(capture.axis.count);
    if (dialect.interval) {
        if (std::abs(*dialect.interval / capture.axis.interval - 1) < 1e-3)
            capture.axis.interval = *dialect.interval;
        else
            capture.remarks.push_back("the lines before the table state a sample interval of " +
                                      quantityText(*dialect.interval, "s", {}, 6) + ", its times one of " +
                                      quantityText(capture.axis.interval, "s", {}, 6) + ": the times are used");
    }
    if (!dialect.start) return;
    TimeAxis stated = capture.axis;
    stated.start = *dialect.start;
    // Times that count from a start too far off for their digits, as our own text tables have them.
    const bool fromThere = capture.axis.start == 0 && !stated.isFine();
    if (fromThere || std::abs(*dialect.start - capture.axis.start) < 1e-6 * span) capture.axis = stated;
}

/// UTF-16 as its byte order mark tells, as UTF-8; nothing for text that is bytes already.
std::optional<std::string> fromUtf16(std::span<const std::byte> bytes)
{
    if (bytes.size() < 2) return {};
    const bool little = bytes[0] == std::byte(0xFF) && bytes[1] == std::byte(0xFE);
    const bool big = bytes[0] == std::byte(0xFE) && bytes[1] == std::byte(0xFF);
    if (!little && !big) return {};
    const auto unit = [&](std::size_t i) {
        const unsigned a = unsigned(bytes[i]), b = unsigned(bytes[i + 1]);
        return little ? a | b << 8 : a << 8 | b;
    };
    std::string text;
    text.reserve(bytes.size() / 2);
    for (std::size_t i = 2; i + 1 < bytes.size(); i += 2) {
        unsigned code = unit(i);
        if (code >= 0xD800 && code < 0xDC00 && i + 3 < bytes.size()) {
            code = 0x10000 + ((code - 0xD800) << 10) + ((unit(i + 2) - 0xDC00) & 0x3FF);
            i += 2;
        }
        if (code < 0x80) {
            text += char(code);
        } else if (code < 0x800) {
            text += char(0xC0 | code >> 6);
            text += char(0x80 | (code & 63));
        } else {
            if (code < 0x10000) {
                text += char(0xE0 | code >> 12);
            } else {
                text += char(0xF0 | code >> 18);
                text += char(0x80 | (code >> 12 & 63));
            }
            text += char(0x80 | (code >> 6 & 63));
            text += char(0x80 | (code & 63));
        }
    }
    return text;
}

} // namespace

bool looksLikeText(std::span<const std::byte> head)
{
    const std::optional<std::string> wide = fromUtf16(head);
    const std::string_view text =
        wide ? std::string_view(*wide) : std::string_view(reinterpret_cast<const char *>(head.data()), head.size());
    bool digit = false;
    for (const char letter : text) {
        const auto c = static_cast<unsigned char>(letter);
        if (c < 32 && c != '\t' && c != '\n' && c != '\r') return false;
        digit |= c >= '0' && c <= '9';
    }
    return digit;
}

namespace {

/// A text's beginning as UTF-8, from which its dialect is found, and the places in the text that places in it are.
class Head {
public:
    explicit Head(std::string_view text) : m_text(text.substr(0, 1 << 20)), m_latin1(!isUtf8(m_text, true))
    {
        if (m_latin1) m_converted = fromLatin1(m_text);
    }
    std::string_view utf8() const { return m_latin1 ? std::string_view(m_converted) : m_text; }
    std::size_t placeOf(std::size_t offset) const
    {
        if (!m_latin1) return offset;
        std::size_t place = 0;
        for (std::size_t at = 0; at < offset && place < m_text.size(); ++place)
            at += static_cast<unsigned char>(m_text[place]) < 0x80 ? 1 : 2;
        return place;
    }

private:
    std::string_view m_text;
    bool m_latin1;
    std::string m_converted;
};

} // namespace

Capture readText(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress)
{
    const std::string name = file->path().string();
    const std::optional<std::string> wide = fromUtf16(file->bytes());
    std::string_view text =
        wide ? std::string_view(*wide)
             : std::string_view(reinterpret_cast<const char *>(file->bytes().data()), file->bytes().size());
    const std::size_t mark = text.starts_with("\xEF\xBB\xBF") ? 3 : 0;
    text.remove_prefix(mark);
    const Head head(text);
    TextDialect dialect = findDialect(head.utf8(), options, name);
    checkColumns(dialect.columns, name, "save fewer of them in one file");
    dialect.dataOffset = head.placeOf(dialect.dataOffset);
    for (ReadFact &fact : dialect.facts) {
        const std::size_t end = head.placeOf(fact.offset + fact.length);
        fact.offset = head.placeOf(fact.offset);
        fact.length = end - fact.offset;
    }
    Table table = parseTable(text.substr(dialect.dataOffset), dialect, name, progress);
    Columns &columns = table.columns;
    file->release(file->bytes());

    Capture capture;
    capture.file = name;
    capture.axis.count = std::int64_t(columns[0].size());
    capture.choices = dialect.names;
    if (table.beyond)
        capture.doubts.push_back(std::to_string(table.beyond) +
                                 " cells hold numbers too large to be computed with: they are gaps");
    auto timeColumn = findTimeColumn(columns, dialect, options, name);
    if (timeColumn) {
        const double factor =
            plainUnit(dialect.units[*timeColumn]).second == "s" ? plainUnit(dialect.units[*timeColumn]).first : 1;
        if (columns[0].size() >= 2 || !(options.sampleInterval || dialect.interval))
            takeTimes(columns, *timeColumn, factor, dialect.dataLine, capture);
    } else {
        capture.intervalKnown = false;
    }
    if (timeColumn && !dialect.interval) // its first row stands for it
        dialect.facts.push_back(
            {"sample interval", quantityText(capture.axis.interval, "s", {}, 6), dialect.dataOffset, 1});
    takeStatedTimes(dialect, timeColumn.has_value(), capture);
    dropIdleColumns(columns, dialect, timeColumn, capture);
    for (std::size_t i = 0; i < columns.size(); ++i) {
        if ((timeColumn && i == *timeColumn) || columns[i].empty()) continue;
        const auto [factor, unit] = plainUnit(dialect.units[i]);
        if (factor != 1)
            capture.remarks.push_back("column " + std::to_string(i) + " is in " + dialect.units[i] +
                                      ": its values are taken in " + unit);
        capture.columns.push_back(makeWaveform(dialect.names[i], std::move(columns[i])));
        capture.columns.back().scale = factor;
        capture.columns.back().unit = unit;
    }
    if (capture.columns.empty())
        throw Error(name, "has a time column but no samples", "set \"time_column\": null if the one column is samples");
    capture.facts = std::move(dialect.facts);
    capture.stated = std::move(dialect.stated);
    if (wide) { // their places in the file: two bytes a letter, as good as always
        for (ReadFact &fact : capture.facts) fact = {fact.what, fact.value, 2 + 2 * fact.offset, 2 * fact.length};
    } else {
        for (ReadFact &fact : capture.facts) fact.offset += mark;
    }
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
