#pragma once

#include "symbol_pattern.h"

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fulvex {

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

} // namespace fulvex
