#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// A failed unit interval.
struct MaskFailure {
    double time = 0; ///< s, of the first hit in it
    std::int64_t unitInterval = 0;
    double deepest = 0; ///< how far the worst hit lies inside: margin + 1 would be at an area's middle, 0 at its border
    double worstTime = 0;        ///< s, of the worst hit
    int area = 0;                ///< the worst hit's
    double phase = 0, value = 0; ///< where the worst hit stands in the eye: UI, channel's unit
    std::string capture = {};    ///< of several added up: the names of its files
};

/// How failures spread over a record: counts of equal spans of unit intervals, 2^shift of them each. A span is the
/// shortest for which the counts stay few; what one run over more would give, merge() gives.
struct FailureSpread {
    int shift = 0;
    std::vector<std::int64_t> counts;
    static constexpr std::size_t most = 4096;
    void add(std::int64_t unitInterval, std::int64_t failures = 1);
    void merge(const FailureSpread &later);
};

/// What a mask saw; mergeable in any order: hits and failures add up, the margin is the smallest, and of the failures
/// those first in time and those deepest inside are kept.
struct MaskResult {
    std::int64_t unitIntervals = 0;
    std::int64_t hits = 0;
    std::int64_t failedUnitIntervals = 0;
    std::vector<std::int64_t> areaHits;
    std::optional<double> margin;      ///< the largest that passes; empty without samples
    std::vector<MaskFailure> failures; ///< in time, the first `keptFailures`
    std::vector<MaskFailure> worst;    ///< deepest first, `keptFailures` of all
    FailureSpread spread;
    bool stopped = false; ///< at as many failures as were to end it: what comes behind was not looked at
    static constexpr std::size_t keptFailures = 1000;
    void merge(const MaskResult &later);
    /// With all failures in `failures`, in any order: sets what follows from them and keeps those that are kept.
    void sum();
};

} // namespace fulvex
