#include "time_facts.h"

#include "number_text.h"
#include "text_cells.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace fulvex {

namespace {

/// Lower case, letters and digits alone: "Sample Interval:" and "sample_interval" are the same word.
std::string plainWord(std::string_view name)
{
    std::string word;
    for (const char c : name) {
        if (std::isalnum(static_cast<unsigned char>(c))) word += char(std::tolower(static_cast<unsigned char>(c)));
    }
    return word;
}

bool isOneOf(std::string_view word, std::initializer_list<std::string_view> words)
{
    return std::find(words.begin(), words.end(), word) != words.end();
}

constexpr std::string_view unitBases[] = {"s",    "V", "A",   "W",    "Hz",   "Pa",    "S/s",
                                          "Sa/s", "m", "sec", "Volt", "volt", "Volts", "volts"};

} // namespace

std::pair<double, std::string> plainUnit(std::string_view unit)
{
    for (const std::string_view word : {"Volt", "volt", "Volts", "volts"}) {
        if (unit == word) return {1, "V"};
    }
    if (unit == "sec" || unit == "seconds" || unit == "second") return {1, "s"};
    for (const std::string_view base : {"Hz", "Pa", "Sa/s", "S/s", "s", "V", "A", "W"}) {
        if (!unit.ends_with(base)) continue;
        const auto factor = prefixFactor(unit.substr(0, unit.size() - base.size()));
        if (factor) return {*factor, std::string(base)};
    }
    return {1, std::string(unit)};
}

std::string_view withoutBrackets(std::string_view text)
{
    text = bareCell(text);
    if (text.size() >= 2 &&
        ((text.front() == '(' && text.back() == ')') || (text.front() == '[' && text.back() == ']')))
        text = text.substr(1, text.size() - 2);
    return text;
}

bool isUnit(std::string_view text)
{
    text = withoutBrackets(text);
    for (const std::string_view base : unitBases) {
        if (text.ends_with(base) && prefixFactor(text.substr(0, text.size() - base.size()))) return true;
    }
    return text == "%" || text == "1";
}

void splitNameAndUnit(std::string_view cell, std::string &name, std::string &unit)
{
    cell = bareCell(cell);
    const char close = cell.empty() ? ' ' : cell.back();
    const bool bracket = close == ')' || close == ']';
    const std::size_t open = close == ')' ? cell.rfind('(') : close == ']' ? cell.rfind('[') : cell.rfind('/');
    if (open != std::string_view::npos && isUnit(cell.substr(open + (bracket ? 0 : 1)))) {
        unit = withoutBrackets(cell.substr(open + (bracket ? 0 : 1)));
        cell = bareCell(cell.substr(0, open));
    }
    name = cell;
    for (std::size_t at = 0; (at = name.find("\"\"", at)) != std::string::npos; ++at) name.erase(at, 1);
}

std::optional<TimeFact> timeFact(std::string_view text, double value, std::string_view givenUnit)
{
    std::string name, unit(givenUnit);
    splitNameAndUnit(text, name, unit);
    const auto [factor, base] = plainUnit(unit);
    const std::string word = plainWord(name);
    if (!std::isfinite(value)) return {};
    if (isOneOf(word, {"sampleinterval", "samplinginterval", "sampleperiod", "samplingperiod", "timestep",
                       "timeincrement", "timeinterval", "timeresolution", "dt", "deltat", "interval", "tsample"})) {
        if (!(value > 0) || (!unit.empty() && base != "s")) return {};
        return TimeFact{TimeFact::Kind::interval, value * factor};
    }
    if (isOneOf(word,
                {"samplerate", "samplingrate", "samplefrequency", "samplingfrequency", "samplespersecond", "fs"})) {
        if (!(value > 0) || (!unit.empty() && base != "Hz" && base != "S/s" && base != "Sa/s")) return {};
        return TimeFact{TimeFact::Kind::interval, 1 / (value * factor)};
    }
    if (isOneOf(word,
                {"starttime", "start", "tstart", "timestart", "timeoffset", "timeorigin", "t0", "firstsampletime"})) {
        if (!unit.empty() && base != "s") return {};
        return TimeFact{TimeFact::Kind::start, value * factor};
    }
    return {};
}

bool namesTime(std::string_view name)
{
    std::string word = plainWord(name);
    while (!word.empty() && std::isdigit(static_cast<unsigned char>(word.back()))) word.pop_back(); // "t1", "time 2"
    return isOneOf(word, {"t", "x", "times", "sec", "seconds"}) || word.starts_with("time");
}

bool namesIndex(std::string_view name)
{
    return name == "#" ||
           isOneOf(plainWord(name), {"index", "sample", "samples", "n", "i", "no", "number", "point", "row"});
}

bool risesEvenly(const std::vector<double> &values)
{
    if (values.size() < 3) return false;
    const double mean = (values.back() - values.front()) / double(values.size() - 1);
    for (std::size_t i = 1; i < values.size(); ++i) {
        if (!(values[i] - values[i - 1] > 0) || std::abs(values[i] - values[i - 1] - mean) > 0.1 * mean) return false;
    }
    return true;
}

} // namespace fulvex
