#pragma once

#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// One click that mends what was found; every kind is a change of the document.
struct Remedy {
    /// A field of an entry, and what it becomes: a word, a number, or neither (it is left to the program).
    struct Setting {
        std::string key;
        std::optional<double> number;
        std::string word = {};
    };
    enum class Kind { delay, scale, offset, region, origin, settings } kind = Kind::delay;
    std::string channel;
    double value =
        0; ///< added to the delay (s), multiplied into scale and offset, added to the offset (V); the time origin (s)
    double from = 0, to = 0; ///< s, of the region
    std::string words;       ///< on the button: "deskew n by -12.3 ps"
    std::string entry = {};  ///< whose settings
    std::vector<Setting> settings = {};
};

/// Something about a capture that may spoil results, with what it does to them.
struct Finding {
    std::string check, level, text; ///< level: info, warning
    std::string channel;            ///< where it is to be seen; may be empty
    std::optional<double> from, to; ///< s, the place on the trace
    std::optional<Remedy> remedy;
};

/// A share of 1 in percent, for people.
std::string percentText(double share);

} // namespace fulvex
