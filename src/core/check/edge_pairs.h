#pragma once

#include "edge_list.h"
#include "time_axis.h"

namespace fulvex {

/// How the edges of one channel follow those of another.
struct EdgePairs {
    double lag = 0;         ///< s, median over the pairs; positive: the second comes later
    double uncertainty = 0; ///< s, standard, of the median for a normal scatter
    std::size_t count = 0;  ///< of pairs
};

struct PairRule {
    bool opposite = false; ///< a rising edge belongs to a falling one
    double lag = 0;        ///< s, where the second's edge is looked for
    double within = 0;     ///< s, how far from there at most
};

/// Pairs each edge of the first with the first edge of the second that `rule` allows. O(n).
EdgePairs pairEdges(const EdgeList &first, const TimeAxis &firstAxis, const EdgeList &second,
                    const TimeAxis &secondAxis, const PairRule &rule);

/// Median distance between neighbouring edges, in samples; 0 for fewer than two.
double medianInterval(const EdgeList &edges);

} // namespace fulvex
