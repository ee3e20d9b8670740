#pragma once

#include "channel_check.h"

namespace fulvex {

/// How the second leg of a differential pair stands to the first, from edges that cross each other.
struct LegMatch {
    double skew = 0, skewUncertainty = 0; ///< s; positive: the second leg comes later
    double amplitudeRatio = 1;            ///< first over second
    double common = 0;                    ///< middle of the second leg less that of the first, in their unit
    std::size_t edges = 0;                ///< pairs of edges it was found from
    double transition = 0;                ///< s, median of the first leg's from low to high level
};

/// Nothing where the two do not mirror each other: fewer than 8 edges of the one have an opposite edge of the other
/// within a quarter of the usual interval between edges, or less than three quarters do.
std::optional<LegMatch> matchLegs(const CheckedChannel &first, const CheckedChannel &second, Progress &progress);

/// Skew beyond three of its uncertainties and 5 % of the transition time, amplitudes that differ by more
/// than 5 %; each with its remedy. Nothing for channels that are no pair.
std::vector<Finding> checkPair(const CheckedChannel &first, const CheckedChannel &second, Progress &progress);

} // namespace fulvex
