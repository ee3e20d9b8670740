#pragma once

#include "edge_list.h"
#include "progress.h"
#include "unit_interval_map.h"

#include <optional>
#include <string>

namespace fulvex {

/// How unit intervals follow from a clock that comes beside the data.
struct ForwardedRule {
    EdgeChoice edges = EdgeChoice::both;
    int multiply = 1; ///< unit intervals from one edge that counts to the next
    int divide = 1;   ///< of so many chosen edges the first counts
    double delay = 0; ///< s, from an edge to where the unit interval starts
};

/// A clock that comes beside the data: nothing is fitted.
struct ForwardedClock {
    std::optional<UnitIntervalMap> map;    ///< runs where the clock does
    double rateUncertainty = 0;            ///< relative, standard: how far its periods scatter, over the record
    std::int64_t stops = 0;                ///< places where it pauses
    double longestStop = 0, firstStop = 0; ///< s: how long one lasts, when the first begins
    std::string reason;                    ///< not empty: there is no map, why, and what would help
};

/// Unit intervals start where the chosen edges lie, `delay` later; `multiply` of them lie on a straight line from one
/// to the next. Where an edge comes more than 1.6 times as late as is usual among the 16 about it, or behind a gap, the
/// clock pauses: its map does not run there, nor before the first edge and behind the last.
/// `of`: the grid that the edges' positions count on. `axis`: the data's, which the map is on.
/// Source: docs/methods.md, "Clocks".
ForwardedClock forwardedClock(const EdgeList &edges, const TimeAxis &of, const TimeAxis &axis,
                              const ForwardedRule &rule);

/// Those edges (of data) that lie where a map runs.
EdgeList edgesWhereItRuns(const EdgeList &edges, const UnitIntervalMap &map);

} // namespace fulvex
