#include "rate_search.h"

#include "same_everywhere.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <numeric>
#include <optional>
#include <span>
#include <vector>

namespace fulvex {

namespace {

/// Up to `limit` intervals between neighbouring crossings, taken as runs spread over the record; none spans a gap.
std::vector<double> someIntervals(const EdgeList &edges, std::size_t limit)
{
    std::vector<double> intervals;
    const std::size_t count = edges.size(), runs = count > limit ? 16 : 1, length = std::min(count, limit) / runs;
    for (std::size_t run = 0; run < runs; ++run) {
        const std::size_t first = runs == 1 ? 0 : run * (count - length) / (runs - 1);
        for (std::size_t i = std::max<std::size_t>(first, 1); i < first + length; ++i) {
            if (!edges.isAfterGap(i)) intervals.push_back(edges.positions[i] - edges.positions[i - 1]);
        }
    }
    return intervals;
}

double quantile(std::vector<double> values, double share)
{
    const auto at = values.begin() + std::ptrdiff_t(share * double(values.size() - 1));
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

/// A clock waveform has periods (two intervals) that are all alike, even where its duty cycle is not a half.
std::optional<double> halfPeriodOfClock(const std::vector<double> &intervals)
{
    std::vector<double> periods;
    for (std::size_t i = 1; i < intervals.size(); ++i) periods.push_back(intervals[i] + intervals[i - 1]);
    if (periods.size() < 3) return {};
    const double median = quantile(periods, 0.5);
    const auto alike =
        std::count_if(periods.begin(), periods.end(), [&](double p) { return std::abs(p / median - 1) < 0.2; });
    if (double(alike) < 0.95 * double(periods.size())) return {};
    return median / 2;
}

constexpr std::size_t lanes = 16; ///< arrows that turn side by side
using PhaseLanes = std::array<double, lanes>;

/// So many arrows, each the sine and the cosine of an angle.
struct Arrows {
    PhaseLanes along{}, across{};
};

/// Those of so many angles, in half turns; beyond the last: no arrow.
Arrows arrowsOf(const PhaseLanes &halfTurns, std::size_t count)
{
    Arrows arrows;
    sinCosPi(std::span(halfTurns).first(count), arrows.across.data(), arrows.along.data());
    return arrows;
}

/// Of arrows, by where they stand among eight.
struct ArrowSum {
    std::array<double, 8> along{}, across{};
};

/// Adds the arrows to each sum, turned on by `step` from one to the next.
FULVEX_WIDEST_VECTORS void addTurning(const Arrows &arrows, const Arrows &step, std::span<ArrowSum> sums)
{
    typedef double Eight __attribute__((vector_size(64))); // what the compiler makes of plain loops is slower
    constexpr std::size_t parts = sizeof(PhaseLanes) / sizeof(Eight);
    Eight along[parts], across[parts], alongStep[parts], acrossStep[parts];
    std::memcpy(along, arrows.along.data(), sizeof(PhaseLanes));
    std::memcpy(across, arrows.across.data(), sizeof(PhaseLanes));
    std::memcpy(alongStep, step.along.data(), sizeof(PhaseLanes));
    std::memcpy(acrossStep, step.across.data(), sizeof(PhaseLanes));
    for (ArrowSum &sum : sums) {
        Eight sumAlong, sumAcross;
        std::memcpy(&sumAlong, sum.along.data(), sizeof(Eight));
        std::memcpy(&sumAcross, sum.across.data(), sizeof(Eight));
        for (std::size_t part = 0; part < parts; ++part) {
            sumAlong += along[part];
            sumAcross += across[part];
            const Eight next = along[part] * alongStep[part] - across[part] * acrossStep[part];
            across[part] = along[part] * acrossStep[part] + across[part] * alongStep[part];
            along[part] = next;
        }
        std::memcpy(sum.along.data(), &sumAlong, sizeof(Eight));
        std::memcpy(sum.across.data(), &sumAcross, sizeof(Eight));
    }
}

/// The same of how far they reach along, which follows from the two before: cos(a + 2 s) = 2 cos(s) cos(a + s) -
/// cos(a).
FULVEX_WIDEST_VECTORS void addAlong(const Arrows &arrows, const Arrows &step, std::span<std::array<double, 8>> sums)
{
    typedef double Eight __attribute__((vector_size(64)));
    constexpr std::size_t parts = sizeof(PhaseLanes) / sizeof(Eight);
    Eight now[parts], next[parts], twice[parts], across[parts], acrossStep[parts];
    std::memcpy(now, arrows.along.data(), sizeof(PhaseLanes));
    std::memcpy(across, arrows.across.data(), sizeof(PhaseLanes));
    std::memcpy(twice, step.along.data(), sizeof(PhaseLanes));
    std::memcpy(acrossStep, step.across.data(), sizeof(PhaseLanes));
    for (std::size_t part = 0; part < parts; ++part) {
        next[part] = now[part] * twice[part] - across[part] * acrossStep[part];
        twice[part] += twice[part];
    }
    for (std::array<double, 8> &sum : sums) {
        Eight all;
        std::memcpy(&all, sum.data(), sizeof(Eight));
        for (std::size_t part = 0; part < parts; ++part) {
            all += now[part];
            const Eight behind = twice[part] * next[part] - now[part];
            now[part] = next[part];
            next[part] = behind;
        }
        std::memcpy(sum.data(), &all, sizeof(Eight));
    }
}

double sumOf(const std::array<double, 8> &all)
{
    return std::accumulate(all.begin(), all.end(), 0.0);
}

/// The longest T of which the intervals are multiples: mean cos(2 pi d / T) over a grid of rates 0.6 % of the lowest
/// apart. From one rate to the next an arrow turns on by always the same angle: two sines an interval do for all of
/// them.
double commonDivisor(const std::vector<double> &intervals)
{
    const double shortest = quantile(intervals, 0.05);
    constexpr double longestPeriod = 1.4, shortestPeriod = 0.24, apart = 0.006; // of the shortest interval; of a rate
    const double lowest = 1 / (longestPeriod * shortest);
    constexpr auto rates = std::size_t((longestPeriod / shortestPeriod - 1) / apart);
    std::vector<std::array<double, 8>> sums(rates);
    constexpr std::size_t enough = 512, together = 64; // the mean cosine strays by a thirtieth
    const std::size_t every = 1 + intervals.size() / enough;
    std::vector<double> used;
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        if (i / together % every == 0 && intervals[i] < 12 * shortest) used.push_back(intervals[i]);
    }
    for (std::size_t first = 0; first < used.size(); first += lanes) {
        PhaseLanes at{}, step{};
        const std::size_t some = std::min(lanes, used.size() - first);
        for (std::size_t lane = 0; lane < some; ++lane) {
            const double halfTurns = 2 * used[first + lane];
            at[lane] = halfTurns * lowest;
            step[lane] = halfTurns * apart * lowest;
        }
        addAlong(arrowsOf(at, some), arrowsOf(step, some), sums);
    }
    std::vector<double> scores;
    for (const auto &sum : sums) scores.push_back(sumOf(sum));
    const double best = *std::max_element(scores.begin(), scores.end());
    for (std::size_t i = 0; i < scores.size(); ++i) {
        const bool peak =
            (i == 0 || scores[i] >= scores[i - 1]) && (i + 1 == scores.size() || scores[i] >= scores[i + 1]);
        if (peak && scores[i] >= 0.85 * best) return 1 / (lowest + double(i) * apart * lowest);
    }
    return shortest;
}

} // namespace

std::complex<double> resonance(const EdgeList &edges, std::size_t count, double period)
{
    double along = 0, across = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const auto [sine, cosine] = sinCosPi(2 * (edges.positions[i] - edges.positions[0]) / period);
        across += sine;
        along += cosine;
    }
    return {along, across};
}

