#include "value_peaks.h"

#include "value_runs.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <tuple>
#include <utility>

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

/// Values of a large population about its middle, and how many lie below all of these: those of the bins that the one
/// before the middle and the middle itself lie in.
static std::pair<std::vector<double>, std::size_t> valuesAboutMiddle(const Population &population)
{
    constexpr std::size_t bins = 4096;
    const ValueHistogram histogram = histogramOf(population, bins);
    const std::size_t middle = population.size() / 2;
    std::size_t below = 0, bin = 0; // of the value before it
    while (below + std::size_t(histogram.counts[bin]) < middle) below += std::size_t(histogram.counts[bin++]);
    std::size_t last = bin;
    for (std::size_t until = below + std::size_t(histogram.counts[bin]); until <= middle;)
        until += std::size_t(histogram.counts[++last]);
    const auto [from, to] = histogram.valuesOf(bin, last);
    const auto parts =
        inParts<std::vector<double>>(population.size(), [&](std::size_t first, std::size_t end, auto &part) {
            population.value.each(first, end, [&](double v) {
                if (v >= from && v < to) part.push_back(v);
            });
        });
    std::vector<double> values;
    for (const auto &part : parts) values.insert(values.end(), part.begin(), part.end());
    return {std::move(values), below};
}

double medianOf(const Population &population)
{
    constexpr std::size_t few = 1 << 16;
    std::vector<double> values;
    std::size_t below = 0;
    if (population.size() > few) {
        std::tie(values, below) = valuesAboutMiddle(population);
    } else {
        values.reserve(population.size());
        population.value.each(0, population.size(), [&](double v) { values.push_back(v); });
    }
    const auto middle = values.begin() + std::ptrdiff_t(population.size() / 2 - below);
    std::nth_element(values.begin(), middle, values.end());
    if (population.size() % 2) return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2;
}

} // namespace fulvex
