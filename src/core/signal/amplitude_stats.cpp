#include "amplitude_stats.h"

#include "parallel.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <cstdio>

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

std::string AmplitudeStats::trouble() const
{
    constexpr double most = 1e150, least = 1e-150; // squares and ratios of these are numbers
    const double reach = std::max(std::abs(minimum), std::abs(maximum)), span = maximum - minimum;
    const auto sentence = [](const std::string &what) {
        return what + ": check the capture's \"sample_type\", \"byte_order\" and \"scale\"";
    };
    if (count == 0) return {};
    const auto plain = [](double value) {
        char text[32];
        std::snprintf(text, sizeof text, "%.3g", value);
        return std::string(text);
    };
    if (!(reach <= most))
        return sentence("the samples reach from " + plain(minimum) + " to " + plain(maximum) +
                        ", farther than can be computed with");
    if (span > 0 && span < least)
        return sentence("the samples differ by " + plain(span) + ", less than can be computed with");
    return {};
}

AmplitudeStats amplitudeStats(const SampleSource &source, SampleRange range, Progress &progress)
{
    return inChunksMerged<AmplitudeStats>(range, defaultChunk, progress, [&](SampleRange mine, auto &part) {
        forBlocks(source, mine, progress,
                  [&](std::int64_t first, std::span<const double> values) { part.merge(statsOfBlock(first, values)); });
    });
}

void AmplitudeHistogram::merge(const AmplitudeHistogram &later)
{
    if (counts.empty()) {
        *this = later;
        return;
    }
    for (std::size_t i = 0; i < counts.size(); ++i) {
        counts[i] += later.counts[i];
        sums[i] += later.sums[i];
    }
}

AmplitudeHistogram amplitudeHistogram(const SampleSource &source, SampleRange range, double low, double high, int bins,
                                      Progress &progress)
{
    const AmplitudeHistogram empty{low, high, std::vector<std::int64_t>(std::size_t(bins)),
                                   std::vector<double>(std::size_t(bins))};
    const double scale = high > low ? bins / (high - low) : 0;
    assert(std::isfinite(scale));
    return inChunksMerged<AmplitudeHistogram>(range, defaultChunk, progress, [&](SampleRange mine, auto &part) {
        part = empty;
        forBlocks(source, mine, progress, [&](std::int64_t, std::span<const double> values) {
            for (const double v : values) {
                if (!(v >= low && v <= high)) continue;
                const auto bin = std::size_t(std::min(int((v - low) * scale), bins - 1));
                ++part.counts[bin];
                part.sums[bin] += v;
            }
        });
    });
}

} // namespace fulvex
