#include "number_text.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <charconv>
#include <cmath>

namespace fulvex {

namespace {

struct Prefix {
    const char *symbol;
    int exponent;
};
constexpr std::array<Prefix, 11> prefixes{{{"a", -18},
                                           {"f", -15},
                                           {"p", -12},
                                           {"n", -9},
                                           {"µ", -6},
                                           {"m", -3},
                                           {"", 0},
                                           {"k", 3},
                                           {"M", 6},
                                           {"G", 9},
                                           {"T", 12}}};

bool takesPrefix(std::string_view unit)
{
    static constexpr std::array<std::string_view, 7> plain{"", "%", "dB", "deg", "UI", "dBc/Hz", "V/V"};
    if (std::find(plain.begin(), plain.end(), unit) != plain.end() || unit.starts_with('1')) return false;
    const std::string_view first = unit.substr(0, std::min(unit.find('/'), unit.find("·")));
    for (const std::string_view power : {"²", "³", "^"}) // a prefix would be raised with it
        if (first.find(power) != first.npos) return false;
    return true;
}

constexpr int asFits = 1000; // no exponent
std::atomic<char> shownMark{'.'};
std::atomic<int> shownTimeExponent{asFits};
thread_local bool isShown = false;

std::string joined(const std::string &number, const std::string &unit)
{
    return unit.empty() ? number : number + " " + unit;
}

/// Decimals so that the digit of `step`'s first significant place is the last one shown.
int decimalsFor(double step)
{
    return int(std::clamp(-std::floor(std::log10(step)), 0.0, 9.0)); // of any number: a step may be too small for one
}

} // namespace

void setNumberManner(const NumberManner &manner)
{
    shownMark = manner.decimalMark;
    shownTimeExponent = manner.timeExponent.value_or(asFits);
}

NumberManner numberManner()
{
    if (!isShown) return {};
    const int exponent = shownTimeExponent;
    return {shownMark, exponent == asFits ? std::nullopt : std::optional(exponent)};
}

void showNumbersHere()
{
    isShown = true;
}

PlainNumbers::PlainNumbers() : m_shown(std::exchange(isShown, false)) {}

PlainNumbers::~PlainNumbers()
{
    isShown = m_shown;
}

static void setMark(std::string &number)
{
    const char mark = numberManner().decimalMark;
    if (mark != '.') std::replace(number.begin(), number.end(), '.', mark);
}

SiScale siScale(double magnitude, std::string_view unit)
{
    magnitude = std::abs(magnitude);
    if (!takesPrefix(unit) || !std::isfinite(magnitude) || magnitude == 0) return {1, std::string(unit)};
    const Prefix *best = &prefixes.front();
    for (const Prefix &prefix : prefixes) {
        if (magnitude * std::pow(10.0, -prefix.exponent) >= 0.99995) best = &prefix;
    }
    return {std::pow(10.0, -best->exponent), std::string(best->symbol) + std::string(unit)};
}

std::string plainText(double value)
{
    if (!(value == value)) return {};
    char buffer[32];
    return {buffer, std::to_chars(buffer, buffer + sizeof buffer, value).ptr};
}

std::string typedNumber(double value)
{
    std::string text = plainText(value);
    setMark(text);
    return text;
}

std::string fixedText(double value, int decimals)
{
    char buffer[400];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, value, std::chars_format::fixed, decimals).ptr;
    std::string text(buffer, end);
    if (text.front() == '-') {
        text.erase(0, 1);
        if (text.find_first_not_of("0.") != std::string::npos) text = "\u2212" + text;
    }
    setMark(text);
    return text;
}

static int decimalsOf(double shown, std::optional<double> uncertainty, double factor, int digits)
{
    if (uncertainty && std::isfinite(*uncertainty) && *uncertainty > 0) return decimalsFor(*uncertainty * factor);
    if (shown == 0) return 0;
    return int(std::clamp(digits - 1 - std::floor(std::log10(std::abs(shown) * (1 + 1e-6))), 0.0, 9.0));
}

