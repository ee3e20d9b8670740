#include "clock_stability.h"

#include "core_loop.h"
#include "edge_grid.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

/// Of the differences of edges `apart` boundaries apart, each less the mean of those that begin with its direction.
ClockStability::Accumulated spread(const JitterEdges &edges, std::int64_t apart)
{
    double mean[2] = {0, 0}, squares[2] = {0, 0}, least[2] = {INFINITY, INFINITY}, most[2] = {-INFINITY, -INFINITY};
    std::int64_t count[2] = {0, 0};
    std::size_t later = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const std::int64_t wanted = edges.places[i] + apart;
        while (later < edges.size() && edges.places[later] < wanted) ++later;
        if (later == edges.size()) break;
        if (edges.places[later] != wanted) continue;
        const double value = edges.errors[later] - edges.errors[i];
        const bool rising = edges.isRising(i);
        const double off = value - mean[rising];
        mean[rising] += off / double(++count[rising]);
        squares[rising] += off * (value - mean[rising]);
        least[rising] = std::min(least[rising], value);
        most[rising] = std::max(most[rising], value);
    }
    ClockStability::Accumulated found;
    found.count = count[0] + count[1];
    if (found.count < 2) return {};
    found.rms = std::sqrt((squares[0] + squares[1]) / double(found.count - 1));
    double low = INFINITY, high = -INFINITY;
    for (int way = 0; way < 2; ++way) {
        if (count[way] == 0) continue;
        low = std::min(low, least[way] - mean[way]);
        high = std::max(high, most[way] - mean[way]);
    }
    found.peakToPeak = high - low;
    return found;
}

/// 1, 2, 3, 5, 7 and their tens, up to `last`.
std::vector<std::int64_t> evenlyOverDecades(std::int64_t last)
{
    std::vector<std::int64_t> numbers;
    for (std::int64_t decade = 1; decade <= last; decade *= 10)
        for (const std::int64_t digit : {1, 2, 3, 5, 7})
            if (digit * decade <= last) numbers.push_back(digit * decade);
    return numbers;
}

/// Over n steps of the grid of errors x.
ClockStability::Deviation deviationOver(const std::vector<double> &x, std::size_t n, double step)
{
    ClockStability::Deviation found;
    found.time = double(n) * step;
    const std::size_t count = x.size() - 2 * n;
    double squares = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const double second = x[i + 2 * n] - 2 * x[i + n] + x[i];
        squares += second * second;
    }
    found.allan = std::sqrt(squares / double(count) / 2) / found.time;
    found.independent = std::max(1.0, double(x.size()) / double(n) - 2);
    if (x.size() < 3 * n + 1) return found;
    // The same of means over n, of which each sum follows from the one before.
    double sum = 0, total = 0;
    for (std::size_t i = 0; i < n; ++i) sum += x[i + 2 * n] - 2 * x[i + n] + x[i];
    const std::size_t sums = x.size() - 3 * n + 1;
    for (std::size_t j = 0; j < sums; ++j) {
        total += sum * sum;
        if (j + 1 < sums) sum += x[j + 3 * n] - 3 * x[j + 2 * n] + 3 * x[j + n] - x[j];
    }
    found.timeDeviation = std::sqrt(total / double(sums) / 6) / double(n);
    return found;
}

} // namespace

ClockStability::Deviation deviationAt(const JitterEdges &edges, double time)
{
    const std::vector<double> grid = errorsOnGrid(edges);
    const double most = double((grid.size() - 1) / 4);
    return deviationOver(grid, std::size_t(std::clamp(std::round(time / edges.unitInterval), 1.0, most)),
                         edges.unitInterval);
}

ClockStability stabilityOf(const JitterEdges &edges, Progress &progress)
{
    ClockStability found;
    const bool clockLike = isClockLike(edges);
    const auto length = std::int64_t(edges.unitIntervals());
    found.period = edges.unitInterval * (clockLike ? 2 : 1);
    std::vector<ClockStability::Accumulated> accumulated;
    constexpr std::int64_t fewest = 8; // of the longest in a record
    const std::vector<std::int64_t> periods = evenlyOverDecades(length / (clockLike ? 2 : 1) / fewest);
    const std::size_t half = clockLike ? 1 : 0;
    accumulated.resize(half + periods.size());
    const std::vector<double> grid = errorsOnGrid(edges);
    const std::vector<std::int64_t> steps = evenlyOverDecades((std::int64_t(grid.size()) - 1) / 4);
    found.deviations.resize(steps.size());
    onAllCores(std::int64_t(accumulated.size() + steps.size()), [&](std::int64_t job) {
        const auto index = std::size_t(job);
        progress.advance(0);
        if (index < half) {
            accumulated[0] = spread(edges, 1);
            accumulated[0].periods = 0.5;
        } else if (index < accumulated.size()) {
            const std::int64_t count = periods[index - half];
            accumulated[index] = spread(edges, count * (clockLike ? 2 : 1));
            accumulated[index].periods = double(count);
        } else {
            const std::size_t which = index - accumulated.size();
            found.deviations[which] = deviationOver(grid, std::size_t(steps[which]), edges.unitInterval);
        }
    });
    std::erase_if(accumulated, [](const auto &one) { return one.count < 2; });
    found.accumulated = std::move(accumulated);
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
