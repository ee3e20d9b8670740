#include "text_cells.h"

#include <bit>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <limits>
#include <string>

namespace fulvex {

/// Behind the closing quote of a cell that begins with one; `at` itself where it does not, or where none follows.
static std::size_t behindQuotes(std::string_view line, std::size_t at)
{
    const std::size_t open = line.find_first_not_of(" \t", at);
    if (open == std::string_view::npos || line[open] != '"') return at;
    for (std::size_t close = open; (close = line.find('"', close + 1)) != std::string_view::npos;) {
        if (close + 1 == line.size() || line[close + 1] != '"') return close + 1;
        ++close; // two of them are one within
    }
    return at;
}

std::string_view bareCell(std::string_view text)
{
    const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
    while (!text.empty() && blank(text.front())) text.remove_prefix(1);
    while (!text.empty() && blank(text.back())) text.remove_suffix(1);
    if (text.size() >= 2 && text.front() == '"' && behindQuotes(text, 0) == text.size())
        text = text.substr(1, text.size() - 2);
    return text;
}

/// Whether eight letters are digits, and the number they make, by arithmetic on all eight at once.
static bool eightDigits(const char *letters, std::uint64_t &number)
{
    static_assert(std::endian::native == std::endian::little);
    std::uint64_t word;
    std::memcpy(&word, letters, 8);
    const std::uint64_t above = word + 0x4646464646464646u, below = word - 0x3030303030303030u;
    if (((above | below) & 0x8080808080808080u) != 0) return false;
    word = below * 10 + (below >> 8);                                               // pairs, in every other byte
    word = (word & 0x00FF00FF00FF00FFu) * 100 + (word >> 16 & 0x00FF00FF00FF00FFu); // fours, in every other pair
    number = (word & 0x0000FFFF0000FFFFu) * 10000 + (word >> 32 & 0x0000FFFF0000FFFFu);
    number &= 0xFFFFFFFFu;
    return true;
}

bool takePlainNumber(const char *&at, const char *end, double &value)
{
    static constexpr double powers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                        1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
    const char *p = at;
    const bool negative = p != end && *p == '-';
    p += negative;
    std::uint64_t digits = 0;
    const auto takeDigits = [&] {
        const char *first = p;
        if (std::uint64_t eight; end - p >= 8 && eightDigits(p, eight)) {
            digits = digits * 100000000 + eight;
            p += 8;
        }
        for (; p != end; ++p) {
            const auto digit = unsigned(*p) - unsigned('0');
            if (digit > 9) break;
            digits = digits * 10 + digit; // what overflows is too long below
        }
        return int(p - first);
    };
    const int whole = takeDigits();
    int fraction = 0;
    if (p != end && *p == '.') {
        ++p;
        fraction = takeDigits();
    }
    if (whole + fraction == 0 || whole + fraction > 18 || digits > std::uint64_t(1) << 53) return false;
    int exponent = -fraction;
    if (p != end && (*p | 0x20) == 'e') {
        ++p;
        const bool down = p != end && *p == '-';
        if (p != end && (*p == '-' || *p == '+')) ++p;
        int size = 0;
        const char *first = p;
        for (; p != end && unsigned(*p) - unsigned('0') <= 9 && p - first < 4; ++p) size = size * 10 + (*p - '0');
        if (p == first) return false;
        exponent += down ? -size : size;
    }
    if (exponent < -22 || exponent > 22) return false;
    const auto number = double(digits);
    value = exponent < 0 ? number / powers[-exponent] : number * powers[exponent];
    if (negative) value = -value;
    at = p;
    return true;
}

static bool isGapWord(std::string_view text)
{
    if (text.empty()) return true;
    if (text.size() > 4) return false;
    std::string word;
    for (const char c : text) word += char(c | 0x20);
    return word == "nan" || word == "inf" || word == "null";
}

/// Of a decimal number that is no double: whether it is too large, not too small.
static bool isHuge(std::string_view number)
{
    const std::size_t mark = std::min(number.find_first_of("eE"), number.size());
    int exponent = 0; // saturates: the digits before it are no match for it then
    bool down = false;
    for (const char c : number.substr(std::min(mark + 1, number.size()))) {
        if (c == '-') down = true;
        if (c >= '0' && c <= '9') exponent = std::min(exponent * 10 + (c - '0'), 100'000'000);
    }
    const std::string_view digits = number.substr(0, mark);
    const std::size_t first = digits.find_first_of("123456789"), point = std::min(digits.find('.'), digits.size());
    if (first == std::string_view::npos) return false;
    const auto place = double(point) - double(first); // of the first digit, from the point on to the left
    return place + (down ? -exponent : exponent) > 0;
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
        if (failure == std::errc::result_out_of_range)
            return isHuge(text) ? Cell{CellKind::beyond, nan} : Cell{CellKind::number, 0};
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
        for (std::size_t at = 0;
             (at = line.find_first_not_of(" \t", at)) != std::string_view::npos && cells.size() <= mostCells;) {
            const std::size_t end = std::min(line.find_first_of(" \t", behindQuotes(line, at)), line.size());
            cells.push_back(line.substr(at, end - at));
            at = end;
        }
    } else {
        for (std::size_t at = 0; cells.size() <= mostCells;) {
            const std::size_t end = line.find(separator, behindQuotes(line, at));
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
