#pragma once

#include "jitter_make_up.h"

#include <string>
#include <vector>

namespace fulvex {

/// What make-ups of jitter of several records add up to, without holding their edges: sums by the pattern and by the
/// histories of symbols, how edges are spread, and the lines of each record. Mergeable in any order and grouping.
struct JitterSums {
    static JitterSums of(const JitterMakeUp &found, Progress &progress);
    void merge(const JitterSums &later);
    /// What they tell together: data by all edges' means, what is random by all edges' mean square, tails by all edges'
    /// spread. A line is what records have of it on the average of their powers, where two of them have it within their
    /// resolution, or where it is more than what is random; phases of different records have nothing to do with each
    /// other.
    JitterMakeUp makeUp() const;

    std::int64_t records = 0;                  ///< that told something
    std::string reason;                        ///< not empty: why one did not; the first by alphabet
    double unitInterval = 0;                   ///< s, times unit intervals, summed up
    std::int64_t count = 0, unitIntervals = 0; ///< edges, and what they span
    struct Direction {
        std::int64_t count = 0;
        double sum = 0, squares = 0; ///< s, s²
        void merge(const Direction &later);
        JitterMakeUp::Direction told() const;
    } rising, falling;
    HistorySums histories;
    PatternSums pattern;          ///< aligned; empty where records repeat nothing, or not the same
    bool otherLevels = false;     ///< they have not as many levels: nothing is told of them together
    bool unlike = false;          ///< they do not repeat the same
    std::string whyNoPattern;     ///< that was asked for
    double squares = 0, free = 0; ///< s² and degrees of freedom of what is random
    double uncertain = 0;         ///< s⁴: variances of those squares
    JitterSpread spread;
    struct Line {
        PeriodicLine line;
        double resolution = 0;  ///< Hz, of its record
        std::int64_t count = 0; ///< edges of its record
    };
    std::vector<Line> lines; ///< by frequency
};

} // namespace fulvex
