#pragma once

#include "progress.h"
#include "sample_source.h"

#include <optional>
#include <string>

namespace fulvex {

/// How far one channel comes after another that it resembles.
struct Alignment {
    double lag = 0;                    ///< s; positive: the second comes later
    std::optional<double> uncertainty; ///< s, standard; by edges only
    double likeness = 0;               ///< correlation coefficient at that lag, of the parts compared
    bool inverted = false;             ///< the second is the first turned over, as a differential leg is
    std::size_t edges = 0;             ///< pairs of edges, by edges only
    std::string reason;                ///< not empty: there is none, why, and what would help
};

/// The lag at which the two correlate most, upright or inverted, within the time that both cover: at most 2 million
/// samples from its middle. Between samples the correlation is interpolated by SincKernel; for signals within 0.37 of
/// the slower sample rate the lag is good to 1e-3 of its interval where noise allows.
Alignment alignByCorrelation(const SourcePtr &first, const SourcePtr &second, Progress &progress);

/// The median lag of the edges at the middle levels, near the lag of the best correlation. Edges of the first 4
/// million samples.
Alignment alignByEdges(const SourcePtr &first, const SourcePtr &second, Progress &progress);

} // namespace fulvex
