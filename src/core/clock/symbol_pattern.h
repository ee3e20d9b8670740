#pragma once

#include "progress.h"
#include "symbol_middles.h"
#include "unit_interval_map.h"

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fulvex {

/// The symbols of a clock's unit intervals first <= n < last, each by the value at its middle against `thresholds`,
/// rising (see SymbolMiddles); on all cores.
std::vector<std::uint8_t> symbolsOf(const SampleSource &source, const UnitIntervalMap &map, SampleRange unitIntervals,
                                    std::span<const double> thresholds, Progress &progress);

/// The same, and which unit intervals they are of.
struct ClockSymbols {
    SampleRange unitIntervals;
    std::vector<double> thresholds; ///< that they are told apart by
    std::vector<std::uint8_t> symbols;
};

constexpr std::int64_t longestPattern = 1 << 17; ///< symbols; that is found without being a PRBS

/// Symbols after which a pattern begins again: the smallest shift at which the sequence agrees with itself in 98 of 100
/// places, by its autocorrelation. 0: none within half of it.
std::int64_t patternLength(std::span<const std::uint8_t> symbols, Progress &progress);

/// What a signal sends over and over.
struct SymbolPattern {
    enum class Kind {
        none,      ///< nothing that repeats within what was looked at
        constant,  ///< one symbol
        clockLike, ///< two that alternate
        prbs,      ///< a maximum-length sequence of two symbols
        repeating  ///< anything else that comes again
    } kind = Kind::none;
    int order = 0;           ///< of a PRBS: the stages of its register
    bool inverted = false;   ///< its zeroes are sent as ones
    std::int64_t length = 0; ///< symbols; 0: not known
    bool operator==(const SymbolPattern &) const = default;
};
/// In words: "PRBS 9, inverted", "pattern of 40 symbols".
std::string wordsOf(const SymbolPattern &pattern);

/// Told by the first `2 * longestPattern` symbols. A PRBS is one whose recurrence holds at three of four symbols at
/// least: at an error ratio up to 0.08.
/// Source: ITU-T O.150, clause 5, orders 9 to 31; IEEE Std 802.3, 94.3.10.8, order 13; order 7: x^7 + x^6 + 1.
SymbolPattern patternOf(std::span<const std::uint8_t> symbols, Progress &progress);

/// What symbols are to be: found by itself, a PRBS, or given ones that repeat.
struct ExpectedSymbols {
    bool found = true;
    int order = 0; ///< of a PRBS; 0: of given symbols
    bool inverted = false;
    std::vector<std::uint8_t> symbols;
};
/// "auto", "prbs9", "prbs9 inverted", or symbols as digits, "0110"; none for anything else.
std::optional<ExpectedSymbols> expectedBy(const std::string &words);

/// Symbols that are not what was expected.
struct SymbolErrors {
    std::vector<std::int64_t> at; ///< places in the symbols that were looked at
    std::vector<int> by;          ///< what was read less what was expected
    std::int64_t compared = 0;
    SymbolPattern pattern; ///< that was found, where nothing was given
    int slips = 0;         ///< how often the sequence was lost and found again at another place
    std::string reason;    ///< not empty: nothing could be compared, and why
};
/// Lays a PRBS at where its recurrence has held for long, or a pattern at the shift at which fewest differ, and goes on
/// from there in both directions for as long as fewer than a third of 64 symbols differ; then it is looked for anew.
/// What lies between is not compared. Of a pattern that is found, what is expected is what most of its repeats have.
SymbolErrors errorsOf(std::span<const std::uint8_t> symbols, const ExpectedSymbols &expected, Progress &progress);

/// Where some symbols stand, one after another; `?` in the words is any symbol. Throws Error for words that are none.
std::vector<std::int64_t> placesOf(const std::string &words, std::span<const std::uint8_t> symbols);

} // namespace fulvex
