#include "value_peaks.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

namespace {

std::vector<double> smoothed(const std::vector<std::int64_t> &counts)
{
    const auto bins = std::ptrdiff_t(counts.size()), half = std::max<std::ptrdiff_t>(1, bins / 32);
    std::vector<double> smooth(counts.size());
    for (std::ptrdiff_t bin = 0; bin < bins; ++bin) {
        double sum = 0, weights = 0;
        for (std::ptrdiff_t off = -half; off <= half; ++off) {
            const double weight = double(half + 1 - std::abs(off));
            weights += weight; // beyond the ends there is nothing
            if (bin + off >= 0 && bin + off < bins) sum += weight * double(counts[std::size_t(bin + off)]);
        }
        smooth[std::size_t(bin)] = sum / weights;
    }
    return smooth;
}

} // namespace

std::vector<ValuePeak> valuePeaks(const ValueHistogram &histogram)
{
    const auto &counts = histogram.counts;
    const auto all = std::accumulate(counts.begin(), counts.end(), std::int64_t(0));
    std::vector<ValuePeak> peaks;
    if (all < 16) return peaks;
    const std::vector<double> smooth = smoothed(counts);
    const double width = double(std::max<std::size_t>(1, counts.size() / 32)) + 1; // bins that a smooth one counts
    // One valley between tops is real where it lies clearly below the lower of them.
    std::vector<std::size_t> valleys{0};
    double top = smooth[0], low = INFINITY;
    std::size_t lowest = 0;
    for (std::size_t bin = 1; bin < smooth.size(); ++bin) {
        const double is = smooth[bin];
        if (is < low) low = is, lowest = bin;
        const double lower = std::min(top, is);
        const bool deep = low < 0.7 * lower && lower - low > 3 * std::sqrt(lower / width);
        if (is > top && !deep) { // still the same rise
            top = is, low = INFINITY;
        } else if (deep && is > low) {
            valleys.push_back(lowest);
            top = is, low = INFINITY;
        }
    }
    valleys.push_back(smooth.size());
    for (std::size_t i = 0; i + 1 < valleys.size(); ++i) {
        double count = 0, sum = 0;
        for (std::size_t bin = valleys[i]; bin < valleys[i + 1]; ++bin) {
            count += double(counts[bin]);
            sum += double(counts[bin]) * (histogram.low + (double(bin) + 0.5) * histogram.binWidth());
        }
        if (!(count > 0)) continue;
        const auto begin = smooth.begin();
        const auto highest = std::size_t(
            std::max_element(begin + std::ptrdiff_t(valleys[i]), begin + std::ptrdiff_t(valleys[i + 1])) - begin);
        const auto valueAt = [&](double bin) { return histogram.low + bin * histogram.binWidth(); };
        peaks.push_back({sum / count, count / double(all), valueAt(double(highest) + 0.5), valueAt(double(valleys[i])),
                         valueAt(double(valleys[i + 1]))});
    }
    return peaks;
}

double medianOf(const Population &population)
{
    std::vector<double> values;
    values.reserve(population.size());
    population.value.each(0, population.size(), [&](double v) { values.push_back(v); });
    const auto middle = values.begin() + std::ptrdiff_t(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2) return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2;
}

} // namespace fulvex
