#include "text_reader.h"

#include "error.h"
#include "number_text.h"
#include "parallel.h"
#include "text_cells.h"
#include "text_dialect.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace fulvex {

namespace {

using Columns = std::vector<std::vector<double>>;

std::string lineOf(const std::string &file, std::string_view before, std::size_t firstLine)
{
    return file + ": line " + std::to_string(firstLine + std::size_t(std::count(before.begin(), before.end(), '\n')));
}

/// The rows of one stretch of whole lines. `all` starts at the table's first row, for line numbers in errors.
void parseRows(std::string_view part, std::string_view all, const TextDialect &dialect, const std::string &file,
               Columns &columns)
{
    columns.assign(dialect.columns, {});
    std::vector<std::string_view> cells;
    const auto where = [&](std::string_view line) {
        return lineOf(file, all.substr(0, std::size_t(line.data() - all.data())), dialect.dataLine);
    };
    for (std::string_view line; takeLine(part, line);) {
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
            columns[i].push_back(cell.value);
        }
    }
}

Columns parseTable(std::string_view table, const TextDialect &dialect, const std::string &file, Progress &progress)
{
    std::vector<std::string_view> parts; // about 1 MiB each, cut at line ends
    for (std::size_t at = 0; at < table.size();) {
        const std::size_t wanted = std::min(at + (1u << 20), table.size());
        const std::size_t end = std::min(table.find('\n', wanted), table.size() - 1) + 1;
        parts.push_back(table.substr(at, end - at));
        at = end;
    }
    auto parsed = inChunks<Columns>({0, std::int64_t(parts.size())}, 1, progress, [&](SampleRange mine, Columns &rows) {
        parseRows(parts[std::size_t(mine.first)], table, dialect, file, rows);
    });
    Columns columns(dialect.columns);
    std::size_t rows = 0;
    for (const Columns &part : parsed) rows += part.empty() ? 0 : part[0].size();
    for (auto &column : columns) column.reserve(rows);
    for (Columns &part : parsed) {
        for (std::size_t i = 0; i < part.size(); ++i)
            columns[i].insert(columns[i].end(), part[i].begin(), part[i].end());
        part = {};
    }
    return columns;
}

/// The factor of a unit's prefix and the plain unit: "mV" gives 0.001 and "V".
std::pair<double, std::string> plainUnit(const std::string &unit)
{
    for (const std::string_view base : {"s", "V", "A", "W", "Hz", "Pa"}) {
        if (!unit.ends_with(base)) continue;
        const auto factor = prefixFactor(std::string_view(unit).substr(0, unit.size() - base.size()));
        if (factor) return {*factor, std::string(base)};
    }
    for (const std::string_view word : {"Volt", "volt", "Volts", "volts"}) {
        if (unit == word) return {1, "V"};
    }
    if (unit == "sec") return {1, "s"};
    return {1, unit};
}

std::string lowerCase(const std::string &name)
{
    std::string lower;
    for (const char c : name) lower += char(std::tolower(static_cast<unsigned char>(c)));
    return lower;
}

bool namesTime(const std::string &name)
{
    const std::string lower = lowerCase(name);
    return lower == "t" || lower.starts_with("time") || lower == "x";
}

/// A running number is no time, though it rises evenly.
bool namesIndex(const std::string &name)
{
    const std::string lower = lowerCase(name);
    for (const std::string_view word : {"index", "sample", "samples", "n", "i", "#", "no", "no.", "point", "row"}) {
        if (lower == word) return true;
    }
    return false;
}

/// Whether each step is positive and within a tenth of the first: what a column of times looks like, and no signal.
bool risesEvenly(const std::vector<double> &values)
{
    if (values.size() < 3) return false;
    const double mean = (values.back() - values.front()) / double(values.size() - 1);
    for (std::size_t i = 1; i < values.size(); ++i) {
        if (!(values[i] - values[i - 1] > 0) || std::abs(values[i] - values[i - 1] - mean) > 0.1 * mean) return false;
    }
    return true;
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
    const bool named = namesTime(dialect.names[0]) || plainUnit(dialect.units[0]).second == "s";
    if (named || (!namesIndex(dialect.names[0]) && !options.sampleInterval && risesEvenly(columns[0]))) return 0;
    return {};
}

