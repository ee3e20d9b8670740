#include "unit_interval_map.h"

#include "eight_lanes.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <limits>

namespace fulvex {

UnitIntervalMap::UnitIntervalMap(const TimeAxis &axis, double offset, double period)
    : m_axis(axis), m_offset(offset), m_period(period)
{
    finish();
}

UnitIntervalMap::UnitIntervalMap(const TimeAxis &axis, double offset, double period, Numbers numbers,
                                 RawVector<double> late, double settleTime)
    : m_axis(axis), m_offset(offset), m_period(period), m_settleTime(settleTime), m_numbers(std::move(numbers)),
      m_late(std::move(late))
{
    finish();
}

void UnitIntervalMap::finish()
{
    m_shift = std::int64_t(std::ceil(unitIntervalAt(0) - 1e-9));
    m_unitIntervals =
        std::max<std::int64_t>(0, std::int64_t(std::floor(unitIntervalAt(double(m_axis.count - 1)) + 1e-9)));
    const double settled = unitIntervalAt(std::min(m_settleTime / m_axis.interval, 2 * double(m_axis.count)));
    m_firstSettled = m_settleTime > 0 ? std::max<std::int64_t>(0, std::int64_t(std::ceil(settled))) : 0;
}

void UnitIntervalMap::runOnly(const std::vector<SampleRange> &lineRanges)
{
    m_runs.clear();
    for (const SampleRange &one : lineRanges) m_runs.push_back({one.first - m_shift, one.last - m_shift});
}

std::vector<SampleRange>::const_iterator UnitIntervalMap::firstRunBehind(std::int64_t unitInterval) const
{
    return std::upper_bound(m_runs.begin(), m_runs.end(), unitInterval,
                            [](std::int64_t number, const SampleRange &run) { return number < run.last; });
}

bool UnitIntervalMap::runsAllAlong(SampleRange unitIntervals) const
{
    if (m_runs.empty()) return true;
    const auto run = firstRunBehind(unitIntervals.first);
    return run != m_runs.end() && run->first <= unitIntervals.first && unitIntervals.last <= run->last;
}

std::vector<SampleRange> UnitIntervalMap::running(SampleRange unitIntervals, std::size_t most) const
{
    if (m_runs.empty()) return {unitIntervals};
    std::vector<SampleRange> found;
    for (auto at = firstRunBehind(unitIntervals.first);
         at != m_runs.end() && at->first < unitIntervals.last && found.size() < most; ++at)
        found.push_back({std::max(at->first, unitIntervals.first), std::min(at->last, unitIntervals.last)});
    return found;
}

std::int64_t UnitIntervalMap::runningUnitIntervals() const
{
    std::int64_t count = 0;
    for (const SampleRange &run : running({0, m_unitIntervals})) count += run.size();
    return count;
}

double UnitIntervalMap::knotPosition(std::size_t knot) const
{
    return m_offset + (double(lineNumberOf(knot)) + m_late[knot]) * m_period;
}

std::size_t UnitIntervalMap::knotNear(double position, std::size_t from) const
{
    std::size_t low = from < m_late.size() && knotPosition(from) <= position ? from : 0, high = m_late.size();
    if (low > 0) {
        for (std::size_t step = 1; low + step < high; step *= 2) {
            if (knotPosition(low + step) > position)
                high = low + step;
            else
                low += step;
        }
    }
    while (high - low > 1) {
        const std::size_t middle = (low + high) / 2;
        (knotPosition(middle) <= position ? low : high) = middle;
    }
    return low;
}

UnitIntervalMap::Piece UnitIntervalMap::pieceAt(double position, std::size_t &hint) const
{
    constexpr double forever = std::numeric_limits<double>::infinity();
    if (m_late.empty()) return {m_offset, forever, -double(m_shift), 1 / m_period};
    const std::size_t last = m_late.size() - 1;
    const auto next = [&](std::size_t knot) { // the next one with a larger number
        std::size_t following = knot + 1;
        while (following <= last && lineNumberOf(following) == lineNumberOf(knot)) ++following;
        return following;
    };
    if (position < knotPosition(0)) return {knotPosition(0), knotPosition(0), knotNumber(0), 1 / m_period};
    std::size_t knot = hint;
    for (std::size_t following = next(knot); following <= last && knotPosition(following) <= position;
         following = next(knot))
        knot = following;
    hint = knot;
    const std::size_t following = next(knot);
    const double from = knotPosition(knot);
    if (following > last) return {from, forever, knotNumber(knot), 1 / m_period};
    const double to = knotPosition(following);
    return {from, to, knotNumber(knot), (knotNumber(following) - knotNumber(knot)) / (to - from)};
}

namespace {

/// How late positions are by knots' own lines; whether two knots that follow on each other have the same number, of
/// which the later one counts.
FULVEX_WIDEST_VECTORS bool latenessOfOwn(const double *positions, const std::int32_t *numbers, const double *late,
                                         std::size_t count, double offset, double period, double *out)
{
    bool share = false;
    std::size_t i = 0;
    for (; i + eight <= count; i += eight) {
        const Eight own = (eightOf(positions + i) - offset) / period - eightOf(numbers + i) - eightOf(late + i);
        std::memcpy(out + i, &own, sizeof own);
        for (std::size_t k = i; k < i + eight; ++k) share |= numbers[k] == numbers[k + 1];
    }
    for (; i < count; ++i) {
        out[i] = (positions[i] - offset) / period - double(numbers[i]) - late[i];
        share |= numbers[i] == numbers[i + 1];
    }
    return share;
}

} // namespace

void UnitIntervalMap::latenessAtKnots(std::span<const double> positions, std::size_t firstKnot,
                                      std::span<double> late) const
{
    const std::size_t ofLast = firstKnot + late.size() == m_late.size() ? 1 : 0, count = late.size() - ofLast;
    const auto lateAt = [&](std::size_t i) {
        std::size_t knot = firstKnot + i;
        const std::int64_t number = lineNumberOf(knot);
        while (knot + 1 < m_late.size() && lineNumberOf(knot + 1) == number) ++knot;
        return (positions[i] - m_offset) / m_period - double(number) - m_late[knot];
    };
    const bool share = latenessOfOwn(positions.data(), m_numbers->data() + firstKnot, m_late.data() + firstKnot, count,
                                     m_offset, m_period, late.data());
    for (std::size_t i = share ? 0 : count; i < late.size(); ++i) late[i] = lateAt(i);
}

void UnitIntervalMap::unitIntervalsAt(std::int64_t first, double step, std::span<double> unitIntervals) const
{
    std::size_t hint = 0;
    unitIntervalsAt(first, step, unitIntervals, hint);
}

void UnitIntervalMap::unitIntervalsAt(std::int64_t first, double step, std::span<double> unitIntervals,
                                      std::size_t &hint) const
{
    if (!m_late.empty()) hint = knotNear(double(first) * step, hint);
    const auto count = std::int64_t(unitIntervals.size());
    for (std::int64_t i = 0; i < count;) {
        const double position = double(first + i) * step;
        const Piece piece = pieceAt(position, hint);
        const double left = (piece.to - position) / step; // samples to the piece's end
        const std::int64_t stop = left < double(count - i)
                                      ? std::min(count, i + std::max<std::int64_t>(1, std::int64_t(std::ceil(left))))
                                      : count;
        const double start = piece.number + (position - piece.from) * piece.slope, slope = piece.slope * step;
        for (std::int64_t k = i; k < stop; ++k) unitIntervals[std::size_t(k)] = start + slope * double(k - i);
        i = stop;
    }
}

double UnitIntervalMap::unitIntervalAt(double position) const
{
    std::size_t hint = m_late.empty() ? 0 : knotNear(position);
    const Piece piece = pieceAt(position, hint);
    return piece.number + (position - piece.from) * piece.slope;
}

double UnitIntervalMap::positionOf(double unitInterval) const
{
    double position;
    positionsOf(unitInterval, std::span(&position, 1));
    return position;
}

std::size_t UnitIntervalMap::knotBehind(std::int64_t lineNumber) const
{
    return std::size_t(std::upper_bound(m_numbers->begin(), m_numbers->end(), lineNumber) - m_numbers->begin());
}

std::size_t UnitIntervalMap::knotOf(std::int64_t number) const
{
    const std::size_t after = m_late.empty() ? 0 : knotBehind(number + m_shift);
    return after == 0 ? 0 : after - 1;
}

namespace {

constexpr std::size_t knotsTogether = 256; ///< whose pieces stay in the nearest cache

/// Straight pieces behind knots, of which `numbers` has one more: boundary j of a piece lies at `from` + (j + what it
/// begins behind its knot) * `step`.
struct Pieces {
    const std::int32_t *numbers;
    double *from, *step;
};

FULVEX_WIDEST_VECTORS void layPieces(const Pieces &pieces, const double *late, std::size_t count, double offset,
                                     double period)
{
    const std::int32_t *const numbers = pieces.numbers;
    double *const __restrict from = pieces.from, *const __restrict step = pieces.step;
    for (std::size_t i = 0; i < count; ++i) {
        const double here = numbers[i], run = numbers[i + 1] - numbers[i];
        from[i] = offset + (here + late[i]) * period;
        step[i] = (1 + (late[i + 1] - late[i]) / run) * period; // of no length: of no use
    }
}

/// Boundaries of the pieces, as far as they lie in a range, each `share` behind itself. Four boundaries are usual
/// between edges: where there is room they are written without asking how many there are, and those of the next piece
/// overwrite what was too many.
FULVEX_WIDEST_VECTORS void layPositions(const Pieces &pieces, std::size_t count, SampleRange range, double share,
                                        double *out)
{
    typedef double Four __attribute__((vector_size(32)));
    for (std::size_t k = 0; k < count; ++k) {
        const auto first = std::max<std::int64_t>(pieces.numbers[k], range.first),
                   last = std::min<std::int64_t>(pieces.numbers[k + 1], range.last);
        if (last <= first) continue;
        const double from = pieces.from[k], step = pieces.step[k], behind = double(first - pieces.numbers[k]) + share;
        std::int64_t n = first;
        for (Four at = {behind, behind + 1, behind + 2, behind + 3}; n < last && n + 4 <= range.last; n += 4) {
            const Four positions = from + at * step;
            std::memcpy(out + (n - range.first), &positions, sizeof positions);
            at += 4;
        }
        for (; n < last; ++n) out[n - range.first] = from + (double(n - first) + behind) * step;
    }
}

/// Leaves of pieces those that boundaries of a range lie on, beginning at the first of these; how many there are.
FULVEX_WIDEST_VECTORS std::size_t keepStraights(const Pieces &pieces, std::size_t count, SampleRange range,
                                                std::int32_t *__restrict number)
{
    bool rises = pieces.numbers[0] >= range.first && pieces.numbers[count] <= range.last;
    for (std::size_t k = 0; k < count; ++k) {
        rises &= pieces.numbers[k] < pieces.numbers[k + 1];
        number[k] = std::int32_t(pieces.numbers[k] - range.first);
    }
    if (rises) return count; // most do, all of them
    std::size_t laid = 0;
    for (std::size_t k = 0; k < count; ++k) { // what has no boundary, the next one overwrites
        const auto first = std::max<std::int64_t>(pieces.numbers[k], range.first);
        number[laid] = std::int32_t(first - range.first);
        pieces.from[laid] = pieces.from[k] + double(first - pieces.numbers[k]) * pieces.step[k];
        pieces.step[laid] = pieces.step[k];
        laid += std::min<std::int64_t>(pieces.numbers[k + 1], range.last) > first;
    }
    return laid;
}

/// What boundaries of a range lie on: `straight(number, until, late)` before the first knot and behind the last, and
/// `lay(pieces, count)` for the pieces between, some at a time, for which `place(numbers, count)` has room.
template <typename Straight, typename Place, typename Lay>
void walkAlong(const BoundaryNumbers &numbers, const RawVector<double> &late, double offset, double period,
               SampleRange range, Straight &&straight, Place &&place, Lay &&lay)
{
    const std::size_t last = numbers.size() - 1;
    const auto after = std::size_t(std::upper_bound(numbers.begin(), numbers.end(), range.first) - numbers.begin());
    if (after == 0) straight(range.first, std::min<std::int64_t>(range.last, numbers[0]), late.front());
    const std::size_t atOnce = std::min(knotsTogether, std::size_t(range.size()) + 1); // a boundary has one, or none
    for (std::size_t knot = after == 0 ? 0 : after - 1, count = 0; knot < last && numbers[knot] < range.last;
         knot += count) {
        count = std::min(atOnce, last - knot);
        const Pieces pieces = place(numbers.data() + knot, count);
        layPieces(pieces, late.data() + knot, count, offset, period);
        lay(pieces, count);
    }
    straight(std::max<std::int64_t>(range.first, numbers[last]), range.last, late.back());
}

} // namespace

void UnitIntervalMap::positionsOf(double first, std::span<double> positions) const
{
    const double whole = std::floor(first), share = first - whole;
    const auto start = std::int64_t(whole) + m_shift, stop = start + std::int64_t(positions.size());
    const auto straight = [&](std::int64_t number, std::int64_t until, double late) {
        for (; number < until; ++number)
            positions[std::size_t(number - start)] = m_offset + (double(number) + share + late) * m_period;
    };
    if (m_late.empty()) return straight(start, stop, 0);
    alignas(64) std::array<double, knotsTogether> from, step;
    walkAlong(
        *m_numbers, m_late, m_offset, m_period, {start, stop}, straight,
        [&](const std::int32_t *numbers, std::size_t) {
            return Pieces{numbers, from.data(), step.data()};
        },
        [&](const Pieces &pieces, std::size_t count) {
            layPositions(pieces, count, {start, stop}, share, positions.data());
        });
}

void UnitIntervalMap::straightsOf(SampleRange boundaries, Straights &lines) const
{
    const std::int64_t start = boundaries.first + m_shift, stop = boundaries.last + m_shift;
    std::size_t laid = 0;
    const auto room = [&](std::size_t more) {
        lines.number.resize(laid + more);
        lines.from.resize(laid + more);
        lines.step.resize(laid + more);
    };
    const auto straight = [&](std::int64_t number, std::int64_t until, double late) {
        if (number >= until) return;
        room(1);
        lines.number[laid] = std::int32_t(number - start);
        lines.from[laid] = m_offset + (double(number) + late) * m_period;
        lines.step[laid++] = m_period;
    };
    if (m_late.empty()) return straight(start, stop, 0);
    walkAlong(
        *m_numbers, m_late, m_offset, m_period, {start, stop}, straight,
        [&](const std::int32_t *numbers, std::size_t count) {
            room(count + 1);
            return Pieces{numbers, lines.from.data() + laid, lines.step.data() + laid};
        },
        [&](const Pieces &pieces, std::size_t count) {
            laid += keepStraights(pieces, count, {start, stop}, lines.number.data() + laid);
            room(0);
        });
}

} // namespace fulvex
