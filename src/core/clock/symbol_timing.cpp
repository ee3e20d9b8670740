#include "symbol_timing.h"

#include "edge_numbering.h"
#include "eight_lanes.h"
#include "parallel.h"
#include "rate_search.h"
#include "widest_vectors.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

namespace fulvex {

namespace {

constexpr std::int64_t edgesPerChunk = 1 << 16;

/// Over numbers and deviations from a line at `period`.
struct LineSums {
    double n = 0, nn = 0, d = 0, nd = 0;
};

FULVEX_WIDEST_VECTORS LineSums lineSums(const double *positions, const std::int32_t *numbers, std::size_t count,
                                        double first, double period)
{
    Eight n{}, nn{}, d{}, nd{};
    std::size_t i = 0;
    for (; i + eight <= count; i += eight) {
        const Eight number = eightOf(numbers + i), deviation = eightOf(positions + i) - first - period * number;
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
FULVEX_WIDEST_VECTORS double batchSums(const double *positions, const std::int32_t *numbers, std::size_t count,
                                       double offset, double period, double *sums)
{
    Eight squares{};
    std::size_t i = 0;
    for (; i + batch <= count; i += batch) {
        Eight sum{};
        for (std::size_t k = i; k < i + batch; k += eight) {
            const Eight residual = eightOf(positions + k) - offset - period * eightOf(numbers + k);
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
    FoundPeriod rough = expected ? FoundPeriod{*expected} : periodOfIntervals(edges);
    if (!rough.reason.empty()) return without(std::move(rough.reason));
    const double period = resonantPeriod(edges, rough.period);
    if (!((edges.positions.back() - edges.positions.front()) / period < mostBoundaries))
        return without("more unit intervals than can be counted (2^31): give the clock a rate near the true one");
    SymbolTiming timing;
    numberEdges(edges, period, timing.numbers, progress);
    fitLine(edges, period, timing, progress);
    if (timing.numbers.back() == timing.numbers.front())
        return without("all crossings fall into one unit interval: give the clock a rate near the true one");
    return timing;
}

} // namespace fulvex
