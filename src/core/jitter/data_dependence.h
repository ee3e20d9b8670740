#pragma once

#include "histories.h"
#include "pattern_sums.h"

#include <string>
#include <vector>

namespace fulvex {

/// How edges of data come to be early or late by the symbols around them.
struct DataDependence {
    std::int64_t pattern = 0; ///< symbols after which data repeat; 0: told by their histories
    double repeats = 0;       ///< of the pattern, in the record
    struct Group {
        std::int64_t place = 0; ///< of the pattern: its boundary; of histories: none
        std::uint8_t step = 0;  ///< 16 * the symbol left + the symbol reached
        std::string symbols;    ///< around the edge, "0001|0"
        double mean = 0;        ///< s, as far as it is no chance
        double uncertainty = 0; ///< s, of the mean
        double taken = 0;       ///< s²: variance that the mean took along of what is random
        std::int64_t count = 0; ///< edges
    };
    std::vector<Group> groups;              ///< edges of the pattern; or histories
    RawVector<std::uint32_t> of;            ///< each edge's group
    double peakToPeak = 0, uncertainty = 0; ///< s
    std::string reason;                     ///< not empty: cannot be told, and why
    double meanOf(std::size_t edge) const { return groups[of[edge]].mean; }
};

/// By the pattern that edges repeat, as far as it is told by its sums and by those of their histories; without `of`.
DataDependence byPattern(const PatternSums &pattern, HistorySums histories);
/// By the symbols before and behind: each as long as at least 200 edges have it and it differs from what is shorter by
/// more than chance, see docs/methods.md; without `of`.
DataDependence byHistory(HistorySums histories);

/// The same of one record's edges less `without` (s, one for each; empty: nothing), each of which has its group.
DataDependence byPattern(const JitterEdges &edges, const Histories &histories, std::int64_t pattern,
                         std::span<const float> without, Progress &progress);
DataDependence byHistory(const JitterEdges &edges, const Histories &histories, std::span<const float> without,
                         Progress &progress);

} // namespace fulvex
