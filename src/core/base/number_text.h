#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace fulvex {

/// How a quantity of some magnitude is written: shown number = value * factor, followed by prefix and unit.
struct SiScale {
    double factor = 1;
    std::string unit; ///< with its prefix, "ps"
};

/// The prefix that puts |magnitude| into 1 to 1000; none for units that take none (%, dB, deg, UI, counts).
SiScale siScale(double magnitude, std::string_view unit);

/// How numbers look to this user, where they are shown: with their own decimal mark, times along a record in a unit of
/// their choice (a power of ten of seconds; empty: as fits). In files, and whatever a thread makes that does not show
/// anything, numbers have a point.
struct NumberManner {
    char decimalMark = '.';
    std::optional<int> timeExponent;
};
void setNumberManner(const NumberManner &manner); ///< for all threads that show numbers
NumberManner numberManner();                      ///< of the thread that asks
void showNumbersHere();                           ///< what this thread makes is shown from here on

/// As long as it lives, this thread makes numbers for a file.
class PlainNumbers {
public:
    PlainNumbers();
    ~PlainNumbers();
    PlainNumbers(const PlainNumbers &) = delete;
    PlainNumbers &operator=(const PlainNumbers &) = delete;

private:
    bool m_shown;
};

/// The shortest text that is read as the same number, with a point and no unit: for files. Empty for what is none.
std::string plainText(double value);
/// The number that a text is, with a point, a sign or none, and nothing else; empty for any other text, and where the
/// number is not finite.
std::optional<double> plainNumber(std::string_view text);

/// The same with the decimal mark of whoever looks, as a field has it.
std::string typedNumber(double value);

/// A number with a given number of decimals, a true minus sign and no "-0".
std::string fixedText(double value, int decimals);

/// Value and unit, e.g. "412.6 ps". The last digit is the first one that `uncertainty` touches; without an uncertainty
/// (null, zero or not finite) `digits` significant ones. A value that is not finite gives an em dash.
std::string quantityText(double value, std::string_view unit, std::optional<double> uncertainty = {}, int digits = 4);

/// "2 ns" of "2.000 ns": without zeros that say nothing behind the decimal mark, as numberManner() has it.
std::string withoutIdleZeros(const std::string &quantity);

/// "412.6 ± 0.2 ps"; without an uncertainty as quantityText.
std::string quantityWithUncertainty(double value, std::string_view unit, std::optional<double> uncertainty);

/// Reads "5", "-1.5e6", "5M", "5 MHz", "20p": a number (with the user's decimal mark as well, where it is shown), an SI
/// prefix, and a unit that must be `unit` or absent.
/// Empty when the text is not that.
std::optional<double> parseQuantity(std::string_view text, std::string_view unit);

/// The factor of an SI prefix: "p" 1e-12 … "T" 1e12, "" 1, "u" and "µ" 1e-6. Empty for anything else.
std::optional<double> prefixFactor(std::string_view prefix);

} // namespace fulvex
