#pragma once

#include "progress.h"

#include <cstdint>
#include <span>
#include <string>

namespace fulvex {

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

} // namespace fulvex
