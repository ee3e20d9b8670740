#pragma once

#include "eye_fold.h"
#include "mask_geometry.h"

#include <optional>
#include <string>

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
};

struct MaskRule {
    double zero = 0, one = 1;         ///< channel's unit, the eye's state levels
    double margin = 0;                ///< fraction that the areas are grown by for the verdict
    std::int64_t first = 0, last = 0; ///< unit intervals tested
    int interpolation = 1;            ///< as the eye was folded
    /// Failed unit intervals that end the test, `keptFailures` at most; 0: none do. The result is that of the unit
    /// intervals up to the last of them.
    std::int64_t stopAt = 0;
};

/// Lays the record over the mask by a clock's map, on all cores. A sample on or inside an area's border is a hit; where
/// a line between neighbouring samples passes through an area and neither end lies in it, that is one hit as well. The
/// margin is searched by bisection for every line that would lower it, to 1e-6, in the same pass.
MaskResult runMask(const SourcePtr &source, const UnitIntervalMap &map, const MaskDefinition &mask,
                   const MaskRule &rule, Progress &progress);

/// The same of a template, laid at each of these sample positions: they count as unit intervals, in their order, and
/// phases are seconds from them. Where templates overlap, a sample is looked at in each.
MaskResult runTemplate(const SourcePtr &source, std::span<const double> edges, const MaskDefinition &mask,
                       const MaskRule &rule, Progress &progress);

} // namespace fulvex