namespace {

constexpr int mostSteps = 24;

/// How strongly the first `count` edges resonate at 2 * steps + 1 rates from (1 - reach) / period to (1 + reach) /
/// period: the length of their sum as arrows that turn once a period from the first edge on. From one rate to the next
/// an arrow turns on by always the same angle, so that two sines an edge do for all of them.
std::array<double, 2 * mostSteps + 1> resonances(const EdgeList &edges, std::size_t count, double period, double reach,
                                                 int steps)
{
    std::array<ArrowSum, 2 * mostSteps + 1> sums;
    const std::size_t rates = 2 * std::size_t(steps) + 1;
    for (std::size_t first = 0; first < count; first += lanes) {
        PhaseLanes at{}, step{};
        const std::size_t some = std::min(lanes, count - first);
        for (std::size_t lane = 0; lane < some; ++lane) {
            const double halfTurns = 2 * (edges.positions[first + lane] - edges.positions[0]) / period;
            at[lane] = halfTurns * (1 - reach);
            step[lane] = halfTurns * reach / steps;
        }
        addTurning(arrowsOf(at, some), arrowsOf(step, some), std::span(sums).first(rates));
    }
    std::array<double, 2 * mostSteps + 1> lengths{};
    for (std::size_t rate = 0; rate < rates; ++rate)
        lengths[rate] = std::sqrt(std::norm(std::complex(sumOf(sums[rate].along), sumOf(sums[rate].across))));
    return lengths;
}

/// How far a period may be off for so many edges to tell which way, relative: their last one by 0.6 of a cycle.
double reachOf(const EdgeList &edges, std::size_t count, double period)
{
    const double cycles = (edges.positions[count - 1] - edges.positions[0]) / period;
    return 0.6 / std::max(cycles, 1.0);
}

/// Where within `slack` of `period` the first `count` edges resonate best, to that reach: after long runs even few of
/// them span so many cycles that 1 % of a rate lies beyond it.
double roughPeriod(const EdgeList &edges, std::size_t count, double period, double slack)
{
    const double reach = reachOf(edges, count, period);
    constexpr double most = 4096; // edges so far apart tell nothing of a rate
    const int beside = int(std::clamp(std::ceil((slack - reach) / (2 * reach)), 0.0, most));
    double best = period, highest = -1;
    for (int window = -beside; window <= beside; ++window) {
        const double middle = period / (1 + 2 * reach * window);
        const auto values = resonances(edges, count, middle, reach, mostSteps);
        const double peak = *std::max_element(values.begin(), values.end());
        if (peak > highest) highest = peak, best = middle;
    }
    return best;
}

/// The period near `period` at which the first `count` edges resonate best; `slack` is how far it may be off, relative.
/// `steps`: on either side.
double resonantPeriod(const EdgeList &edges, std::size_t count, double period, double slack, int steps)
{
    const double reach = std::min(slack, reachOf(edges, count, period));

    const auto values = resonances(edges, count, period, reach, steps);
    const auto at = [&](double step) { return period / (1 + reach * (step - steps) / steps); };
    const auto best = std::max_element(values.begin(), values.begin() + 2 * steps + 1) - values.begin();
    if (best == 0 || best == 2 * steps) return at(double(best));
    const double a = values[std::size_t(best) - 1], b = values[std::size_t(best)], c = values[std::size_t(best) + 1];
    const double bend = a - 2 * b + c;
    return at(double(best) + (bend < 0 ? 0.5 * (a - c) / bend : 0));
}

} // namespace

