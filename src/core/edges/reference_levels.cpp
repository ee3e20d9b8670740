#include "reference_levels.h"

#include "jackknife.h"
#include "normal_distribution.h"
#include "raw_vector.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <span>
#include <utility>
#include <vector>

namespace fulvex {

namespace {

struct Mode {
    double value, uncertainty;
    double spread; ///< of the samples about it, rms
};

constexpr double wide = 2.355; ///< sigmas that a normal curve is wide at half its height

/// Bins of a histogram in columns, which vectors go through.
struct SomeBins {
    RawVector<double> counts, means; ///< of the samples of each; no number where there are none
};

FULVEX_WIDEST_VECTORS SomeBins columnsOf(std::span<const AmplitudeHistogram::Bin> bins)
{
    SomeBins some{RawVector<double>(bins.size()), RawVector<double>(bins.size())};
    for (std::size_t i = 0; i < bins.size(); ++i) {
        some.counts[i] = bins[i].count;
        some.means[i] = bins[i].sum / bins[i].count;
    }
    return some;
}

struct About {
    double below = 0, above = 0; ///< from one and a half to three widths off
    double about = 0;            ///< within one
};

/// How many samples of bins first <= i < last lie about a value. Whole numbers: the same in any order.
FULVEX_WIDEST_VECTORS About countAbout(const SomeBins &bins, std::size_t first, std::size_t last, double value,
                                       double width)
{
    constexpr std::size_t lanes = 8;
    double below[lanes] = {}, above[lanes] = {}, about[lanes] = {};
    const double *const counts = bins.counts.data(), *const means = bins.means.data();
    const auto count = [&](std::size_t i, std::size_t lane) {
        const double off = (means[i] - value) / width, far = std::abs(off); // NaN lies nowhere
        const double beside = far > 1.5 && far <= 3 ? counts[i] : 0;
        below[lane] += off < 0 ? beside : 0;
        above[lane] += off < 0 ? 0 : beside;
        about[lane] += far <= 1 ? counts[i] : 0;
    };
    for (; first + lanes <= last; first += lanes)
        for (std::size_t lane = 0; lane < lanes; ++lane) count(first + lane, lane);
    for (std::size_t lane = 0; first < last; ++first, ++lane) count(first, lane);
    About all;
    for (std::size_t lane = 0; lane < lanes; ++lane) {
        all.below += below[lane];
        all.above += above[lane];
        all.about += about[lane];
    }
    return all;
}

/// Of a state as wide as 1 that noise spreads, the share that lies below a value from its middle, from -most to most:
/// looked up at places so close that lines between them stray by 1e-6.
class ShareBelow {
public:
    static constexpr double most = 1.75; ///< that a bin's middle may lie off whose samples lie within 1
    static constexpr int places = 2048;
    ShareBelow()
    {
        for (int i = 0; i < places + 2; ++i) {
            const double off = most * (2.0 * i / places - 1);
            m_at[std::size_t(i)] = normalTail(-off * wide);
        }
    }
    const double *data() const { return m_at.data(); }

private:
    std::array<double, places + 2> m_at;
};

struct Weighed {
    double weights = 0, moved = 0;
};

/// Weighs the samples of bins first <= i < last by how near `value` they lie. `middle`: of the first bin, and from each
/// to the next `step`, in widths from there; `passing`: samples a bin of transitions, on the side that `side` points
/// to.
FULVEX_WIDEST_VECTORS Weighed weigh(const SomeBins &bins, std::size_t first, std::size_t last, double value,
                                    double width, double middle, double step, double passing, double side)
{
    static const ShareBelow shares;
    constexpr std::size_t lanes = 8;
    double weights[lanes] = {}, moved[lanes] = {};
    const double *const counts = bins.counts.data(), *const means = bins.means.data(), *const below = shares.data();
    for (std::size_t from = first; from < last; from += lanes) {
        const std::size_t some = std::min(lanes, last - from);
        double count[lanes] = {}, mean[lanes] = {}, its[lanes];
        std::copy_n(counts + from, some, count);
        std::copy_n(means + from, some, mean);
        for (std::size_t lane = 0; lane < lanes; ++lane) // none beyond the last
            its[lane] = lane < some ? middle + (double(from - first) + double(lane)) * step : 2;
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            const double off = count[lane] > 0 ? (mean[lane] - value) / width : its[lane];
            const double at = (side * its[lane] / ShareBelow::most + 1) * (ShareBelow::places / 2),
                         within = at > 0 ? at < ShareBelow::places ? at : ShareBelow::places : 0;
            const auto place = std::int32_t(within);
            const double share = below[place] + (within - place) * (below[place + 1] - below[place]);
            const double weight = off * off < 1 ? 1 - off * off : 0, none = passing * share;
            weights[lane] += weight * (count[lane] - none);
            moved[lane] += weight * (count[lane] * off - none * its[lane]);
        }
    }
    Weighed all;
    for (std::size_t lane = 0; lane < lanes; ++lane) {
        all.weights += weights[lane];
        all.moved += moved[lane];
    }
    return all;
}

/// The mean of the samples about a peak that is `width` wide at half its height, from a first guess of it. They are
/// weighed by how near they are, so that a sample more or less at a border makes little. Transitions pass one side of a
/// state only and would draw it there: what lies farther off on that side, more than on the other, is taken for theirs,
/// thinned out by the same noise as the state.
double centreOf(const AmplitudeHistogram &histogram, std::size_t first, const SomeBins &some, double value,
                double width)
{
    const std::size_t last = first + some.counts.size();
    const double bin = histogram.grid.width(), low = histogram.grid.low();
    for (int round = 0; round < 4; ++round) {
        const auto binAt = [&](double at) {
            return std::size_t(std::clamp((at - low) / bin, double(first), double(last)));
        };
        // Beyond so many widths nothing counts; one bin more on either side, for rounding.
        const auto fromFor = [&](double widths) { return std::max(binAt(value - widths * width), first + 1) - 1; };
        const auto toFor = [&](double widths) { return std::min(binAt(value + widths * width) + 2, last); };
        const auto [below, above, about] = countAbout(some, fromFor(3) - first, toFor(3) - first, value, width);
        // Samples a bin; no more of them than a fifth of the state's, as where a sine turns, or where few amplitudes
        // come again and again.
        const double most = 0.2 * about * bin / width, side = above < below ? -1 : 1;
        const double passing = std::min(std::abs(above - below) * bin / (1.5 * width), most);
        const std::size_t from = fromFor(1);
        const double middle = (low + (double(from) + 0.5) * bin - value) / width;
        const auto [weights, moved] =
            weigh(some, from - first, toFor(1) - first, value, width, middle, bin / width, passing, side);
        if (!(weights > 0)) break;
        value += std::clamp(moved / weights, -1.0, 1.0) * width;
    }
    return value;
}

/// The mode within [first, last), from counts smoothed over 2 * reach + 1 bins, and the mean of the samples in the
/// neighbours around it, out to where the smoothed counts fall below half: noise spreads a state over many bins, and
/// which of them happens to be fullest says little.
Mode modeOf(const AmplitudeHistogram &histogram, std::size_t first, std::size_t last, std::size_t reach)
{
    const auto &bins = histogram.bins;
    const std::size_t size = last - first;
    const SomeBins some = columnsOf(std::span(bins).subspan(first, size));
    RawVector<double> running(size + 1), sums(size); // whole numbers
    running[0] = 0;
    for (std::size_t i = 0; i < size; ++i) running[i + 1] = running[i] + some.counts[i];
    const auto sumAbout = [&](std::size_t i) {
        return running[std::min(i + reach + 1, size)] - running[i > reach ? i - reach : 0];
    };
    const std::size_t begin = std::min(reach, size), end = std::max(begin, size > reach ? size - reach : 0);
    for (std::size_t i = 0; i < begin; ++i) sums[i] = sumAbout(i);
    for (std::size_t i = begin; i < end; ++i) sums[i] = running[i + reach + 1] - running[i - reach];
    for (std::size_t i = end; i < size; ++i) sums[i] = sumAbout(i);
    const auto smoothed = [&](std::size_t bin) { return sums[bin - first]; };
    const double fullest = *std::max_element(sums.begin(), sums.end());
    // Of bins that differ by chance alone (a few amplitudes that come again and again, as of a sine that the sampling
    // meets at the same phases; a ramp) the outermost one's is the state; of its neighbours the fullest.
    const double alike = std::max(fullest / 2, fullest - 2 * std::sqrt(fullest));
    const bool upper = first > 0;
    std::size_t mode = upper ? last - 1 : first;
    while (smoothed(mode) < alike) upper ? --mode : ++mode;
    const auto betterThan = [&](std::size_t bin, std::size_t other) {
        return smoothed(bin) != smoothed(other) ? smoothed(bin) > smoothed(other) : bins[bin].count > bins[other].count;
    };
    const std::size_t outermost = mode;
    for (std::size_t step = 1; step <= 2 * reach + 1; ++step) {
        if (upper ? outermost < first + step : outermost + step >= last) break;
        const std::size_t bin = upper ? outermost - step : outermost + step;
        if (betterThan(bin, mode)) mode = bin;
    }
    std::size_t from = mode, to = mode;
    while (from > first && 2 * smoothed(from - 1) >= smoothed(mode)) --from;
    while (to + 1 < last && 2 * smoothed(to + 1) >= smoothed(mode)) ++to;
    double sum = 0, count = 0;
    for (std::size_t i = from; i <= to; ++i) {
        sum += bins[i].sum;
        count += bins[i].count;
    }
    const double width = double(to - from + 1) * histogram.grid.width(); // about that at half of the peak
    return {centreOf(histogram, first, some, sum / count, width), width / std::sqrt(12 * count), width / wide};
}

std::pair<Mode, Mode> modesOf(const AmplitudeHistogram &histogram)
{
    double samples = 0;
    for (const AmplitudeHistogram::Bin &bin : histogram.bins) samples += bin.count;
    const std::size_t bins = histogram.bins.size();
    const double half = (histogram.least / 2 + histogram.most / 2 - histogram.grid.low()) / histogram.grid.width();
    const auto middle = std::size_t(std::clamp(std::round(half), 1.0, double(bins) - 1));
    const auto reach = std::size_t(std::max(1.0, std::round(0.1 * double(bins) / std::cbrt(samples))));
    return {modeOf(histogram, 0, middle, reach), modeOf(histogram, middle, bins, reach)};
}

/// What the steps of the converter may shift a mean by: their rectangle's rms, less where noise spreads over some.
/// Source: B. Widrow, I. Kollar, "Quantization Noise" (2008), the bias of a Gaussian input.
double stepBias(double resolution, double spread)
{
    if (!(resolution > 0)) return 0;
    const double steps = spread / resolution;
    return resolution / std::sqrt(12.0) * std::exp(-2 * std::numbers::pi * std::numbers::pi * steps * steps);
}

} // namespace

