#include "edge_statistics.h"

#include "value_runs.h"
#include "value_sums.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numeric>
#include <vector>

namespace fulvex {

namespace {

/// Instants, and how many periods each lies behind the first.
struct Counted {
    std::vector<double> at;
    std::vector<std::int64_t> number;
};

Counted counted(const EdgeList &edges, bool rising)
{
    Counted all;
    std::vector<bool> broken; // a gap lies before it
    bool gap = false;
    double whole = 0;
    std::int64_t steps = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        gap |= edges.isAfterGap(i);
        if (edges.isRising(i) != rising) continue;
        if (!all.at.empty() && !gap) whole += edges.positions[i] - all.at.back(), ++steps;
        broken.push_back(gap);
        all.at.push_back(edges.positions[i]);
        gap = false;
    }
    const double usual = steps > 0 ? whole / double(steps) : 0;
    for (std::size_t i = 0; i < all.at.size(); ++i) {
        std::int64_t step = i > 0;
        if (i > 0 && broken[i])
            step = usual > 0 ? std::max<std::int64_t>(1, std::llround((all.at[i] - all.at[i - 1]) / usual)) : 1;
        all.number.push_back(i > 0 ? all.number.back() + step : 0);
    }
    return all;
}

} // namespace

std::optional<PeriodFit> fitPeriod(const EdgeList &edges, EdgeChoice choice)
{
    const Counted from = counted(edges, choice != EdgeChoice::falling);
    const std::size_t count = from.at.size();
    if (count < 3) return {};
    double middle = 0;
    for (const std::int64_t number : from.number) middle += double(number);
    middle /= double(count);
    const double origin = from.at.front(); // so that the sums keep their digits
    double squares = 0, products = 0, mean = 0;
    for (std::size_t i = 0; i < count; ++i) mean += (from.at[i] - origin) / double(count);
    for (std::size_t i = 0; i < count; ++i) {
        const double off = double(from.number[i]) - middle;
        squares += off * off;
        products += off * (from.at[i] - origin - mean);
    }
    PeriodFit fit{products / squares, 0, std::int64_t(count), from.number.back()};
    // The slope is a weighted sum of the instants; of weighted residues in runs so long that runs are independent.
    const auto run = std::max<std::size_t>(1, std::size_t(std::sqrt(double(count))));
    double sum = 0, spread = 0, lever = 0;
    std::size_t first = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const double off = double(from.number[i]) - middle;
        sum += off * (from.at[i] - origin - mean - fit.period * off);
        lever += off * off;
        if ((i + 1) % run != 0 && i + 1 != count) continue;
        // A run draws the line towards itself, the more so the farther out it lies: its residues are too small by that.
        const double own = std::min(0.9, lever / squares + double(i + 1 - first) / double(count));
        spread += sum * sum / ((1 - own) * (1 - own));
        sum = lever = 0;
        first = i + 1;
    }
    fit.uncertainty = std::sqrt(spread) / squares;
    return fit;
}

double meanSpan(const Population &population)
{
    const std::size_t count = population.size();
    return (population.end(count - 1) - population.time(0)) / double(count);
}

std::optional<double> meanPeriodUncertainty(const Population &periods)
{
    const std::size_t count = periods.size();
    if (count < 16) return {};
    const double mean = meanSpan(periods);
    // Of each edge from an even grid. Periods that follow on each other end where the next begins, so that edges lie as
    // far off as their places say.
    const double first = periods.position[0], unit = periods.axis.interval;
    RawVector<double> strays(count + 1);
    std::atomic<bool> follow = true;
    inRuns(count, [&](std::size_t, std::size_t from, std::size_t to) {
        for (std::size_t i = from; i < to; ++i) {
            const double begins = periods.position[i], lasts = periods.span[i];
            strays[i] = (begins - first) * unit - double(i) * mean;
            if (i + 1 < count && std::abs(periods.position[i + 1] - begins - lasts) > 1e-6 * lasts) follow = false;
        }
    });
    if (!follow) return {};
    strays[count] = (periods.end(count - 1) - periods.time(0)) - double(count) * mean;
    // Fitted: log of the mean square over the log of the distance; few pairs that do not overlap say little. What hangs
    // together over short distances alone is to be over where the line begins.
    double weights = 0, x = 0, y = 0, xx = 0, xy = 0;
    for (std::size_t apart = std::max<std::size_t>(1, count / 64); apart <= count / 8; apart *= 2) {
        const auto parts = inParts<double>(count + 1 - apart, [&](std::size_t from, std::size_t to, double &part) {
            const WeighedValues differences[] = {{strays.data() + from + apart, 1}, {strays.data() + from, -1}};
            part = sumsOf(differences, to - from).squares;
        });
        const double squares = std::accumulate(parts.begin(), parts.end(), 0.0);
        if (squares == 0) return 0.0;
        const double weight = double(count) / double(apart), at = std::log2(double(apart)),
                     is = std::log2(squares / double(count + 1 - apart));
        weights += weight, x += weight * at, y += weight * is, xx += weight * at * at, xy += weight * at * is;
    }
    const double spread = xx - x * x / weights;
    const double power = spread > 0 ? std::clamp((xy - x * y / weights) / spread, 0.0, 2.0) : 0;
    const double whole = (y - power * x) / weights + power * std::log2(double(count));
    return std::exp2(whole / 2) / double(count);
}

std::optional<double> meanFrequencyUncertainty(const Population &frequencies)
{
    Population periods = frequencies;
    periods.value = frequencies.span.times(frequencies.axis.interval);
    const auto uncertainty = meanPeriodUncertainty(periods);
    if (!uncertainty) return {};
    const double mean = meanSpan(periods);
    return *uncertainty / (mean * mean);
}

} // namespace fulvex
