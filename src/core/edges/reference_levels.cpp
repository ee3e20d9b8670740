#include "reference_levels.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

struct Mode {
    double value, uncertainty;
};

/// The most populated run of 2 * reach + 1 bins within [first, last) and the mean of the samples in it.
Mode modeOf(const AmplitudeHistogram &histogram, std::size_t first, std::size_t last, std::size_t reach)
{
    const auto clampedEnd = [&](std::size_t bin) { return std::min(bin + reach + 1, last); };
    const auto clampedBegin = [&](std::size_t bin) { return bin > first + reach ? bin - reach : first; };
    std::int64_t best = -1;
    std::size_t bestBin = first;
    std::int64_t inside = 0;
    for (std::size_t i = first; i < clampedEnd(first); ++i) inside += histogram.counts[i];
    for (std::size_t bin = first; bin < last; ++bin) {
        const std::int64_t weight = reach == 1 ? histogram.counts[bin] : inside;  // well filled: the plain mode
        if (weight > best) best = weight, bestBin = bin;
        if (bin + reach + 1 < last) inside += histogram.counts[bin + reach + 1];
        if (bin >= first + reach) inside -= histogram.counts[bin - reach];
    }
    double sum = 0, count = 0;
    for (std::size_t i = clampedBegin(bestBin); i < clampedEnd(bestBin); ++i) {
        sum += histogram.sums[i];
        count += double(histogram.counts[i]);
    }
    const double width = (histogram.high - histogram.low) / double(histogram.counts.size());
    return {sum / count, double(2 * reach + 1) * width / std::sqrt(12 * count)};
}

}  // namespace

StateLevels histogramStates(const AmplitudeHistogram &histogram)
{
    double samples = 0;
    for (const std::int64_t count : histogram.counts) samples += double(count);
    const std::size_t bins = histogram.counts.size(), middle = bins / 2;
    const auto reach = std::size_t(std::max(1.0, std::round(0.1 * double(bins) / std::cbrt(samples))));
    const Mode low = modeOf(histogram, 0, middle, reach), high = modeOf(histogram, middle, bins, reach);
    return {low.value, high.value, low.uncertainty, high.uncertainty};
}

ReferenceLevels referenceLevels(const SampleSource &source, SampleRange range, const AmplitudeStats &stats,
                                const LevelRule &rule, Progress &progress)
{
    ReferenceLevels levels;
    const double step = source.resolution() / std::sqrt(12.0);
    if (rule.states == LevelRule::States::fixed) {
        levels.states = {rule.stateLow, rule.stateHigh, 0, 0};
    } else if (rule.states == LevelRule::States::extremes || stats.minimum == stats.maximum) {
        levels.states = {stats.minimum, stats.maximum, step, step};
    } else {
        levels.states = histogramStates(amplitudeHistogram(source, range, stats.minimum, stats.maximum, 1024, progress));
    }
    const double amplitude = levels.states.amplitude();
    const bool percent = rule.kind == LevelRule::Kind::percent;
    const auto at = [&](double level) { return percent ? levels.states.low + level / 100 * amplitude : level; };
    levels.low = at(rule.low);
    levels.mid = at(rule.mid);
    levels.high = at(rule.high);
    levels.hysteresis = !rule.hysteresis ? 0.1 * amplitude : percent ? *rule.hysteresis / 100 * amplitude : *rule.hysteresis;
    return levels;
}

}  // namespace fulvex
