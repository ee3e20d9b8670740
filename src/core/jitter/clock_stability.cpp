#include "clock_stability.h"

#include "edge_grid.h"
#include "parallel.h"
#include "value_sums.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <span>

namespace fulvex {

namespace {

constexpr std::size_t few = 16384; ///< places, that a core's cache holds

/// What is told of several kinds of differences between values that lie evenly: of a few places all of them at a time,
/// so that values are read from memory once. `tell(first, last, sums)`.
template <typename Tell>
std::vector<ValueSums> inTiles(std::size_t places, std::size_t kinds, Progress &progress, const Tell &tell)
{
    struct Part {
        std::vector<ValueSums> sums;
        void merge(const Part &later)
        {
            sums.resize(later.sums.size());
            for (std::size_t i = 0; i < sums.size(); ++i) sums[i].merge(later.sums[i]);
        }
    };
    Part all = inChunksMerged<Part>({0, std::int64_t(places)}, few, progress, [&](SampleRange mine, Part &part) {
        part.sums.resize(kinds);
        tell(std::size_t(mine.first), std::size_t(mine.last), part.sums);
    });
    all.sums.resize(kinds);
    return std::move(all.sums);
}

/// Errors by boundary; NaN where there is no edge.
class BoundaryErrors {
public:
    explicit BoundaryErrors(const JitterEdges &edges)
        : m_errors(edges.unitIntervals() + 1, NAN), m_rising(m_errors.size())
    {
        for (std::size_t i = 0; i < edges.size(); ++i) {
            m_errors[std::size_t(edges.places[i])] = edges.errors[i];
            m_rising[std::size_t(edges.places[i])] = edges.isRising(i);
        }
    }
    /// By how many boundaries edges lie apart, of their differences, each less the mean of those that begin with its
    /// direction.
    std::vector<ClockStability::Accumulated> accumulated(const std::vector<std::int64_t> &apart,
                                                         Progress &progress) const
    {
        std::vector<double> about; // tell about what, so that digits are kept
        const Starts atFirst = startsIn(0, std::min(few, m_errors.size()));
        for (const std::int64_t boundaries : apart)
            for (const std::size_t way : {0, 1}) {
                const ValueSums first = within(atFirst[way], 0, few, std::size_t(boundaries), 0);
                about.push_back(first.count > 0 ? first.sum / first.count : 0);
            }
        const auto sums = inTiles(m_errors.size(), about.size(), progress,
                                  [&](std::size_t first, std::size_t last, std::vector<ValueSums> &some) {
                                      const Starts starts = startsIn(first, last);
                                      for (std::size_t i = 0; i < some.size(); ++i)
                                          some[i] =
                                              within(starts[i % 2], first, last, std::size_t(apart[i / 2]), about[i]);
                                  });
        std::vector<ClockStability::Accumulated> all;
        for (std::size_t i = 0; i < sums.size(); i += 2)
            all.push_back(told(std::span(sums).subspan(i, 2), std::span(about).subspan(i, 2)));
        return all;
    }

private:
    using Starts = std::array<std::vector<double>, 2>; ///< by direction of the edge, NaN where there is none
    Starts startsIn(std::size_t first, std::size_t last) const
    {
        Starts starts;
        for (std::vector<double> &one : starts) one.assign(last - first, NAN);
        for (std::size_t i = first; i < last; ++i) starts[m_rising[i]][i - first] = m_errors[i];
        return starts;
    }
    ValueSums within(const std::vector<double> &starts, std::size_t first, std::size_t last, std::size_t apart,
                     double about) const
    {
        last = std::min(last, m_errors.size() > apart ? m_errors.size() - apart : 0);
        if (first >= last) return {};
        const WeighedValues of[] = {{m_errors.data() + first + apart, 1}, {starts.data(), -1}};
        return sumsOf(of, last - first, about);
    }
    static ClockStability::Accumulated told(std::span<const ValueSums> ways, std::span<const double> about)
    {
        ClockStability::Accumulated found;
        double squares = 0, low = INFINITY, high = -INFINITY;
        for (std::size_t way = 0; way < ways.size(); ++way) {
            const ValueSums &all = ways[way];
            if (all.count == 0) continue;
            const double off = all.sum / all.count, mean = about[way] + off;
            found.count += std::int64_t(all.count);
            squares += std::max(0.0, all.squares - all.sum * off);
            low = std::min(low, all.least - mean);
            high = std::max(high, all.most - mean);
        }
        if (found.count < 2) return {};
        found.rms = std::sqrt(squares / double(found.count - 1));
        found.peakToPeak = high - low;
        return found;
    }
    std::vector<double> m_errors;
    std::vector<std::uint8_t> m_rising;
};

/// Errors on the grid of unit intervals without their straight line, and at each of them the sum of those before.
class ErrorGrid {
public:
    explicit ErrorGrid(const JitterEdges &edges) : m_step(edges.unitInterval), m_errors(errorsOnGrid(edges))
    {
        takeOutLine(m_errors); // which is in neither deviation
        m_sums.reserve(m_errors.size() + 1);
        m_sums.push_back(0);
        for (const double error : m_errors) m_sums.push_back(m_sums.back() + error);
    }
    std::int64_t longest() const { return (std::int64_t(m_errors.size()) - 1) / 4; } ///< steps to be told over
    /// Over so many steps of it each: by second differences, and of means over them by third ones of the sums.
    std::vector<ClockStability::Deviation> deviations(const std::vector<std::int64_t> &steps, Progress &progress) const
    {
        const auto sums = inTiles(m_sums.size(), 2 * steps.size(), progress,
                                  [&](std::size_t first, std::size_t last, std::vector<ValueSums> &some) {
                                      for (std::size_t i = 0; i < steps.size(); ++i) {
                                          some[2 * i] = seconds(first, last, std::size_t(steps[i]));
                                          some[2 * i + 1] = thirds(first, last, std::size_t(steps[i]));
                                      }
                                  });
        std::vector<ClockStability::Deviation> all;
        for (std::size_t i = 0; i < steps.size(); ++i) {
            const ValueSums &second = sums[2 * i], &third = sums[2 * i + 1];
            const double n = double(steps[i]);
            ClockStability::Deviation &found = all.emplace_back();
            found.time = n * m_step;
            found.allan = std::sqrt(second.squares / second.count / 2) / found.time;
            found.independent = std::max(1.0, double(m_errors.size()) / n - 2);
            found.timeDeviation = std::sqrt(third.squares / third.count / 6) / n;
        }
        return all;
    }

private:
    ValueSums seconds(std::size_t first, std::size_t last, std::size_t n) const
    {
        last = std::min(last, m_errors.size() - 2 * n);
        const double *x = m_errors.data() + first;
        const WeighedValues of[] = {{x, 1}, {x + n, -2}, {x + 2 * n, 1}};
        return first < last ? sumsOf(of, last - first) : ValueSums();
    }
    ValueSums thirds(std::size_t first, std::size_t last, std::size_t n) const
    {
        last = std::min(last, m_sums.size() - 3 * n);
        const double *s = m_sums.data() + first;
        const WeighedValues of[] = {{s, -1}, {s + n, 3}, {s + 2 * n, -3}, {s + 3 * n, 1}};
        return first < last ? sumsOf(of, last - first) : ValueSums();
    }
    double m_step; ///< s
    std::vector<double> m_errors, m_sums;
};

/// 1, 2, 3, 5, 7 and their tens, up to `last`.
std::vector<std::int64_t> evenlyOverDecades(std::int64_t last)
{
    std::vector<std::int64_t> numbers;
    for (std::int64_t decade = 1; decade <= last; decade *= 10)
        for (const std::int64_t digit : {1, 2, 3, 5, 7})
            if (digit * decade <= last) numbers.push_back(digit * decade);
    return numbers;
}

} // namespace

ClockStability::Deviation deviationAt(const JitterEdges &edges, double time, Progress &progress)
{
    const ErrorGrid grid(edges);
    const double longest = double(std::max<std::int64_t>(1, grid.longest()));
    return grid.deviations({std::int64_t(std::clamp(std::round(time / edges.unitInterval), 1.0, longest))}, progress)
        .front();
}

ClockStability stabilityOf(const JitterEdges &edges, Progress &progress)
{
    ClockStability found;
    const bool clockLike = isClockLike(edges);
    const std::int64_t each = clockLike ? 2 : 1; // unit intervals of a period
    found.period = edges.unitInterval * double(each);
    constexpr std::int64_t fewest = 8; // of the longest in a record
    std::vector<std::int64_t> apart;
    if (clockLike) apart.push_back(1);
    for (const std::int64_t periods : evenlyOverDecades(std::int64_t(edges.unitIntervals()) / each / fewest))
        apart.push_back(periods * each);
    found.accumulated = BoundaryErrors(edges).accumulated(apart, progress);
    for (std::size_t i = 0; i < apart.size(); ++i) found.accumulated[i].periods = double(apart[i]) / double(each);
    std::erase_if(found.accumulated, [](const auto &one) { return one.count < 2; });
    const ErrorGrid grid(edges); // behind the other, which is as long and gone
    found.deviations = grid.deviations(evenlyOverDecades(grid.longest()), progress);
    return found;
}

std::vector<double> wanderOf(const JitterEdges &edges, double corner)
{
    std::vector<double> grid = errorsOnGrid(edges);
    // Twice the filter: each is to have its half power where both together have a quarter's root.
    const double each = corner / std::sqrt(std::sqrt(2.0) - 1),
                 share = 1 - std::exp(-2 * std::numbers::pi * each * edges.unitInterval);
    double state = grid.empty() ? 0 : grid.front();
    for (double &one : grid) one = state += share * (one - state);
    for (std::size_t i = grid.size(); i-- > 0;) grid[i] = state += share * (grid[i] - state);
    std::vector<double> wander;
    wander.reserve(edges.size());
    for (const std::int32_t place : edges.places) wander.push_back(grid[std::size_t(place)]);
    return wander;
}

} // namespace fulvex
