#pragma once

#include "nested_bins.h"
#include "population.h"

#include <cstdint>
#include <string>
#include <vector>

namespace fulvex {

/// What is told of the values of many captures together, without holding them: merged in any order and grouping it is
/// the same, to the last bit, but for which of equal values are kept as examples. What it holds grows by a few hundred
/// bytes a capture.
struct PopulationTotal {
    /// What one capture gave.
    struct Record {
        std::string capture; ///< the names of its files
        std::string reason;  ///< not empty: it could not be measured there, and why
        std::int64_t count = 0;
        double mean = 0, squares = 0; ///< squared deviations from it, added up
        double min = 0, max = 0, last = 0;
        double uncertainty = -1; ///< of the mean, by its scatter alone; all of a single number's; -1: not known
        auto operator<=>(const Record &) const = default;
    };
    /// A value and where it was.
    struct Example {
        double value = 0, time = 0, lasts = 0; ///< unit, s, s
        std::string capture;
        auto operator<=>(const Example &) const = default;
    };
    static constexpr std::size_t keptExamples = 100;
    static constexpr int keptBins = 4096; ///< between the extremes, at most

    std::vector<Record> records; ///< sorted
    NestedBins bins;
    std::vector<std::uint64_t> counts;                 ///< of values, by bins
    std::vector<Example> lowest, highest;              ///< lowest and highest first
    std::vector<std::pair<std::string, double>> parts; ///< of uncertainty beside scatter: of each kind the largest
    bool single = false;                               ///< each capture gives one number, of no moment

    static PopulationTotal of(const Measured &measured, const std::string &capture);
    static PopulationTotal merged(const std::vector<const PopulationTotal *> &some);
    /// Of all values. The last is that of the last capture by name. The uncertainty of the mean: the larger of what the
    /// captures' own say and, of four or more, what their means scatter (JCGM 100:2008, 4.2).
    Statistics statistics() const;
    /// Over the extremes, of as many bars as people can look at.
    ValueHistogram histogram() const;
};

} // namespace fulvex
