#include "text_cells.h"

#include <charconv>
#include <cmath>
#include <limits>
#include <string>

namespace fulvex {

std::string_view bareCell(std::string_view text)
{
    const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
    while (!text.empty() && blank(text.front())) text.remove_prefix(1);
    while (!text.empty() && blank(text.back())) text.remove_suffix(1);
    if (text.size() >= 2 && text.front() == '"' && text.back() == '"') text = text.substr(1, text.size() - 2);
    return text;
}

static bool isGapWord(std::string_view text)
{
    if (text.empty()) return true;
    if (text.size() > 4) return false;
    std::string word;
    for (const char c : text) word += char(c | 0x20);
    return word == "nan" || word == "inf" || word == "null";
}

Cell parseCell(std::string_view text, char decimal)
{
    constexpr double nan = std::numeric_limits<double>::quiet_NaN();
    text = bareCell(text);
    char copy[64] = {};
    if (decimal == ',') {
        if (text.size() > sizeof copy) return {CellKind::word, nan};
        for (std::size_t i = 0; i < text.size(); ++i) {
            if (text[i] == '.') return {CellKind::word, nan};
            copy[i] = text[i] == ',' ? '.' : text[i];
        }
        text = std::string_view(copy, text.size());
    }
    if (!text.empty() && text.front() == '+') text.remove_prefix(1);
    double value = 0;
    const auto [end, failure] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (end == text.data() + text.size() && !text.empty()) {
        if (failure == std::errc::result_out_of_range) return {CellKind::number, 0}; // too small for a double
        if (failure == std::errc() && std::isfinite(value)) return {CellKind::number, value};
    }
    if (!text.empty() && text.front() == '-') text.remove_prefix(1);
    return {isGapWord(text) ? CellKind::gap : CellKind::word, nan};
}

void splitCells(std::string_view line, char separator, std::vector<std::string_view> &cells)
{
    cells.clear();
    if (separator == '\0') {
        cells.push_back(line);
    } else if (separator == ' ') {
        for (std::size_t at = 0; (at = line.find_first_not_of(" \t", at)) != std::string_view::npos;) {
            const std::size_t end = std::min(line.find_first_of(" \t", at), line.size());
            cells.push_back(line.substr(at, end - at));
            at = end;
        }
    } else {
        for (std::size_t at = 0;;) {
            const std::size_t end = line.find(separator, at);
            cells.push_back(line.substr(at, end == std::string_view::npos ? end : end - at));
            if (end == std::string_view::npos) break;
            at = end + 1;
        }
    }
}

bool takeLine(std::string_view &text, std::string_view &line)
{
    if (text.empty()) return false;
    const std::size_t end = text.find('\n');
    line = text.substr(0, end);
    text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
    if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
    return true;
}

} // namespace fulvex
