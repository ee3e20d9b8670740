#pragma once

#include "edge_list.h"
#include "symbol_timing.h"
#include "time_axis.h"

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace fulvex {

/// A recovered clock: a monotone map between sample positions and unit intervals, given by knots (position, number)
/// with straight lines between and beyond. Boundary n is where the clock expects a transition; unit interval n lies
/// between the boundaries n and n + 1. Boundary 0 is the record's first, so that unit interval 0 is its first whole
/// one.
class Clock {
public:
    /// A line through all: boundary 0 at `offset`, `period` samples each.
    Clock(double offset, double period, std::shared_ptr<const EdgeList> edges,
          std::shared_ptr<const SymbolTiming> timing, TimeAxis axis);
    /// The line plus what the loop followed: `followed[i]` unit intervals late at edge i.
    Clock(double offset, double period, std::shared_ptr<const EdgeList> edges,
          std::shared_ptr<const SymbolTiming> timing, TimeAxis axis, std::vector<double> followed, double settleTime);

    const TimeAxis &axis() const { return m_axis; }
    double period() const { return m_period; }                       ///< samples per unit interval, on average
    double rate() const { return 1 / (m_period * m_axis.interval); } ///< Bd
    std::int64_t unitIntervals() const { return m_unitIntervals; }   ///< whole ones in the record
    std::int64_t firstSettled() const { return m_firstSettled; } ///< unit intervals before it are kept out of results
    double settleTime() const { return m_settleTime; }           ///< s

    std::size_t bytes() const { return sizeof *this + m_followed.capacity() * sizeof(double); } ///< without its edges
    const EdgeList &edges() const { return *m_edges; }
    std::int64_t numberOf(std::size_t edge) const { return m_timing->numbers[edge] - m_shift; }
    /// Instant of an edge minus its clock instant, in unit intervals; late is positive.
    double errorAt(std::size_t edge) const
    {
        const double late = (m_edges->positions[edge] - m_offset) / m_period - double(m_timing->numbers[edge]);
        return m_followed.empty() ? late : late - m_followed[edge];
    }
    double positionOf(double unitInterval) const;
    /// positionOf(first), positionOf(first + 1), …, in one walk along the knots.
    void positionsOf(double first, std::span<double> positions) const;
    double unitIntervalAt(double position) const;

    /// Unit intervals at the positions first * step, (first + 1) * step, …, in one walk along the knots.
    void unitIntervalsAt(std::int64_t first, double step, std::span<double> unitIntervals) const;

    /// A straight piece of the map: ui = number + (position - from) * slope, for from <= position < to.
    struct Piece {
        double from, to, number, slope;
    };
    /// The piece that a position lies in; `hint` is a knot to start from and is moved along (start with 0).
    Piece pieceAt(double position, std::size_t &hint) const;
    std::size_t knotNear(double position) const;

private:
    void finish();
    double knotNumber(std::size_t knot) const { return double(m_timing->numbers[knot]) - double(m_shift); }
    double knotPosition(std::size_t knot) const;
    TimeAxis m_axis;
    double m_offset, m_period, m_settleTime = 0;
    std::shared_ptr<const EdgeList> m_edges;
    std::shared_ptr<const SymbolTiming> m_timing;
    std::vector<double> m_followed; ///< empty: the line itself
    std::int64_t m_shift = 0;       ///< number in the timing of the record's first boundary
    std::int64_t m_unitIntervals = 0, m_firstSettled = 0;
};

} // namespace fulvex
