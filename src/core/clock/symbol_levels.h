#pragma once

#include "amplitude_histogram.h"
#include "progress.h"
#include "sample_source.h"
#include "unit_interval_map.h"

#include <algorithm>
#include <optional>
#include <span>
#include <vector>

namespace fulvex {

constexpr std::size_t mostSymbols = 16; ///< that are told apart

/// What the symbols of a signal are told apart by, in its unit.
struct SymbolLevels {
    std::vector<double> levels;     ///< rising, one a symbol
    std::vector<double> thresholds; ///< between them, one fewer
    double hysteresis = 0;          ///< whole width of the band around a level being crossed
    /// Where a transition between two of them is timed. Source: docs/methods.md, "Clocks".
    double middle(std::size_t a, std::size_t b) const { return (levels[a] + levels[b]) / 2; }
};

/// Which symbol a value is taken for: how many of the thresholds, rising, lie at or below it.
inline std::size_t symbolOf(double value, std::span<const double> thresholds)
{
    return std::size_t(std::upper_bound(thresholds.begin(), thresholds.end(), value) - thresholds.begin());
}

/// So many levels, evenly from the least to the most.
std::vector<double> evenLevels(double least, double most, std::size_t count);

/// How they are to be laid.
struct SymbolLevelRule {
    std::size_t count = 3;            ///< symbols, 2 to mostSymbols
    bool extremes = false;            ///< evenly between the least and the greatest sample; else found
    std::vector<double> levels;       ///< where they are given, `count` of them, rising
    std::vector<double> thresholds;   ///< the same, one fewer; else half-way between the levels
    std::optional<double> hysteresis; ///< a tenth of the narrowest opening when empty
};

/// From all samples, transitions among them: the `count` groups of least squares about their means.
/// Source: W. D. Fisher, "On Grouping for Maximum Homogeneity", J. Am. Stat. Assoc. 53 (1958).
SymbolLevels roughSymbolLevels(const AmplitudeHistogram &samples, const SymbolLevelRule &rule);

/// From the middles of unit intervals of a clock (some hundred thousand, spread evenly over a range of them): the same,
/// each level then the mean of the middles that are decided for it, until none is decided otherwise. `rough` where no
/// middle lies in the record.
SymbolLevels symbolLevels(const SampleSource &source, const UnitIntervalMap &map, SampleRange unitIntervals,
                          const SymbolLevelRule &rule, const SymbolLevels &rough, Progress &progress);

/// The histogram of some hundred thousand middles of unit intervals, spread evenly over a range of them.
AmplitudeHistogram middlesHistogram(const SampleSource &source, const UnitIntervalMap &map, SampleRange unitIntervals,
                                    Progress &progress);
/// How many amplitude levels such middles lie at: the peaks of their histogram that hold 2 % each at least, rise to
/// twice what lies between them, and are spread so evenly that no two are less than two fifths as far apart as any
/// others (what neighbours leave of each other makes humps as well, close together).
std::size_t levelsAmong(const AmplitudeHistogram &middles);

} // namespace fulvex
