#include "alignment.h"

#include "amplitude_stats.h"
#include "cross_correlation.h"
#include "edge_finder.h"
#include "edge_pairs.h"
#include "number_text.h"
#include "resampled_source.h"
#include "sinc_kernel.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::int64_t mostCorrelated = 1 << 21;
constexpr double leastLikeness = 0.2;

/// Samples of a range without their mean; gaps count as the mean.
std::vector<double> swingOf(const SampleSource &source, std::int64_t first, std::int64_t count)
{
    std::vector<double> values(std::size_t(count), 0.0);
    source.read(first, values);
    double sum = 0;
    std::size_t there = 0;
    for (const double v : values) {
        if (std::isnan(v)) continue;
        sum += v;
        ++there;
    }
    const double mean = there ? sum / double(there) : 0;
    for (double &v : values) v = std::isnan(v) ? 0 : v - mean;
    return values;
}

double energyOf(const std::vector<double> &values)
{
    double sum = 0;
    for (const double v : values) sum += v * v;
    return sum;
}

/// The sequence between its samples.
double between(const std::vector<double> &sums, double at)
{
    const auto left = std::int64_t(std::floor(at));
    const SincKernel::Row weights = SincKernel::row(at - double(left));
    double value = 0;
    for (int tap = 0; tap < SincKernel::taps; ++tap) {
        const std::int64_t i = left - SincKernel::before + tap;
        if (i >= 0 && i < std::int64_t(sums.size())) value += weights[std::size_t(tap)] * sums[std::size_t(i)];
    }
    return value;
}

/// Where sign * sums is greatest near its greatest sample: golden section, one maximum within a sample of it.
double peakNear(const std::vector<double> &sums, double sample, double sign)
{
    const double ratio = (std::sqrt(5.0) - 1) / 2;
    double low = sample - 1, high = sample + 1;
    double left = high - ratio * (high - low), right = low + ratio * (high - low);
    double atLeft = sign * between(sums, left), atRight = sign * between(sums, right);
    while (high - low > 1e-5) {
        if (atLeft > atRight) {
            high = right;
            right = left;
            atRight = atLeft;
            left = high - ratio * (high - low);
            atLeft = sign * between(sums, left);
        } else {
            low = left;
            left = right;
            atLeft = atRight;
            right = low + ratio * (high - low);
            atRight = sign * between(sums, right);
        }
    }
    return (low + high) / 2;
}

EdgeList edgesOf(const SampleSource &source, Progress &progress)
{
    const SampleRange range{0, std::min(std::int64_t(1) << 22, source.axis().count)};
    const AmplitudeSurvey survey = surveyAmplitudes(source, range, progress);
    const AmplitudeStats &stats = survey.stats;
    if (stats.count == 0 || !(stats.maximum > stats.minimum) || !stats.trouble().empty()) return {};
    const ReferenceLevels levels = referenceLevels(survey, LevelRule{});
    return findEdges(source, range, levels, EdgeInterpolation::automatic, progress);
}

} // namespace

Alignment alignByCorrelation(const SourcePtr &first, const SourcePtr &second, Progress &progress)
{
    Alignment found;
    // On the coarser grid, so that neither is asked for what it does not hold.
    const bool coarse = first->axis().interval >= second->axis().interval;
    const SourcePtr a = coarse ? first : resampled(first, second->axis()),
                    b = coarse ? resampled(second, first->axis()) : second;
    TimeAxis axis = (coarse ? first : second)->axis();
    const TimeAxis &other = (coarse ? second : first)->axis();
    const auto within = [&](double position) { return std::int64_t(std::clamp(position, 0.0, double(axis.count))); };
    std::int64_t from = within(std::ceil(other.positionOn(axis, 0))),
                 to = within(std::floor(other.positionOn(axis, double(other.count - 1))) + 1);
    if (to - from > mostCorrelated) {
        from = (from + to - mostCorrelated) / 2;
        to = from + mostCorrelated;
    }
    if (to - from < 16) {
        found.reason = "the two cover no time together: their captures begin and end elsewhere";
        return found;
    }
    progress.expect(2.0 * double(to - from));
    const std::vector<double> x = swingOf(*a, from, to - from), y = swingOf(*b, from, to - from);
    progress.advance(double(to - from));
    const double energy = std::sqrt(energyOf(x) * energyOf(y));
    if (!(energy > 0)) {
        found.reason = "one of the two is constant";
        return found;
    }
    const std::vector<double> sums = crossCorrelation(x, y, progress);
    progress.advance(double(to - from));
    const auto best =
        std::max_element(sums.begin(), sums.end(), [](double u, double v) { return std::abs(u) < std::abs(v); });
    found.inverted = *best < 0;
    const double peak = peakNear(sums, double(best - sums.begin()), found.inverted ? -1 : 1);
    found.likeness = std::abs(between(sums, peak)) / energy;
    found.lag = (peak - double(x.size() - 1)) * axis.interval;
    if (found.likeness < leastLikeness)
        found.reason = "they do not resemble each other: the greatest correlation is " + fixedText(found.likeness, 2) +
                       "; choose channels that carry the same signal";
    return found;
}

Alignment alignByEdges(const SourcePtr &first, const SourcePtr &second, Progress &progress)
{
    Alignment found = alignByCorrelation(first, second, progress);
    if (!found.reason.empty()) return found;
    const EdgeList a = edgesOf(*first, progress), b = edgesOf(*second, progress);
    const double near = medianInterval(a) * first->axis().interval / 2;
    const EdgePairs pairs = pairEdges(a, first->axis(), b, second->axis(), {found.inverted, found.lag, near});
    found.edges = pairs.count;
    if (pairs.count < 4) {
        found.reason = "they have " + std::to_string(pairs.count) + " edges in common; align them by correlation";
        return found;
    }
    found.lag = pairs.lag;
    found.uncertainty = pairs.uncertainty;
    return found;
}

} // namespace fulvex
