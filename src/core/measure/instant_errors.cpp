#include "instant_errors.h"

#include "crossing_refiner.h"
#include "sample_window.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

constexpr std::size_t looked = 200;

/// Calls `look(i)` for those of `count` places that it takes to look at, in order.
template <typename Look>
void atSome(std::size_t count, const Look &look)
{
    const std::size_t step = std::max<std::size_t>(1, count / looked);
    for (std::size_t i = 0; i < count; i += step) look(i);
}

/// How much later the straight line between two samples passes a level than the parabola through their neighbours as
/// well (Bessel's formula, second differences), in samples; 0 beside gaps and the record's ends.
double straightIsLater(SampleWindow &window, double position)
{
    const auto left = std::int64_t(std::floor(position));
    if (left < 1 || left + 2 >= window.count()) return 0;
    const double a = window.at(left - 1), b = window.at(left), c = window.at(left + 1), d = window.at(left + 2);
    const double share = position - double(left), bulge = -share * (1 - share) / 4 * (a - b - c + d), slope = c - b;
    const double later = bulge / slope;
    return std::abs(later) < 0.5 ? later : 0; // NaN too
}

double slopeBetween(SampleWindow &window, double position)
{
    const auto left = std::clamp<std::int64_t>(std::int64_t(std::floor(position)), 0, window.count() - 2);
    return window.at(left + 1) - window.at(left);
}

} // namespace

InstantErrors instantErrors(const SampleSource &source, const EdgeList &edges, bool rising)
{
    InstantErrors errors;
    SampleWindow window(source);
    std::vector<double> slopes;
    double late = 0;
    atSome(edges.size() / 2, [&](std::size_t pair) { // one of two that follow on each other has the direction
        std::size_t edge = 2 * pair;
        if (edges.isRising(edge) != rising) ++edge;
        if (edges.isRising(edge) != rising) return;
        const double at = edges.positions[edge];
        const double slope = std::abs(refinedSlope(window, at).value_or(slopeBetween(window, at)));
        if (slope > 0) slopes.push_back(slope);
        if (!edges.interpolatedBySinc) late += straightIsLater(window, at);
        source.release({std::int64_t(at), std::int64_t(at) + 1});
    });
    if (slopes.empty()) return errors;
    const auto middle = slopes.begin() + std::ptrdiff_t(slopes.size() / 2);
    std::nth_element(slopes.begin(), middle, slopes.end());
    errors.slope = *middle;
    errors.straight = late / double(slopes.size());
    return errors;
}

double sampleNoise(const SampleSource &source, SampleRange range)
{
    constexpr std::int64_t run = 1024, runs = 64;
    const std::int64_t step = std::max(run, range.size() / runs);
    std::vector<double> bends, values;
    for (std::int64_t first = range.first; first + 3 <= range.last; first += step) {
        values.resize(std::size_t(std::min(run, range.last - first)));
        source.read(first, values);
        for (std::size_t i = 2; i < values.size(); ++i) {
            const double bend = std::abs(values[i] - 2 * values[i - 1] + values[i - 2]);
            if (bend == bend) bends.push_back(bend);
        }
    }
    if (bends.empty()) return 0;
    const auto middle = bends.begin() + std::ptrdiff_t(bends.size() / 2);
    std::nth_element(bends.begin(), middle, bends.end());
    return *middle / 0.6745 / std::sqrt(6.0); // of a normal distribution; 1 + 4 + 1 variances
}

double straightTransitions(const SampleSource &source, const EdgeList &edges, const Transitions &transitions)
{
    if (edges.interpolatedBySinc || transitions.size() == 0) return 0;
    SampleWindow window(source);
    double longer = 0;
    std::size_t count = 0;
    atSome(transitions.size(), [&](std::size_t i) {
        const double start = transitions.starts[i], stop = start + transitions.durations[i];
        longer += straightIsLater(window, stop) - straightIsLater(window, start);
        ++count;
        source.release({std::int64_t(start), std::int64_t(stop) + 1});
    });
    return longer / double(count);
}

} // namespace fulvex
