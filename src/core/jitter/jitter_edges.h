#pragma once

#include "numbered_edges.h"
#include "progress.h"

#include <cstdint>
#include <optional>
#include <vector>

namespace fulvex {

/// A symbol that is not known: at a gap, before the first edge, behind the last.
constexpr std::uint8_t noSymbol = 255;

/// The transitions of a channel on the grid of its clock's unit intervals.
struct JitterEdges {
    double unitInterval = 0;           ///< s
    std::int64_t first = 0;            ///< number of the boundary that `places` count from
    std::vector<std::int32_t> places;  ///< boundary of each edge, ascending, none twice
    std::vector<double> errors;        ///< s, time interval error, late is positive
    std::vector<std::uint8_t> steps;   ///< 16 * the symbol left + the symbol reached
    std::vector<std::uint8_t> symbols; ///< of each unit interval: [p] lies behind boundary p
    std::vector<std::uint32_t> edges;  ///< which of the clock's edges each is
    std::size_t levels = 2;            ///< of the signal
    std::size_t shared = 0;            ///< edges left out since their boundary has one already
    std::size_t size() const { return errors.size(); }
    bool isRising(std::size_t edge) const { return steps[edge] % 16 > steps[edge] / 16; }
    std::size_t unitIntervals() const { return symbols.size(); }
    double middle() const { return places.empty() ? 0 : double(places.back()) / 2; } ///< place between first and last
    /// Those from one to another one, as if the record were no longer.
    JitterEdges between(std::size_t firstEdge, std::size_t lastEdge) const;
};

/// Transitions of two levels at nearly every boundary are a clock's: of data half of them have one.
bool isClockLike(const JitterEdges &edges);

/// Those from where the clock has settled on, whose sample positions lie in `positions`; with `opening`, of a signal of
/// several levels, those that pass between its symbols `opening` and `opening + 1`. Symbols are what lies between the
/// edges, of all of them.
JitterEdges jitterEdges(const Clock &clock, std::size_t levels, std::pair<double, double> positions,
                        std::optional<std::size_t> opening, Progress &progress);

} // namespace fulvex