FoundPeriod periodOfIntervals(const EdgeList &edges)
{
    const std::vector<double> intervals = someIntervals(edges, 4000);
    if (intervals.size() < 3) return {0, "too few crossings between gaps to find a symbol rate"};
    const auto clock = halfPeriodOfClock(intervals);
    const double period = clock ? *clock : commonDivisor(intervals);
    if (!(period > 0))
        return {0, "most crossings lie on one another: no symbol rate follows from them; give the clock a rate"};
    return {period};
}

double resonantPeriod(const EdgeList &edges, double period)
{
    constexpr double slack = 0.012;
    std::size_t first = 12; // from where 1 % is a fraction of an interval, mostly
    if (const std::size_t more = std::min<std::size_t>(32, edges.size());
        reachOf(edges, std::min(first, edges.size()), period) < slack) {
        first = more;
        period = roughPeriod(edges, more, period, slack);
    }
    for (std::size_t count = first; count < 8192; count *= 3) { // the tracker takes more than is left
        const std::size_t used = std::min(count, edges.size());
        const bool nearly = used > 500; // what is left of 1 % is then a small part of the reach
        period = resonantPeriod(edges, used, period, slack, nearly ? 8 : mostSteps);
        if (used == edges.size() || (nearly && edges.size() < 2 * used)) break; // the line through all does the rest
    }
    return period;
}

} // namespace fulvex
