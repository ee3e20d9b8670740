#include "reference_levels.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

struct Mode {
    double value, uncertainty;
};

/// The mode within [first, last), from counts smoothed over 2 * reach + 1 bins, and the mean of the samples in the
/// neighbours around it, out to where the smoothed counts fall below half: noise spreads a state over many bins, and
/// which of them happens to be fullest says little.
Mode modeOf(const AmplitudeHistogram &histogram, std::size_t first, std::size_t last, std::size_t reach)
{
    const auto &bins = histogram.bins;
    std::vector<double> running(last - first + 1); // whole numbers
    for (std::size_t i = first; i < last; ++i) running[i - first + 1] = running[i - first] + bins[i].count;
    const auto smoothed = [&](std::size_t bin) {
        const std::size_t from = bin - first > reach ? bin - first - reach : 0;
        return running[std::min(bin - first + reach + 1, last - first)] - running[from];
    };
    std::size_t mode = first;
    for (std::size_t bin = first; bin < last; ++bin) {
        const auto better = [&](auto key) { return key(bin) > key(mode); };
        const bool same = smoothed(bin) == smoothed(mode);
        if (better(smoothed) || (same && better([&](std::size_t i) { return bins[i].count; }))) mode = bin;
    }
    std::size_t from = mode, to = mode;
    while (from > first && 2 * smoothed(from - 1) >= smoothed(mode)) --from;
    while (to + 1 < last && 2 * smoothed(to + 1) >= smoothed(mode)) ++to;
    double sum = 0, count = 0;
    for (std::size_t i = from; i <= to; ++i) {
        sum += bins[i].sum;
        count += bins[i].count;
    }
    return {sum / count, double(to - from + 1) * histogram.grid.width() / std::sqrt(12 * count)};
}

} // namespace

StateLevels histogramStates(const AmplitudeHistogram &histogram)
{
    double samples = 0;
    for (const AmplitudeHistogram::Bin &bin : histogram.bins) samples += bin.count;
    const std::size_t bins = histogram.bins.size();
    const double half = (histogram.least / 2 + histogram.most / 2 - histogram.grid.low()) / histogram.grid.width();
    const auto middle = std::size_t(std::clamp(std::round(half), 1.0, double(bins) - 1));
    const auto reach = std::size_t(std::max(1.0, std::round(0.1 * double(bins) / std::cbrt(samples))));
    const Mode low = modeOf(histogram, 0, middle, reach), high = modeOf(histogram, middle, bins, reach);
    return {low.value, high.value, low.uncertainty, high.uncertainty};
}

ReferenceLevels referenceLevels(const AmplitudeSurvey &survey, double resolution, const LevelRule &rule)
{
    ReferenceLevels levels;
    const AmplitudeStats &stats = survey.stats;
    const double step = resolution / std::sqrt(12.0);
    if (rule.states == LevelRule::States::fixed) {
        levels.states = {rule.stateLow, rule.stateHigh, 0, 0};
    } else if (rule.states == LevelRule::States::extremes || survey.histogram.bins.size() < 2) {
        levels.states = {stats.minimum, stats.maximum, step, step};
    } else {
        levels.states = histogramStates(survey.histogram);
    }
    const double amplitude = levels.states.amplitude();
    const bool percent = rule.kind == LevelRule::Kind::percent;
    const auto at = [&](double level) { return percent ? levels.states.low + level / 100 * amplitude : level; };
    levels.low = at(rule.low);
    levels.mid = at(rule.mid);
    levels.high = at(rule.high);
    levels.hysteresis = !rule.hysteresis ? 0.1 * amplitude
                        : percent        ? *rule.hysteresis / 100 * amplitude
                                         : *rule.hysteresis;
    return levels;
}

} // namespace fulvex
