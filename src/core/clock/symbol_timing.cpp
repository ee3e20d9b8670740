#include "symbol_timing.h"

#include "parallel.h"
#include "same_everywhere.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <cstring>
#include <numbers>
#include <numeric>
#include <span>
#include <utility>

namespace fulvex {

namespace {

constexpr double turn = 2 * std::numbers::pi;

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
using Lanes = std::array<double, lanes>;

/// So many arrows, each the sine and the cosine of an angle.
struct Arrows {
    Lanes along{}, across{};
};

/// Those of so many angles, in half turns; beyond the last: no arrow.
Arrows arrowsOf(const Lanes &halfTurns, std::size_t count)
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
    constexpr std::size_t parts = sizeof(Lanes) / sizeof(Eight);
    Eight along[parts], across[parts], alongStep[parts], acrossStep[parts];
    std::memcpy(along, arrows.along.data(), sizeof(Lanes));
    std::memcpy(across, arrows.across.data(), sizeof(Lanes));
    std::memcpy(alongStep, step.along.data(), sizeof(Lanes));
    std::memcpy(acrossStep, step.across.data(), sizeof(Lanes));
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

double sumOf(const std::array<double, 8> &all)
{
    return std::accumulate(all.begin(), all.end(), 0.0);
}

/// The longest T of which the intervals are multiples: mean cos(2 pi d / T) over a grid of rates 0.3 % of the lowest
/// apart. From one rate to the next an arrow turns on by always the same angle: two sines an interval do for all of
/// them.
double commonDivisor(const std::vector<double> &intervals)
{
    const double shortest = quantile(intervals, 0.05);
    constexpr double longestPeriod = 1.4, shortestPeriod = 0.24, apart = 0.003; // of the shortest interval; of a rate
    const double lowest = 1 / (longestPeriod * shortest);
    constexpr auto rates = std::size_t((longestPeriod / shortestPeriod - 1) / apart);
    std::vector<ArrowSum> sums(rates);
    constexpr std::size_t enough = 1024, together = 64; // the mean cosine strays by a fiftieth
    const std::size_t every = 1 + intervals.size() / enough;
    std::vector<double> used;
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        if (i / together % every == 0 && intervals[i] < 12 * shortest) used.push_back(intervals[i]);
    }
    for (std::size_t first = 0; first < used.size(); first += lanes) {
        Lanes at{}, step{};
        const std::size_t some = std::min(lanes, used.size() - first);
        for (std::size_t lane = 0; lane < some; ++lane) {
            const double halfTurns = 2 * used[first + lane];
            at[lane] = halfTurns * lowest;
            step[lane] = halfTurns * apart * lowest;
        }
        addTurning(arrowsOf(at, some), arrowsOf(step, some), sums);
    }
    std::vector<double> scores;
    for (const ArrowSum &sum : sums) scores.push_back(sumOf(sum.along));
    const double best = *std::max_element(scores.begin(), scores.end());
    for (std::size_t i = 0; i < scores.size(); ++i) {
        const bool peak =
            (i == 0 || scores[i] >= scores[i - 1]) && (i + 1 == scores.size() || scores[i] >= scores[i + 1]);
        if (peak && scores[i] >= 0.85 * best) return 1 / (lowest + double(i) * apart * lowest);
    }
    return shortest;
}

/// The sum of all edges as arrows that turn once a period from the first one on.
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
        Lanes at{}, step{};
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

constexpr std::int64_t edgesPerChunk = 1 << 17;

/// Numbers edges one after the other: a tracker of second order follows the instants, so that neither a rate that is a
/// little off nor wander adds up to a slip.
struct Tracker {
    static constexpr double phaseGain = 0.12, periodGain = phaseGain * phaseGain / 4;
    double period, clock, tracked, inverse; ///< samples; `clock`: the boundary of the last edge
    std::int64_t number = 0;