std::string quantityText(double value, std::string_view unit, std::optional<double> uncertainty, int digits)
{
    if (!std::isfinite(value)) return "\u2014";
    const double known = uncertainty.value_or(0);
    const SiScale scale = siScale(std::max(std::abs(value), std::isfinite(known) ? known : 0), unit);
    const double shown = value * scale.factor;
    return joined(fixedText(shown, decimalsOf(shown, uncertainty, scale.factor, digits)), scale.unit);
}

std::string withoutIdleZeros(const std::string &quantity)
{
    const std::size_t size = std::min(quantity.find(' '), quantity.size());
    std::string number = quantity.substr(0, size);
    if (const char mark = numberManner().decimalMark; number.find(mark) != std::string::npos) {
        number.erase(number.find_last_not_of('0') + 1);
        if (number.back() == mark) number.pop_back();
    }
    return number + quantity.substr(size);
}

std::string quantityWithUncertainty(double value, std::string_view unit, std::optional<double> uncertainty)
{
    const bool counted = uncertainty && *uncertainty == 0 && unit.empty() && value == std::round(value);
    if (counted && std::abs(value) < 1e15) return fixedText(value, 0);
    if (!std::isfinite(value) || !uncertainty || !std::isfinite(*uncertainty) || *uncertainty <= 0)
        return quantityText(value, unit, {}, 5);
    const SiScale scale = siScale(std::max(std::abs(value), *uncertainty), unit);
    const int decimals = decimalsOf(value * scale.factor, uncertainty, scale.factor, 4);
    const std::string known = fixedText(*uncertainty * scale.factor, decimals);
    if (known.find_first_of("123456789") == std::string::npos) // it is below the last digit that can be told
        return quantityText(value, unit, uncertainty) + " ± " + quantityText(*uncertainty, unit, {}, 2);
    return joined(fixedText(value * scale.factor, decimals) + " ± " + known, scale.unit);
}

std::optional<double> prefixFactor(std::string_view symbol)
{
    if (symbol == "u" || symbol == "\u03bc") symbol = "µ"; // also the Greek letter
    for (const Prefix &prefix : prefixes) {
        if (symbol == prefix.symbol) return std::pow(10.0, prefix.exponent);
    }
    return {};
}

std::optional<double> plainNumber(std::string_view text)
{
    if (text.starts_with('+') && !text.starts_with("+-")) text.remove_prefix(1);
    double value = 0;
    const auto [end, failure] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (failure != std::errc() || end != text.data() + text.size() || !std::isfinite(value)) return {};
    return value;
}

std::optional<double> parseQuantity(std::string_view text, std::string_view unit)
{
    const auto trim = [](std::string_view &part) {
        while (!part.empty() && part.front() == ' ') part.remove_prefix(1);
        while (!part.empty() && part.back() == ' ') part.remove_suffix(1);
    };
    trim(text);
    std::string plain(text);
    if (plain.starts_with("\u2212")) plain.replace(0, 3, "-"); // the true minus sign that we write ourselves
    if (const auto mark = plain.find(numberManner().decimalMark);
        mark != std::string::npos && plain.find('.') == std::string::npos)
        plain[mark] = '.';
    double value = 0;
    const char *begin = plain.data() + (plain.starts_with("+") ? 1 : 0);
    const auto [end, failure] = std::from_chars(begin, plain.data() + plain.size(), value);
    if (failure != std::errc() || !std::isfinite(value)) return {};
    std::string_view rest(end, std::size_t(plain.data() + plain.size() - end));
    trim(rest);
    if (!unit.empty() && rest.ends_with(unit)) rest.remove_suffix(unit.size());
    const auto factor = prefixFactor(rest);
    if (!factor || !std::isfinite(value * *factor)) return {};
    return value * *factor;
}

} // namespace fulvex