StateLevels histogramStates(const AmplitudeHistogram &histogram)
{
    const auto [low, high] = modesOf(histogram);
    return {low.value, high.value};
}

double stateSpread(const AmplitudeHistogram &histogram)
{
    const auto [low, high] = modesOf(histogram);
    return std::min(low.spread, high.spread);
}

/// Whether states are the modes of the histogram.
static bool areModes(const AmplitudeSurvey &survey, const LevelRule &rule)
{
    return rule.states == LevelRule::States::histogram && survey.histogram.bins.size() >= 2;
}

StateUncertainty stateUncertainty(const AmplitudeSurvey &survey, double resolution, const LevelRule &rule)
{
    if (rule.states == LevelRule::States::fixed) return {};
    if (!areModes(survey, rule)) {
        const double step = resolution / std::sqrt(12.0);
        return {step, step, std::sqrt(2.0) * step};
    }
    const auto [low, high] = modesOf(survey.histogram);
    const std::size_t parts = survey.stretches.size();
    std::vector<StateLevels> without; // each stretch
    for (const AmplitudeSurvey::Stretch &stretch : survey.stretches)
        without.push_back(histogramStates(survey.histogram.without(stretch.histogram)));
    const auto whole = [&](double plain, auto &&of, double bias) {
        return std::hypot(
            jackknifeUncertainty(parts, [&](std::size_t part) { return of(without[part]); }).value_or(plain), bias);
    };
    const double lowBias = stepBias(resolution, low.spread), highBias = stepBias(resolution, high.spread);
    return {whole(
                low.uncertainty, [](const StateLevels &rest) { return rest.low; }, lowBias),
            whole(
                high.uncertainty, [](const StateLevels &rest) { return rest.high; }, highBias),
            whole(
                std::hypot(low.uncertainty, high.uncertainty), [](const StateLevels &rest) { return rest.amplitude(); },
                std::hypot(lowBias, highBias))};
}

ReferenceLevels referenceLevels(const AmplitudeSurvey &survey, const LevelRule &rule)
{
    ReferenceLevels levels;
    if (rule.states == LevelRule::States::fixed)
        levels.states = {rule.stateLow, rule.stateHigh};
    else if (areModes(survey, rule))
        levels.states = histogramStates(survey.histogram);
    else
        levels.states = {survey.stats.minimum, survey.stats.maximum};
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
