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

/// The symbol that a letter stands for, 0 to 9 and a to f; none for any other.
std::optional<std::uint8_t> symbolBy(char letter);

/// Where some symbols stand, one after another; `?` in the words is any symbol. Throws Error for words that are none.
std::vector<std::int64_t> placesOf(const std::string &words, std::span<const std::uint8_t> symbols);

} // namespace fulvex
