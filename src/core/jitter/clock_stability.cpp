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

/// Differences of values that lie evenly, of one kind and as far apart.
struct Asked {
    std::array<WeighedValues, 4> of;
    std::size_t terms = 2, size = 0;
    double about = 0;
    ValueSums within(std::size_t first, std::size_t last) const
    {
        std::array<WeighedValues, 4> from = of;
        for (WeighedValues &one : from) one.values += first;
        return sumsOf(std::span(from).first(terms), last - first, about);
    }
};

/// A few places at a time of all that are asked for, so that values are read from memory once; extremes by how far they
/// lie from what they are told about as well.
std::vector<ValueSums> sumsOfAll(const std::vector<Asked> &all, Progress &progress)
{
    struct Part {
        std::vector<ValueSums> sums;
        void merge(const Part &later)
        {
            if (sums.empty()) sums.resize(later.sums.size());
            for (std::size_t i = 0; i < later.sums.size(); ++i) sums[i].merge(later.sums[i]);
        }
    };
    std::size_t size = 0;
    for (const Asked &one : all) size = std::max(size, one.size);
    constexpr std::int64_t few = 16384;
    Part sums = inChunksMerged<Part>({0, std::int64_t(size)}, few, progress, [&](SampleRange mine, Part &part) {
        part.sums.resize(all.size());
        const auto first = std::size_t(mine.first), last = std::size_t(mine.last);
        for (std::size_t i = 0; i < all.size(); ++i)
            if (first < all[i].size) part.sums[i] = all[i].within(first, std::min(last, all[i].size));
    });
    sums.sums.resize(all.size());
    for (std::size_t i = 0; i < all.size(); ++i) sums.sums[i].least -= all[i].about, sums.sums[i].most -= all[i].about;
    return sums.sums;
}

/// Errors by boundary, as those that intervals begin with by direction, and as those that they end with; NaN where
/// there is no such edge.
class BoundaryErrors {
public:
    explicit BoundaryErrors(const JitterEdges &edges) : m_ends(edges.unitIntervals() + 1, NAN), m_starts{m_ends, m_ends}
    {
        for (std::size_t i = 0; i < edges.size(); ++i)
            m_ends[std::size_t(edges.places[i])] = m_starts[edges.isRising(i)][std::size_t(edges.places[i])] =
                edges.errors[i];
    }
    /// The differences of edges `apart` boundaries apart, of those that begin with each direction.
    std::array<Asked, 2> asked(std::size_t apart) const
    {
        std::array<Asked, 2> both;
        for (std::size_t way = 0; way < both.size(); ++way) {
            Asked &one = both[way];
            one.size = m_ends.size() > apart ? m_ends.size() - apart : 0;
            one.of = {{{m_ends.data() + apart, 1}, {m_starts[way].data(), -1}}};
            constexpr std::size_t some = 4096; // tell about what, so that digits are kept
            const ValueSums first = one.within(0, std::min(some, one.size));
            if (first.count > 0) one.about = first.sum / first.count;
        }
        return both;
    }
    /// Each difference less the mean of those that begin with its direction.
    static ClockStability::Accumulated told(std::span<const ValueSums> ways)
    {
        ClockStability::Accumulated found;
        double squares = 0, low = INFINITY, high = -INFINITY;
        for (const ValueSums &all : ways) {
            if (all.count == 0) continue;
            const double mean = all.sum / all.count;
            found.count += std::int64_t(all.count);
            squares += std::max(0.0, all.squares - all.sum * mean);
            low = std::min(low, all.least - mean);
            high = std::max(high, all.most - mean);
        }
        if (found.count < 2) return {};
        found.rms = std::sqrt(squares / double(found.count - 1));
        found.peakToPeak = high - low;
        return found;
    }

private:
    std::vector<double> m_ends, m_starts[2];
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
    /// Over n steps of it: second differences, and of means over n steps third ones of the sums.
    std::array<Asked, 2> asked(std::size_t n) const
    {
        const double *x = m_errors.data(), *s = m_sums.data();
        const std::size_t size = m_errors.size();
        return {{{{{{x, 1}, {x + n, -2}, {x + 2 * n, 1}}}, 3, size - 2 * n},
                 {{{{s, -1}, {s + n, 3}, {s + 2 * n, -3}, {s + 3 * n, 1}}}, 4, size + 1 - 3 * n}}};
    }
    ClockStability::Deviation told(std::size_t n, std::span<const ValueSums> sums) const
    {
        ClockStability::Deviation found;
        found.time = double(n) * m_step;
        found.allan = std::sqrt(sums[0].squares / sums[0].count / 2) / found.time;
        found.independent = std::max(1.0, double(m_errors.size()) / double(n) - 2);
        found.timeDeviation = std::sqrt(sums[1].squares / sums[1].count / 6) / double(n);
        return found;
    }

private:
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
    const auto steps = std::size_t(std::clamp(std::round(time / edges.unitInterval), 1.0, longest));
    const auto asked = grid.asked(steps);
    return grid.told(steps, sumsOfAll({asked.begin(), asked.end()}, progress));
}

ClockStability stabilityOf(const JitterEdges &edges, Progress &progress)
{
    ClockStability found;
    const bool clockLike = isClockLike(edges);
    const std::int64_t each = clockLike ? 2 : 1; // unit intervals of a period
    found.period = edges.unitInterval * double(each);
    constexpr std::int64_t fewest = 8; // of the longest in a record
    std::vector<std::int64_t> boundaries;
    if (clockLike) boundaries.push_back(1);
    for (const std::int64_t periods : evenlyOverDecades(std::int64_t(edges.unitIntervals()) / each / fewest))
        boundaries.push_back(periods * each);
    const BoundaryErrors errors(edges);
    const ErrorGrid grid(edges);
    const std::vector<std::int64_t> steps = evenlyOverDecades(grid.longest());
    std::vector<Asked> asked;
    for (const std::int64_t apart : boundaries)
        for (const Asked &one : errors.asked(std::size_t(apart))) asked.push_back(one);
    for (const std::int64_t n : steps)
        for (const Asked &one : grid.asked(std::size_t(n))) asked.push_back(one);
    const std::vector<ValueSums> sums = sumsOfAll(asked, progress);
    auto next = sums.begin();
    for (const std::int64_t apart : boundaries) {
        found.accumulated.push_back(BoundaryErrors::told({next, 2}));
        found.accumulated.back().periods = double(apart) / double(each);
        next += 2;
    }
    std::erase_if(found.accumulated, [](const auto &one) { return one.count < 2; });
    for (const std::int64_t n : steps) {
        found.deviations.push_back(grid.told(std::size_t(n), {next, 2}));
        next += 2;
    }
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
