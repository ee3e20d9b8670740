#pragma once

#include "edge_list.h"
#include "population.h"

#include <memory>
#include <optional>

namespace fulvex {

/// Edges of a channel on its grid, and which of them.
struct ChosenEdges {
    std::shared_ptr<const EdgeList> edges;
    TimeAxis axis;
    EdgeChoice choice;
    /// Positions of those on another grid, ascending.
    RawVector<double> on(const TimeAxis &other) const;
};

/// From each edge of `from` to the nearest one of `to` that is no farther than half a period, in s, positive where that
/// one is later. `period` in samples of `from`; with none, the nearest one however far. Ties go to the later.
Population delays(const ChosenEdges &from, const ChosenEdges &to, std::optional<double> period);

/// From the data's last edge before each clock edge to it (setup), and from it to the data's first edge at or after it
/// (hold), in s. Source: JEDEC JESD65, setup time, hold time.
Population setupTimes(const ChosenEdges &data, const ChosenEdges &clock);
Population holdTimes(const ChosenEdges &data, const ChosenEdges &clock);

/// Phases in degrees of delays within half a period (s), whose mean lies in (-180, 180]: 360 times each over the
/// period; those that lie a period off by chance (about +-180) are laid beside the others.
Population phases(const Population &delays, double period);

} // namespace fulvex
