#include "amplitude_levels.h"

#include "value_peaks.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

AmplitudeLevel sameLevelIn(const AmplitudeHistogram &histogram, const AmplitudeLevel &level)
{
    AmplitudeLevel found = level;
    const double width = histogram.grid.width();
    constexpr int most = 60;
    for (int turn = 0; turn < most; ++turn) {
        // No wider than that its neighbours stay out of it.
        const double nearest = std::min(found.at - level.low, level.high - found.at);
        const double kernel = std::max(std::min(1.5 * found.spread, nearest / 3), width);
        const auto binAt = [&](double value) {
            return std::size_t(std::clamp((value - histogram.grid.low()) / width, 0.0, double(histogram.bins.size())));
        };
        double weights = 0, sum = 0, squares = 0;
        for (std::size_t bin = binAt(level.low); bin < binAt(level.high); ++bin) {
            const AmplitudeHistogram::Bin &is = histogram.bins[bin];
            if (!(is.count > 0)) continue;
            const double away = is.sum / is.count - found.at,
                         weight = is.count * std::exp(-away * away / (2 * kernel * kernel));
            weights += weight;
            sum += weight * away;
            squares += weight * away * away;
        }
        if (!(weights > 0)) return found;
        const double shift = sum / weights, variance = squares / weights - shift * shift;
        found.at += shift;
        // A normal distribution of sigma under that kernel has 1 / (1 / sigma² + 1 / kernel²).
        const double room = kernel * kernel - variance;
        const double before = found.spread;
        found.spread =
            room > 0 && variance > 0 ? std::min(2 * kernel, std::sqrt(variance * kernel * kernel / room)) : 2 * kernel;

        if (variance <= 0) found.spread = 0;
        if (std::abs(shift) < 1e-6 * width && std::abs(found.spread - before) < 1e-3 * width) break;
    }
    return found;
}

std::vector<AmplitudeLevel> amplitudeLevels(const AmplitudeHistogram &histogram)
{
    std::vector<AmplitudeLevel> levels;
    if (histogram.bins.empty()) return levels;
    // From the least to the greatest value: what lies beside them is no valley.
    const double width = histogram.grid.width();
    const auto first = std::size_t(std::clamp(std::floor((histogram.least - histogram.grid.low()) / width), 0.0,
                                              double(histogram.bins.size() - 1)));
    const auto last = std::size_t(std::clamp(std::floor((histogram.most - histogram.grid.low()) / width), double(first),
                                             double(histogram.bins.size() - 1)));
    ValueHistogram counts;
    counts.low = histogram.grid.low() + double(first) * width;
    for (std::size_t bin = first; bin <= last; ++bin) counts.counts.push_back(std::llround(histogram.bins[bin].count));
    counts.high = counts.low + double(counts.counts.size()) * width;
    constexpr double least = 0.005;
    for (const ValuePeak &peak : valuePeaks(counts)) {
        if (peak.share < least) continue;
        const AmplitudeLevel level{peak.top, (peak.high - peak.low) / 4, peak.share, peak.low, peak.high};
        levels.push_back(sameLevelIn(histogram, level));
    }
    return levels;
}

} // namespace fulvex
