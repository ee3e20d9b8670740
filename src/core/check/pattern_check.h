#pragma once

#include "edge_list.h"
#include "finding.h"
#include "progress.h"

#include <cstdint>
#include <functional>
#include <span>
#include <vector>

namespace fulvex {

/// The symbols between the edges of a signal, whose numbers on the clock `numberOf` gives: of the longest
/// stretch without a gap, at most twice the longest pattern.
std::vector<std::uint8_t> symbolsOf(const EdgeList &edges, const std::function<std::int64_t(std::size_t)> &numberOf);

constexpr std::int64_t longestPattern = 1 << 17; ///< symbols; that is found

/// Symbols after which a pattern begins again: the smallest shift at which the sequence agrees with itself in 98 of 100
/// places, by its autocorrelation. 0: none within half of it.
std::int64_t patternLength(std::span<const std::uint8_t> symbols, Progress &progress);

constexpr std::int64_t wantedRepeats = 30;

/// A remark where a pattern repeats less often than that in a record of `unitIntervals`. Never in one of as many as the
/// longest pattern takes: nothing needs to be looked for.
std::vector<Finding> checkPattern(std::int64_t length, std::int64_t unitIntervals, const std::string &channel);

} // namespace fulvex
