#include "amplitude_stats.h"

#include "parallel.h"

#include <cmath>

namespace fulvex {

double AmplitudeStats::rms() const
{
    return std::sqrt(mean * mean + squares / double(count));
}

double AmplitudeStats::acRms() const
{
    return std::sqrt(squares / double(count));
}

void AmplitudeStats::merge(const AmplitudeStats &later)
{
    gaps += later.gaps;
    if (later.count == 0) return;
    if (count == 0) {
        const std::int64_t seenGaps = gaps;
        *this = later;
        gaps = seenGaps;
        return;
    }
    if (later.minimum < minimum) minimum = later.minimum, minimumAt = later.minimumAt;
    if (later.maximum > maximum) maximum = later.maximum, maximumAt = later.maximumAt;
    const double all = double(count) + double(later.count), step = later.mean - mean;
    squares += later.squares + step * step * double(count) * double(later.count) / all;
    mean += step * double(later.count) / all;
    count += later.count;
}

static AmplitudeStats statsOfBlock(std::int64_t first, std::span<const double> values)
{
    AmplitudeStats block;
    double low = INFINITY, high = -INFINITY, sum = 0;
    std::int64_t finite = 0;
    for (const double v : values) { // plain enough for the compiler; NaN compares false everywhere
        const bool there = v == v;
        finite += there;
        sum += there ? v : 0;
        low = v < low ? v : low;
        high = v > high ? v : high;
    }
    block.count = finite;
    block.gaps = std::int64_t(values.size()) - finite;
    if (finite == 0) return block;
    block.minimum = low;
    block.maximum = high;
    block.mean = sum / double(finite);
    for (const double v : values) block.squares += v == v ? (v - block.mean) * (v - block.mean) : 0;
    for (std::size_t i = values.size(); i-- > 0;) {
        if (values[i] == low) block.minimumAt = first + std::int64_t(i);
        if (values[i] == high) block.maximumAt = first + std::int64_t(i);
    }
    return block;
}

AmplitudeStats amplitudeStats(const SampleSource &source, SampleRange range, Progress &progress)
{
    const auto parts = inChunks<AmplitudeStats>(range, defaultChunk, progress, [&](SampleRange mine, auto &part) {
        forBlocks(source, mine,
                  [&](std::int64_t first, std::span<const double> values) { part.merge(statsOfBlock(first, values)); });
    });
    AmplitudeStats all;
    for (const AmplitudeStats &part : parts) all.merge(part);
    return all;
}

AmplitudeHistogram amplitudeHistogram(const SampleSource &source, SampleRange range, double low, double high, int bins,
                                      Progress &progress)
{
    AmplitudeHistogram all{low, high, std::vector<std::int64_t>(std::size_t(bins)),
                           std::vector<double>(std::size_t(bins))};
    const double scale = high > low ? bins / (high - low) : 0;
    const auto parts = inChunks<AmplitudeHistogram>(range, defaultChunk, progress, [&](SampleRange mine, auto &part) {
        part.counts.resize(std::size_t(bins));
        part.sums.resize(std::size_t(bins));
        forBlocks(source, mine, [&](std::int64_t, std::span<const double> values) {
            for (const double v : values) {
                if (!(v >= low && v <= high)) continue;
                const auto bin = std::size_t(std::min(int((v - low) * scale), bins - 1));
                ++part.counts[bin];
                part.sums[bin] += v;
            }
        });
    });
    for (const AmplitudeHistogram &part : parts) {
        for (std::size_t i = 0; i < all.counts.size(); ++i) {
            all.counts[i] += part.counts[i];
            all.sums[i] += part.sums[i];
        }
    }
    return all;
}

} // namespace fulvex
