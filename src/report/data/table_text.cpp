#include "table_text.h"

#include "limit_text.h"
#include "number_text.h"
#include "plain_text.h"
#include "quantity_table.h"

#include <algorithm>

namespace fulvex {

namespace {

constexpr const char *unknown = "\u2014";

/// Nothing is known of it yet.
LedgerLine lineToCome(const MeasurementEntry &entry)
{
    LedgerLine line;
    line.id = entry.id;
    const Quantity *quantity = findQuantity(entry.quantity);
    line.quantity = quantity ? quantity->title : entry.quantity;
    line.of = !entry.source.empty() ? entry.source : !entry.clock.empty() ? entry.clock : entry.eye;
    line.mean = "…";
    line.spread = line.min = line.max = line.count = line.limit = line.verdict = line.uncertainty = line.last = unknown;
    line.pending = true;
    return line;
}

/// What is known is of an older revision: numbers to be read as such, and no verdict.
void markPending(LedgerLine &line)
{
    line.pending = true;
    line.state = Verdict::none;
    line.verdict = "…";
}

LedgerLine lineOf(const Row &row, const MeasurementEntry &entry)
{
    LedgerLine line;
    line.id = row.id;
    line.quantity = row.title;
    line.of = entry.clock.empty() || row.source == entry.clock ? row.source : row.source + " · " + entry.clock;
    const Quantity *quantity = findQuantity(row.quantity);
    if (quantity && quantity->takes("to")) line.of += " → " + entry.to;
    line.limit = limitText(entry.limit, row.unit);
    line.state = row.verdict;
    line.verdict = row.verdict == Verdict::none ? unknown : verdictName(row.verdict);
    line.reason = row.reason;
    const Statistics &s = row.statistics;
    const auto shown = [&](const std::optional<double> &value, std::optional<double> step) {
        return value ? quantityText(*value, row.unit, step) : unknown;
    };
    line.count = row.measurable() ? std::to_string(s.count) : unknown;
    line.mean = s.mean             ? quantityWithUncertainty(*s.mean, row.unit, s.uncertainty)
                : row.measurable() ? unknown
                                   : "unmeasurable";
    line.spread = shown(s.std, {});
    const std::optional<double> step = s.std && *s.std > 0 ? std::optional(*s.std / 10) : std::nullopt;
    line.uncertainty = s.uncertainty ? quantityText(*s.uncertainty, row.unit, {}, 2) : unknown;
    line.last = s.count > 1 ? shown(s.last, step) : unknown;
    line.keptOut = row.keptOutCount;
    line.min = s.count > 1 ? shown(s.min, step) : unknown;
    line.max = s.count > 1 ? shown(s.max, step) : unknown;
    if (row.pending) markPending(line);
    return line;
}

LedgerLine lineOf(const MaskRun &mask)
{
    LedgerLine line;
    line.isMask = true;
    line.id = mask.id;
    line.quantity = "mask " + (mask.definition.title.empty() ? mask.id : mask.definition.title);
    line.of = mask.eye.empty() ? mask.source : mask.eye;
    line.spread = line.min = line.max = line.count = line.uncertainty = line.last = unknown;
    line.reason = mask.reason;
    line.mean = "unmeasurable";
    line.limit = "0 failed";
    if (mask.result) {
        line.mean = std::to_string(mask.result->failedUnitIntervals) + (mask.atEdges ? " failed edges" : " failed UI");
        line.count = std::to_string(mask.result->unitIntervals);
        if (mask.result->margin) line.spread = "margin " + quantityText(100 * *mask.result->margin, "%", {}, 3);
    }
    line.state = mask.verdict;
    line.verdict = verdictName(mask.verdict);
    if (mask.pending) markPending(line);
    return line;
}

std::string plain(const std::optional<double> &value)
{
    return value ? plainText(*value) : std::string();
}

/// A cell of words. What a spreadsheet would take for a formula is led by an apostrophe, which it takes for text.
std::string word(const std::string &text)
{
    const bool formula = !text.empty() && std::string_view("=+-@\t\r").find(text[0]) != std::string_view::npos;
    return (formula ? "'" : "") + asUtf8(text);
}

std::string csvQuoted(const std::string &text)
{
    if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

std::string joined(const std::vector<std::string> &cells)
{
    std::string line;
    for (std::size_t i = 0; i < cells.size(); ++i) line += (i ? "," : "") + csvQuoted(cells[i]);
    return line + "\r\n";
}

std::size_t shownWidth(const std::string &text)
{
    return std::size_t(std::count_if(text.begin(), text.end(), [](char c) { return (c & 0xC0) != 0x80; }));
}

} // namespace

const std::vector<LedgerLine> &LedgerLines::of(const Results &results)
{
    const auto &entries = results.document->measurements;
    m_lines.resize(m_origins.size()); // without the masks' of last time
    m_lines.resize(entries.size());
    m_origins.resize(entries.size());
    auto row = results.rows.begin(); // in the document's order; while it is computed some may be missing
    for (std::size_t i = 0; i < entries.size(); ++i) {
        const bool known = row != results.rows.end() && row->id == entries[i].id;
        Origin origin{entries[i], nullptr, nullptr, true, Verdict::none, {}, {}, {}};
        if (known)
            origin = {entries[i],   row->measured, row->total,  row->pending,
                      row->verdict, row->title,    row->source, row->unit};
        if (m_lines[i].id.empty() || !(m_origins[i] == origin))
            m_lines[i] = known ? lineOf(*row, entries[i]) : lineToCome(entries[i]);
        m_origins[i] = std::move(origin);
        if (known) ++row;
    }
    for (const MaskRun &mask : results.masks) m_lines.push_back(lineOf(mask));
    return m_lines;
}

std::vector<LedgerLine> ledgerLines(const Results &results)
{
    return LedgerLines().of(results);
}

std::string measurementsCsv(const Results &results)
{
    std::string text = joined({"id", "quantity", "source", "unit", "status", "count", "mean", "std", "min", "max",
                               "last", "uncertainty", "limit_min", "limit_max", "verdict", "reason"});
    for (const Row &row : results.rows) {
        const Statistics &s = row.statistics;
        const LimitEntry &limit = findEntry(results.document->measurements, row.id)->limit;
        text += joined({row.id, row.quantity, row.source, word(row.unit), row.measurable() ? "ok" : "unmeasurable",
                        std::to_string(s.count), plain(s.mean), plain(s.std), plain(s.min), plain(s.max), plain(s.last),
                        plain(s.uncertainty), plain(limit.min), plain(limit.max), verdictName(row.verdict),
                        word(row.reason)});
    }
    for (const MaskRun &mask : results.masks) {
        const bool run = mask.result != nullptr;
        text += joined({mask.id, "mask_failed_unit_intervals", mask.eye.empty() ? mask.source : mask.eye, "UI",
                        run ? "ok" : "unmeasurable", run ? "1" : "0",
                        run ? std::to_string(mask.result->failedUnitIntervals) : "", "", "", "", "", "", "", "0",
                        verdictName(mask.verdict), word(mask.reason)});
    }
    return text;
}

std::string alignedText(const std::vector<std::vector<std::string>> &lines,
                        const std::function<bool(std::size_t)> &isLeft)
{
    std::vector<std::size_t> widths;
    for (const auto &line : lines) {
        widths.resize(std::max(widths.size(), line.size()));
        for (std::size_t i = 0; i < line.size(); ++i) widths[i] = std::max(widths[i], shownWidth(line[i]));
    }
    std::string text;
    for (const auto &line : lines) {
        std::string out;
        for (std::size_t i = 0; i < line.size(); ++i) {
            const std::string pad(widths[i] - shownWidth(line[i]), ' ');
            out += (isLeft(i) ? line[i] + pad : pad + line[i]) + "  ";
        }
        out.erase(out.find_last_not_of(' ') + 1);
        text += out + "\n";
    }
    return text;
}

std::string terminalTable(const Results &results)
{
    std::vector<std::vector<std::string>> rows{
        {"id", "quantity", "of", "mean", "spread", "min", "max", "count", "limit", "verdict"}};
    for (const LedgerLine &line : ledgerLines(results))
        rows.push_back({line.id, line.quantity, line.of, line.mean, line.spread, line.min, line.max, line.count,
                        line.limit, line.verdict});
    for (auto &row : rows) std::for_each(row.begin(), row.end(), [](std::string &cell) { cell = shownText(cell); });
    std::string text = alignedText(rows, [last = rows[0].size() - 1](std::size_t i) { return i < 3 || i == last; });
    const auto explain = [&](const std::string &what, const std::string &reason) {
        if (!reason.empty()) text += what + ": " + shownText(reason) + "\n";
    };
    for (const ClockResult &clock : results.clocks) explain("clock " + clock.id, clock.reason);
    for (const EyeResult &eye : results.eyes) explain("eye " + eye.id, eye.reason);
    for (const LedgerLine &line : ledgerLines(results)) explain(line.id, line.reason);
    for (const MaskRun &mask : results.masks)
        for (const MaskRun::OfCapture &capture : mask.captures)
            explain(mask.id + " of " + shownText(capture.files),
                    !capture.reason.empty()
                        ? capture.reason
                        : std::to_string(capture.failedUnitIntervals) + " of " + std::to_string(capture.unitIntervals) +
                              " failed, " + std::to_string(capture.hits) + " hits");
    return text;
}

} // namespace fulvex
