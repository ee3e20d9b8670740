#include "unit_interval_map.h"

#include <algorithm>
#include <cmath>
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

std::size_t UnitIntervalMap::knotNear(double position) const
{
    std::size_t low = 0, high = m_late.size();
    while (high - low > 1) { // the last knot at or before the position, or the first
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

void UnitIntervalMap::unitIntervalsAt(std::int64_t first, double step, std::span<double> unitIntervals) const
{
    std::size_t hint = m_late.empty() ? 0 : knotNear(double(first) * step);
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

std::size_t UnitIntervalMap::knotOf(std::int64_t number) const
{
    if (m_late.empty()) return 0;
    const auto after = std::upper_bound(m_numbers->begin(), m_numbers->end(), number + m_shift);
    return after == m_numbers->begin() ? 0 : std::size_t(after - m_numbers->begin()) - 1;
}

void UnitIntervalMap::positionsOf(double first, std::span<double> positions) const
{
    const double start = first + double(m_shift);
    if (m_late.empty()) {
        for (std::size_t i = 0; i < positions.size(); ++i) positions[i] = m_offset + (start + double(i)) * m_period;
        return;
    }
    const auto &numbers = *m_numbers;
    auto after = std::size_t(std::upper_bound(numbers.begin(), numbers.end(), start,
                                              [](double n, std::int64_t knot) { return n < double(knot); }) -
                             numbers.begin());
    for (std::size_t i = 0; i < positions.size();) {
        const double number = start + double(i);
        while (after < numbers.size() && number >= double(numbers[after])) ++after;
        double late = after == 0 ? m_late.front() : m_late[after - 1], slope = 0;
        std::size_t stop = positions.size();
        if (after > 0 && after < numbers.size()) {
            slope = (m_late[after] - late) / double(numbers[after] - numbers[after - 1]);
            late += slope * (number - double(numbers[after - 1]));
        }
        if (after < numbers.size()) stop = std::min(stop, i + std::size_t(std::ceil(double(numbers[after]) - number)));
        const auto put = [&](std::size_t k) {
            positions[i + k] = m_offset + (number + late + double(k) * (1 + slope)) * m_period;
        };
        constexpr std::size_t few = 4; // usual between edges: written without asking how many, the next overwrite them
        if (i + few <= positions.size()) {
            for (std::size_t k = 0; k < few; ++k) put(k);
        } else {
            for (std::size_t k = 0; i + k < stop; ++k) put(k);
        }
        for (std::size_t k = few; i + k < stop; ++k) put(k);
        i = stop;
    }
}

} // namespace fulvex