/// Start and interval of a time column by its ends; throws where it does not lie on that grid.
TimeAxis axisOf(const std::vector<double> &times, double factor, const std::string &file, std::size_t firstLine)
{
    TimeAxis axis{0, 1, std::int64_t(times.size())};
    const auto at = [&](std::size_t row) { return file + ": line " + std::to_string(firstLine + row); };
    for (std::size_t i = 0; i < times.size(); ++i) {
        if (std::isnan(times[i]))
            throw Error(at(i), "the time is missing", "mend the cell or set \"time_column\": null");
    }
    if (times.size() < 2) throw Error(file, "one row gives no sample interval", "export more than one sample");
    axis.start = times.front() * factor;
    const double interval = (times.back() - times.front()) / double(times.size() - 1);
    double quantum = std::abs(interval), worst = 0; // times are often printed with few digits: their step is no jitter
    std::size_t worstAt = 0;
    for (std::size_t i = 1; i < times.size(); ++i) {
        const double step = times[i] - times[i - 1];
        if (step < 0 || !(interval > 0))
            throw Error(at(i), "the time runs backwards or stands still",
                        "set another \"time_column\", or null and a \"sample_interval\"");
        quantum = std::max(quantum, step > 0 && step < 1.5 * interval ? step : 0.0);
        const double off = std::abs(times[i] - times.front() - interval * double(i));
        if (off > worst) worst = off, worstAt = i;
    }
    if (worst > 0.75 * quantum)
        throw Error(at(worstAt),
                    "the time lies " + quantityText(worst * factor, "s") + " off a uniform grid of " +
                        quantityText(interval * factor, "s"),
                    "export uniformly sampled data, or set \"time_column\": null and a \"sample_interval\"");
    axis.interval = interval * factor;
    return axis;
}

} // namespace

bool looksLikeText(std::span<const std::byte> head)
{
    bool digit = false;
    for (const std::byte byte : head) {
        const auto c = static_cast<unsigned char>(byte);
        if (c < 32 && c != '\t' && c != '\n' && c != '\r') return false;
        digit |= c >= '0' && c <= '9';
    }
    return digit;
}

Capture readText(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress)
{
    const std::string name = file->path().string();
    std::string_view text(reinterpret_cast<const char *>(file->bytes().data()), file->bytes().size());
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    const TextDialect dialect = findDialect(text.substr(0, 1 << 20), options, name);
    Columns columns = parseTable(text.substr(dialect.dataOffset), dialect, name, progress);
    file->release(file->bytes());

    Capture capture;
    const auto timeColumn = findTimeColumn(columns, dialect, options, name);
    if (timeColumn) {
        const double factor =
            plainUnit(dialect.units[*timeColumn]).second == "s" ? plainUnit(dialect.units[*timeColumn]).first : 1;
        if (columns[0].size() >= 2 || !options.sampleInterval)
            capture.axis = axisOf(columns[*timeColumn], factor, name, dialect.dataLine);
    } else {
        capture.intervalKnown = false;
    }
    for (std::size_t i = 0; i < columns.size(); ++i) {
        if (timeColumn && i == *timeColumn) continue;
        const auto [factor, unit] = plainUnit(dialect.units[i]);
        if (factor != 1) {
            for (double &value : columns[i]) value *= factor;
            capture.remarks.push_back("column " + std::to_string(i) + " is in " + dialect.units[i] +
                                      ": its values are taken in " + unit);
        }
        capture.columns.push_back(makeWaveform(dialect.names[i], std::move(columns[i])));
        capture.columns.back().unit = unit;
    }
    if (capture.columns.empty())
        throw Error(name, "has a time column but no samples", "set \"time_column\": null if the one column is samples");
    capture.axis.count = capture.columns[0].count;
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
