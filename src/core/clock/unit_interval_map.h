#pragma once

#include "edge_list.h"
#include "raw_vector.h"
#include "time_axis.h"

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace fulvex {

/// A monotone map between sample positions and unit intervals, whatever it was made from: a fitted line, what a loop
/// followed, the edges of another channel. Boundary n is where a transition is expected; unit interval n lies between
/// the boundaries n and n + 1. Boundary 0 is the record's first, so that unit interval 0 is its first whole one.
class UnitIntervalMap {
public:
    using Numbers = std::shared_ptr<const BoundaryNumbers>;

    /// A straight line: a boundary at the position `offset`, and `period` samples to the next.
    UnitIntervalMap(const TimeAxis &axis, double offset, double period);
    /// Straight pieces between knots: boundary numbers[i], counted from the one at `offset`, lies late[i] unit
    /// intervals behind the line; before and behind them as late as the first and last. Numbers do not fall; where some
    /// are equal, the last counts. Until `settleTime` (s) it is not to be used.
    UnitIntervalMap(const TimeAxis &axis, double offset, double period, Numbers numbers, RawVector<double> late,
                    double settleTime);

    const TimeAxis &axis() const { return m_axis; }
    double period() const { return m_period; }                       ///< samples per unit interval, on average
    double rate() const { return 1 / (m_period * m_axis.interval); } ///< Bd
    std::int64_t unitIntervals() const { return m_unitIntervals; }   ///< whole ones in the record
    std::int64_t firstSettled() const { return m_firstSettled; } ///< unit intervals before it are kept out of results
    double settleTime() const { return m_settleTime; }           ///< s
    std::int64_t lineNumber() const { return m_shift; } ///< of boundary 0, counted from the one at the line's offset
    /// Without the numbers.
    std::size_t bytes() const
    {
        return sizeof *this + m_late.capacity() * sizeof(double) + m_runs.capacity() * sizeof(SampleRange);
    }

    /// Leaves it where it is, but says between which boundaries, counted as knots' numbers are, it tells of a clock:
    /// ascending ranges of unit intervals.
    void runOnly(const std::vector<SampleRange> &lineRanges);
    bool runsAlways() const { return m_runs.empty(); }
    /// What of a range of unit intervals lies where it runs, in the record; ascending, the first so many.
    std::vector<SampleRange> running(SampleRange unitIntervals, std::size_t most = SIZE_MAX) const;
    bool runsAllAlong(SampleRange unitIntervals) const;
    std::int64_t runningUnitIntervals() const; ///< whole ones in the record
    /// Whether one of the unit intervals beside a boundary does.
    bool runsAt(std::int64_t boundary) const { return !running({boundary - 1, boundary + 1}).empty(); }

    double positionOf(double unitInterval) const;
    /// positionOf(first), positionOf(first + 1), …, in one walk along the knots.
    void positionsOf(double first, std::span<double> positions) const;
    /// Straight lines that boundaries lie on, as columns: those from number[i] on, up to number[i + 1], lie at
    /// from[i], from[i] + step[i], ….
    struct Straights {
        RawVector<std::int32_t> number; ///< counted from the first of the range: 0, then rising
        RawVector<double> from, step;   ///< samples
        std::size_t size() const { return number.size(); }
    };
    /// Those of a range of boundaries, of which there are fewer than 2^31.
    void straightsOf(SampleRange boundaries, Straights &lines) const;
    double unitIntervalAt(double position) const;
    /// Unit intervals at the positions first * step, (first + 1) * step, …, in one walk along the knots.
    void unitIntervalsAt(std::int64_t first, double step, std::span<double> unitIntervals) const;
    /// The same, of sample after sample the faster: `hint` is the knot near those before; 0 at first.
    void unitIntervalsAt(std::int64_t first, double step, std::span<double> unitIntervals, std::size_t &hint) const;

    /// How late a position is for boundary `number`, in unit intervals; `hint` is a knot to start from and is moved
    /// along (start with knotOf(number)).
    double latenessOf(double position, std::int64_t number, std::size_t &hint) const;
    std::size_t knotOf(std::int64_t number) const;
    /// Whether its knots have these numbers: then the edges that are numbered so are its knots.
    bool hasKnots(const Numbers &numbers) const { return !m_late.empty() && m_numbers == numbers; }
    /// latenessOf() of positions for the numbers that knots from one on have.
    void latenessAtKnots(std::span<const double> positions, std::size_t firstKnot, std::span<double> late) const;

    /// A straight piece of the map: ui = number + (position - from) * slope, for from <= position < to.
    struct Piece {
        double from, to, number, slope;
    };
    /// The piece that a position lies in; `hint` is a knot to start from and is moved along (start with 0).
    Piece pieceAt(double position, std::size_t &hint) const;
    /// The last knot at or before a position, or the first; found sooner where `from` is one shortly before.
    std::size_t knotNear(double position, std::size_t from = 0) const;

private:
    void finish();
    /// The first run that ends behind it.
    std::vector<SampleRange>::const_iterator firstRunBehind(std::int64_t unitInterval) const;
    std::size_t knotBehind(std::int64_t lineNumber) const;
    std::int64_t lineNumberOf(std::size_t knot) const { return (*m_numbers)[knot]; }
    double knotNumber(std::size_t knot) const { return double(lineNumberOf(knot)) - double(m_shift); }
    double knotPosition(std::size_t knot) const;
    TimeAxis m_axis;
    double m_offset, m_period, m_settleTime = 0;
    Numbers m_numbers;
    RawVector<double> m_late;        ///< empty: the line itself
    std::vector<SampleRange> m_runs; ///< empty: always
    std::int64_t m_shift = 0;
    std::int64_t m_unitIntervals = 0, m_firstSettled = 0;
};

inline double UnitIntervalMap::latenessOf(double position, std::int64_t number, std::size_t &hint) const
{
    const std::int64_t onLine = number + m_shift;
    const double late = (position - m_offset) / m_period - double(onLine);
    if (m_late.empty()) return late;
    const std::size_t last = m_late.size() - 1;
    while (hint < last && lineNumberOf(hint + 1) <= onLine) ++hint;
    double expected = m_late[hint];
    if (hint < last && onLine > lineNumberOf(hint))
        expected += (m_late[hint + 1] - expected) * double(onLine - lineNumberOf(hint)) /
                    double(lineNumberOf(hint + 1) - lineNumberOf(hint));
    return late - expected;
}

} // namespace fulvex
