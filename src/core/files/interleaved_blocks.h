#pragma once

#include "capture_writer.h"
#include "parallel.h"

namespace fulvex {

/// Reads the channels block by block, their samples in turn, and calls `use(first, span of doubles)`. Advances and
/// heeds `progress`.
template <typename Use>
void interleavedBlocks(std::span<const WrittenChannel> channels, SampleRange range, Progress &progress, Use &&use)
{
    constexpr std::int64_t block = 1 << 16;
    std::vector<double> one(block), all(std::size_t(block) * channels.size());
    progress.expect(double(range.size()));
    for (std::int64_t first = range.first; first < range.last; first += block) {
        const auto length = std::size_t(std::min(block, range.last - first));
        for (std::size_t channel = 0; channel < channels.size(); ++channel) {
            channels[channel].source->read(first, std::span(one.data(), length));
            for (std::size_t i = 0; i < length; ++i) all[i * channels.size() + channel] = one[i];
            channels[channel].source->release({first, first + std::int64_t(length)});
        }
        use(first, std::span<const double>(all.data(), length * channels.size()));
        progress.advance(double(length));
    }
}

/// Of the first channel; they are all alike.
inline TimeAxis writtenAxis(std::span<const WrittenChannel> channels, SampleRange range)
{
    const TimeAxis &axis = channels[0].source->axis();
    return {axis.timeOf(double(range.first)), axis.interval, range.size()};
}

} // namespace fulvex
