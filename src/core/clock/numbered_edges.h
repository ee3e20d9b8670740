#pragma once

#include "edge_list.h"
#include "progress.h"
#include "symbol_timing.h"
#include "unit_interval_map.h"

#include <memory>
#include <span>

namespace fulvex {

/// Edges, and the boundary of a map that each belongs to: those that the map was made from, or any others.
class NumberedEdges {
public:
    /// With the numbers that symbol timing found, counted on the map's line.
    NumberedEdges(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing,
                  const UnitIntervalMap &map);
    /// Each with the boundary that it lies nearest to.
    NumberedEdges(std::shared_ptr<const EdgeList> edges, const UnitIntervalMap &map);

    const EdgeList &edges() const { return *m_edges; }
    const std::shared_ptr<const EdgeList> &shared() const { return m_edges; }
    std::size_t size() const { return m_edges->size(); }
    std::int64_t numberOf(std::size_t edge) const { return (*m_numbers)[edge] - m_shift; }
    /// Instant of each edge from `first` on minus its boundary on `map`, in unit intervals; late is positive.
    void lateness(const UnitIntervalMap &map, std::size_t first, std::span<double> late) const;
    std::vector<double> lateness(const UnitIntervalMap &map) const; ///< of all

private:
    std::shared_ptr<const EdgeList> m_edges;
    UnitIntervalMap::Numbers m_numbers;
    std::int64_t m_shift = 0;
};

/// A channel's clock: the map, and the edges that it was recovered from.
struct Clock {
    UnitIntervalMap map;
    NumberedEdges edges;
};

} // namespace fulvex
