#include "symbol_timing.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

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
    const auto alike = std::count_if(periods.begin(), periods.end(), [&](double p) { return std::abs(p / median - 1) < 0.2; });
    if (double(alike) < 0.95 * double(periods.size())) return {};
    return median / 2;
}

/// The longest T of which the intervals are multiples: mean cos(2 pi d / T) over a grid of 0.3 % steps.
double commonDivisor(const std::vector<double> &intervals)
{
    const double shortest = quantile(intervals, 0.05);
    std::vector<double> used;
    for (const double d : intervals) {
        if (d < 12 * shortest) used.push_back(d);
    }
    std::vector<std::pair<double, double>> scores;  // period, score
    double best = -1;
    for (double period = 1.4 * shortest; period > 0.24 * shortest; period *= 0.997) {
        double sum = 0;
        for (const double d : used) sum += std::cos(turn * d / period);
        scores.emplace_back(period, sum / double(used.size()));
        best = std::max(best, scores.back().second);
    }
    for (std::size_t i = 0; i < scores.size(); ++i) {
        const bool peak = (i == 0 || scores[i].second >= scores[i - 1].second) &&
                          (i + 1 == scores.size() || scores[i].second >= scores[i + 1].second);
        if (peak && scores[i].second >= 0.85 * best) return scores[i].first;
    }
    return shortest;
}

std::complex<double> resonance(const EdgeList &edges, std::size_t count, double period)
{
    std::complex<double> sum = 0;
    for (std::size_t i = 0; i < count; ++i) sum += std::polar(1.0, turn * (edges.positions[i] - edges.positions[0]) / period);
    return sum;
}

/// The period near `period` at which the first `count` edges resonate best; `slack` is how far it may be off, relative.
double resonantPeriod(const EdgeList &edges, std::size_t count, double period, double slack)
{
    const double cycles = (edges.positions[count - 1] - edges.positions[0]) / period;
    const double reach = std::min(slack, 0.6 / std::max(cycles, 1.0));
    constexpr int steps = 24;
    const auto at = [&](double step) { return period * (1 + reach * step / steps); };
    int best = 0;
    double values[2 * steps + 1];
    for (int step = -steps; step <= steps; ++step) {
        values[step + steps] = std::abs(resonance(edges, count, at(step)));
        if (values[step + steps] > values[best + steps]) best = step;
    }
    if (std::abs(best) == steps) return at(best);
    const double a = values[best + steps - 1], b = values[best + steps], c = values[best + steps + 1];
    const double bend = a - 2 * b + c;
    return at(best + (bend < 0 ? 0.5 * (a - c) / bend : 0));
}

/// Gives every edge its number: a tracker of second order follows the instants, so that neither a rate that is a
/// little off nor wander adds up to a slip.
void numberEdges(const EdgeList &edges, double period, SymbolTiming &timing, Progress &progress)
{
    constexpr double phaseGain = 0.12, periodGain = phaseGain * phaseGain / 4;
    const std::size_t start = std::min<std::size_t>(edges.size(), 256);
    double clock = edges.positions[0] + std::arg(resonance(edges, start, period)) / turn * period;
    if (edges.positions[0] - clock > period / 2) clock += period;
    double tracked = period;
    std::int64_t number = 0;
    timing.numbers.resize(edges.size());
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double distance = (edges.positions[i] - clock) / tracked;
        const double steps = std::max(0.0, std::round(distance));
        number += std::int64_t(steps);
        timing.numbers[i] = std::int32_t(number);
        if (steps > 0 || i == 0) {
            const double error = std::clamp(distance - steps, -0.5, 0.5);
            clock += (steps + phaseGain * error) * tracked;
            tracked += std::clamp(periodGain * error / std::max(steps, 1.0), -0.01, 0.01) * tracked;
            tracked = std::clamp(tracked, 0.98 * period, 1.02 * period);
        }
        if (i % 65536 == 0) progress.advance(0);
    }
}

/// Standard uncertainty of the fitted period. Neighbouring residuals hang together where the clock wanders, so they are
/// averaged over batches, from single edges up to an eighth of the record, and the largest answer counts.
double slopeUncertainty(const EdgeList &edges, const SymbolTiming &timing, double nn)
{
    const std::size_t count = edges.size();
    double largest = 0;
    for (std::size_t length = 1; length == 1 || count / length >= 8; length *= 2) {
        const std::size_t batches = count / length;
        if (batches < 3) break;
        double squares = 0;
        for (std::size_t batch = 0; batch < batches; ++batch) {
            double residual = 0;
            for (std::size_t i = batch * length; i < (batch + 1) * length; ++i)
                residual += edges.positions[i] - timing.offset - timing.period * timing.numbers[i];
            squares += residual * residual / double(length);  // the batch mean's square, weighted by its length
        }
        largest = std::max(largest, squares / double(batches - 2) / nn);
    }
    return std::sqrt(largest);
}

/// Least squares of instants over numbers.
void fitLine(const EdgeList &edges, SymbolTiming &timing)
{
    const auto count = double(edges.size());
    double meanNumber = 0, meanPosition = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        meanNumber += timing.numbers[i];
        meanPosition += edges.positions[i];
    }
    meanNumber /= count;
    meanPosition /= count;
    double nn = 0, np = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double n = timing.numbers[i] - meanNumber;
        nn += n * n;
        np += n * (edges.positions[i] - meanPosition);
    }
    timing.period = np / nn;
    timing.offset = meanPosition - timing.period * meanNumber;
    timing.periodUncertainty = slopeUncertainty(edges, timing, nn);
}

SymbolTiming without(std::string reason)
{
    SymbolTiming timing;
    timing.reason = std::move(reason);
    return timing;
}

}  // namespace

SymbolTiming findSymbolTiming(const EdgeList &edges, std::optional<double> expected, Progress &progress)
{
    if (edges.size() < 4)
        return without(std::to_string(edges.size()) + " crossings of the mid level; a clock needs at least 4: check the "
                                                      "levels, or take a longer capture");
    double period = 0, slack = 0.012;
    if (expected) {
        period = *expected;
    } else {
        const std::vector<double> intervals = someIntervals(edges, 4000);
        if (intervals.size() < 3) return without("too few crossings between gaps to find a symbol rate");
        const auto clock = halfPeriodOfClock(intervals);
        period = clock ? *clock : commonDivisor(intervals);
    }
    for (std::size_t count = 12; count < 16384; count *= 3) {  // from where 1 % is a fraction of an interval
        const std::size_t used = std::min(count, edges.size());
        period = resonantPeriod(edges, used, period, slack);
        if (used == edges.size()) break;
    }
    SymbolTiming timing;
    numberEdges(edges, period, timing, progress);
    if (timing.numbers.back() == timing.numbers.front())
        return without("all crossings fall into one unit interval: give the clock a rate near the true one");
    fitLine(edges, timing);
    return timing;
}

}  // namespace fulvex