    Tracker(double symbolPeriod, double boundary)
        : period(symbolPeriod), clock(boundary), tracked(symbolPeriod), inverse(1 / symbolPeriod)
    {
    }
    /// Takes an edge; its number.
    std::int64_t take(std::int64_t edge, double position)
    {
        const double distance = (position - clock) * inverse;
        const auto whole = std::int64_t(std::max(0.0, distance + 0.5));
        const auto steps = double(whole);
        number += whole;
        if (whole == 0 && edge > 0) return number;
        const auto within = [](double v, double least, double most) { return std::min(std::max(v, least), most); };
        const double error = within(distance - steps, -0.5, 0.5);
        clock += (steps + phaseGain * error) * tracked;
        const double change = within(periodGain * error / std::max(steps, 1.0), -0.01, 0.01);
        tracked = within(tracked * (1 + change), 0.98 * period, 1.02 * period);
        // To third order, exact now and then.
        inverse = edge % 64 == 0 ? 1 / tracked : inverse * (1 - change * (1 - change));
        return number;
    }
    /// Takes a range of edges; `numbers` may be null.
    void follow(const EdgeList &edges, SampleRange range, std::int64_t *numbers)
    {
        for (std::int64_t i = range.first; i < range.last; ++i) {
            const std::int64_t own = take(i, edges.positions[std::size_t(i)]);
            if (numbers) numbers[i] = own;
        }
    }
    bool agrees(const Tracker &other) const
    {
        return std::abs(clock - other.clock) < 1e-6 * period && std::abs(tracked - other.tracked) < 1e-6 * period;
    }
};

constexpr std::size_t together = 4; ///< trackers that take turns: each waits for its own last step

/// The same of as many ranges of one length.
void followTogether(std::array<Tracker, together> &all, const EdgeList &edges,
                    const std::array<SampleRange, together> &ranges, std::int64_t *numbers)
{
    std::array<Tracker, together> own = all; // in registers
    for (std::int64_t i = 0; i < ranges[0].size(); ++i) {
        for (std::size_t k = 0; k < together; ++k) {
            const std::int64_t edge = ranges[k].first + i,
                               number = own[k].take(edge, edges.positions[std::size_t(edge)]);
            if (numbers) numbers[edge] = number;
        }
    }
    all = own;
}

/// Gives every edge its number. Chunks are followed side by side, each warmed up on the edges before it; where that did
/// not bring it to the state the chunk before ended in, it is followed again from there.
void numberEdges(const EdgeList &edges, double period, RawVector<std::int64_t> &numbers, Progress &progress)
{
    constexpr std::int64_t warmUp = 4096;
    const auto count = std::int64_t(edges.size());
    const double first = edges.positions[0];
    double boundary =
        first + std::arg(resonance(edges, std::min<std::size_t>(edges.size(), 256), period)) / turn * period;
    if (first - boundary > period / 2) boundary += period;

    struct Chunk {
        SampleRange range;
        std::optional<Tracker> begin, end;
    };
    numbers.resize(edges.size());
    std::vector<Chunk> chunks;
    for (std::int64_t at = 0; at < count; at += edgesPerChunk)
        chunks.push_back({{at, std::min(count, at + edgesPerChunk)}, {}, {}});
    const auto startOf = [&](const Chunk &chunk) { return std::max<std::int64_t>(0, chunk.range.first - warmUp); };
    const auto trackerAt = [&](std::int64_t start) {
        return Tracker(period, start == 0 ? boundary : edges.positions[std::size_t(start)]);
    };
    const auto one = [&](Chunk &chunk) {
        Tracker tracker = trackerAt(startOf(chunk));
        tracker.follow(edges, {startOf(chunk), chunk.range.first}, nullptr);
        chunk.begin = tracker;
        tracker.follow(edges, chunk.range, numbers.data());
        chunk.end = tracker;
    };
    const auto several = [&](std::span<Chunk, together> some) {
        std::array<SampleRange, together> before, own;
        for (std::size_t k = 0; k < together; ++k) {
            before[k] = {startOf(some[k]), some[k].range.first};
            own[k] = some[k].range;
        }
        const auto at = [&](std::size_t k) { return trackerAt(before[k].first); };
        std::array<Tracker, together> trackers{at(0), at(1), at(2), at(3)};
        followTogether(trackers, edges, before, nullptr);
        for (std::size_t k = 0; k < together; ++k) some[k].begin = trackers[k];
        followTogether(trackers, edges, own, numbers.data());
        for (std::size_t k = 0; k < together; ++k) some[k].end = trackers[k];
    };
    progress.expect(double(count));
    // The first has nothing before it, the last may be shorter.
    const std::size_t groups = chunks.size() > 2 * together ? (chunks.size() - 2) / together : 0,
                      grouped = groups * together;
    onAllCores(std::int64_t(groups + chunks.size() - grouped), [&](std::int64_t index) {
        const auto at = std::size_t(index);
        double done = 0;
        if (at < groups) {
            const std::span<Chunk, together> some(chunks.data() + 1 + at * together, together);
            several(some);
            done = double(together * edgesPerChunk);
        } else {
            Chunk &chunk = chunks[at == groups ? 0 : at - groups + grouped];
            one(chunk);
            done = double(chunk.range.size());
        }
        progress.advance(done);
    });
    std::vector<std::int64_t> more(chunks.size()); // what each chunk's numbers are short of
    for (std::size_t i = 1; i < chunks.size(); ++i) {
        const Tracker &before = *chunks[i - 1].end;
        if (chunks[i].begin->agrees(before)) {
            more[i] = before.number + more[i - 1] - chunks[i].begin->number;
        } else {
            more[i] = more[i - 1];
            Tracker tracker = before;
            tracker.follow(edges, chunks[i].range, numbers.data());
            chunks[i].end = tracker;
        }
    }
    struct Nothing {};
    inChunks<Nothing>({0, count}, edgesPerChunk, progress, [&](SampleRange mine, Nothing &) {
        const std::int64_t add = more[std::size_t(mine.first / edgesPerChunk)];
        for (std::int64_t i = mine.first; i < mine.last; ++i) numbers[std::size_t(i)] += add;
    });
}

typedef double Eight __attribute__((vector_size(64))); // eight sums side by side: one alone waits for itself
typedef long long EightNumbers __attribute__((vector_size(64)));
constexpr std::size_t eight = 8;

/// Of whole numbers below 2^51: a conversion of 64 bits is not everywhere.
inline Eight exactly(const std::int64_t *numbers)
{
    EightNumbers bits;
    std::memcpy(&bits, numbers, sizeof bits);
    bits += 0x4338000000000000;
    Eight values;
    std::memcpy(&values, &bits, sizeof values);
    return values - 0x1.8p52;
}

inline Eight eightOf(const double *values)
{
    Eight some;
    std::memcpy(&some, values, sizeof some);
    return some;
}

inline double sumOf(const Eight &all)
{
    return ((all[0] + all[1]) + (all[2] + all[3])) + ((all[4] + all[5]) + (all[6] + all[7]));
}

/// Over numbers and deviations from a line at `period`.
struct LineSums {
    double n = 0, nn = 0, d = 0, nd = 0;
};

FULVEX_WIDEST_VECTORS LineSums lineSums(const double *positions, const std::int64_t *numbers, std::size_t count,
                                        double first, double period)
{
    Eight n{}, nn{}, d{}, nd{};
    std::size_t i = 0;
    for (; i + eight <= count; i += eight) {
        const Eight number = exactly(numbers + i), deviation = eightOf(positions + i) - first - period * number;
        n += number;
        nn += number * number;
        d += deviation;
        nd += number * deviation;
    }
    LineSums sums{sumOf(n), sumOf(nn), sumOf(d), sumOf(nd)};
    for (; i < count; ++i) {
        const double number = double(numbers[i]), deviation = positions[i] - first - period * number;
        sums.n += number;
        sums.nn += number * number;
        sums.d += deviation;
        sums.nd += number * deviation;
    }
    return sums;
}

constexpr std::size_t batch = 32; ///< edges

/// The sums of residuals from a line of each batch, and of all residuals' squares.
FULVEX_WIDEST_VECTORS double batchSums(const double *positions, const std::int64_t *numbers, std::size_t count,
                                       double offset, double period, double *sums)
{
    Eight squares{};
    std::size_t i = 0;
    for (; i + batch <= count; i += batch) {
        Eight sum{};
        for (std::size_t k = i; k < i + batch; k += eight) {
            const Eight residual = eightOf(positions + k) - offset - period * exactly(numbers + k);
            squares += residual * residual;
            sum += residual;
        }
        sums[i / batch] = sumOf(sum);
    }
    double all = sumOf(squares);
    for (; i < count; ++i) {
        const double residual = positions[i] - offset - period * double(numbers[i]);
        all += residual * residual;
    }
    return all;
}

/// Standard uncertainty of the fitted period. Neighbouring residuals hang together where the clock wanders, so they are
/// averaged over batches, of one edge, of 32 and on in doublings up to an eighth of the record, and the largest answer
/// counts. `nn`: sum of the squared numbers' distances from their mean.
double slopeUncertainty(const EdgeList &edges, const SymbolTiming &timing, double nn, Progress &progress)
{
    static_assert(edgesPerChunk % batch == 0);
    std::vector<double> sums(edges.size() / batch); // of the residuals, per batch
    const auto parts = inChunks<double>(
        {0, std::int64_t(edges.size())}, edgesPerChunk, progress, [&](SampleRange mine, double &squares) {
            const auto first = std::size_t(mine.first);
            squares = batchSums(edges.positions.data() + first, timing.numbers.data() + first, std::size_t(mine.size()),
                                timing.offset, timing.period, sums.data() + first / batch);
        });
    const double squares = std::accumulate(parts.begin(), parts.end(), 0.0);
    double largest = edges.size() > 2 ? squares / double(edges.size() - 2) / nn : 0;
    for (std::size_t length = batch; sums.size() >= 8; length *= 2) {
        double scatter = 0;
        for (const double sum : sums) scatter += sum * sum / double(length); // the mean's square, by its length
        largest = std::max(largest, scatter / double(sums.size() - 2) / nn);
        for (std::size_t i = 0; i + 1 < sums.size(); i += 2) sums[i / 2] = sums[i] + sums[i + 1];
        sums.resize(sums.size() / 2);
    }
    return std::sqrt(largest);
}

/// The least-squares line of the instants over their numbers; `period`: near its slope.
void fitLine(const EdgeList &edges, double period, SymbolTiming &timing, Progress &progress)
{
    const double first = edges.positions[0], count = double(edges.size());
    const auto parts = inChunks<LineSums>(
        {0, std::int64_t(edges.size())}, edgesPerChunk, progress, [&](SampleRange mine, LineSums &part) {
            const auto from = std::size_t(mine.first);
            part = lineSums(edges.positions.data() + from, timing.numbers.data() + from, std::size_t(mine.size()),
                            first, period);
        });
    LineSums all;
    for (const LineSums &part : parts) all.n += part.n, all.nn += part.nn, all.d += part.d, all.nd += part.nd;
    const double meanNumber = all.n / count, spread = all.nn - all.n * meanNumber;
    const double slope = spread > 0 ? (all.nd - all.n * all.d / count) / spread : 0;
    timing.period = period + slope;
    timing.offset = first + all.d / count - slope * meanNumber;
    timing.periodUncertainty = spread > 0 ? slopeUncertainty(edges, timing, spread, progress) : 0;
}

SymbolTiming without(std::string reason)
{
    SymbolTiming timing;
    timing.reason = std::move(reason);
    return timing;
}

} // namespace

SymbolTiming findSymbolTiming(const EdgeList &edges, std::optional<double> expected, Progress &progress)
{
    if (edges.size() < 4)
        return without(std::to_string(edges.size()) +
                       " crossings of the mid level; a clock needs at least 4: check the "
                       "levels, or take a longer capture");
    double period = 0, slack = 0.012;
    if (expected) {
        period = *expected;
    } else {
        const std::vector<double> intervals = someIntervals(edges, 4000);
        if (intervals.size() < 3) return without("too few crossings between gaps to find a symbol rate");
        const auto clock = halfPeriodOfClock(intervals);
        period = clock ? *clock : commonDivisor(intervals);
        if (!(period > 0))
            return without(
                "most crossings lie on one another: no symbol rate follows from them; give the clock a rate");
    }
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
    SymbolTiming timing;
    numberEdges(edges, period, timing.numbers, progress);
    fitLine(edges, period, timing, progress);
    if (timing.numbers.back() == timing.numbers.front())
        return without("all crossings fall into one unit interval: give the clock a rate near the true one");
    return timing;
}

} // namespace fulvex
