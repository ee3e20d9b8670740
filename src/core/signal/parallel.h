#pragma once

#include "core_loop.h"
#include "progress.h"
#include "raw_vector.h"
#include "time_axis.h"

#include <algorithm>
#include <cstdint>
#include <map>
#include <memory>
#include <mutex>
#include <span>
#include <utility>
#include <vector>

namespace fulvex {

/// The chunks that a range is cut into. The cut depends on the range alone, never on the number of cores.
inline std::vector<SampleRange> chunksOf(SampleRange range, std::int64_t chunk)
{
    std::vector<SampleRange> chunks;
    for (std::int64_t first = range.first; first < range.last; first += chunk)
        chunks.push_back({first, std::min(range.last, first + chunk)});
    return chunks;
}

/// Works on all cores, and returns one part per chunk in order. `work(SampleRange, Part &)` fills a default-made part.
/// Advances `progress` by the chunk's size after each; a cancel ends it with Cancelled.
template <typename Part, typename Work>
std::vector<Part> inGivenChunks(std::span<const SampleRange> chunks, Progress &progress, Work &&work)
{
    std::vector<Part> parts(chunks.size());
    double all = 0;
    for (const SampleRange &mine : chunks) all += double(mine.size());
    progress.expect(all);
    onAllCores(std::int64_t(chunks.size()), [&](std::int64_t index) {
        const SampleRange mine = chunks[std::size_t(index)];
        work(mine, parts[std::size_t(index)]);
        progress.advance(double(mine.size()));
    });
    return parts;
}

/// The same of a range that is cut into chunks of `chunk` samples: merging the parts in order gives the same bits on
/// every machine.
template <typename Part, typename Work>
std::vector<Part> inChunks(SampleRange range, std::int64_t chunk, Progress &progress, Work &&work)
{
    return inGivenChunks<Part>(chunksOf(range, chunk), progress, std::forward<Work>(work));
}

/// The same where only the parts' merger is wanted: `all.merge(part)` in the order of the range. However long the
/// range, a few thousand parts are in memory at most: neighbouring chunks are merged where they are made, again by the
/// range alone.
template <typename Part, typename Work>
Part inChunksMerged(SampleRange range, std::int64_t chunk, Progress &progress, Work &&work)
{
    constexpr std::int64_t most = 2048;
    const std::int64_t chunks = (range.size() + chunk - 1) / chunk,
                       together = std::max<std::int64_t>(1, (chunks + most - 1) / most);
    auto parts = inChunks<Part>(range, chunk * together, progress, [&](SampleRange mine, Part &part) {
        for (std::int64_t first = mine.first; first < mine.last; first += chunk) {
            Part one;
            work(SampleRange{first, std::min(mine.last, first + chunk)}, one);
            part.merge(one);
            progress.advance(0);
        }
    });
    Part all;
    for (const Part &part : parts) all.merge(part);
    return all;
}

/// The same where each part is done with once it was taken: `take(Part &, index)` is called in the chunks' order, by
/// one core at a time, soon after the part was made. Parts are used again, as they were left, so that only a few are
/// ever held.
template <typename Part, typename Work, typename Take>
void inChunksTaken(std::span<const SampleRange> chunks, Progress &progress, Work &&work, Take &&take)
{
    double all = 0;
    for (const SampleRange &mine : chunks) all += double(mine.size());
    progress.expect(all);
    std::mutex lock;
    std::map<std::size_t, std::unique_ptr<Part>> made; // and not taken
    std::vector<std::unique_ptr<Part>> idle;
    std::size_t next = 0, taken = 0;
    bool failed = false;
    onAllCores(std::min(coreCount(), std::int64_t(chunks.size())), [&](std::int64_t) {
        std::unique_lock held(lock);
        try {
            while (!failed && next < chunks.size()) {
                const std::size_t index = next++;
                auto part = idle.empty() ? std::make_unique<Part>() : std::move(idle.back());
                if (!idle.empty()) idle.pop_back();
                held.unlock();
                work(chunks[index], *part);
                progress.advance(double(chunks[index].size()));
                held.lock();
                made.emplace(index, std::move(part));
                for (; !made.empty() && made.begin()->first == taken; ++taken) {
                    take(*made.begin()->second, taken);
                    idle.push_back(std::move(made.begin()->second));
                    made.erase(made.begin());
                }
            }
        } catch (...) {
            if (!held.owns_lock()) held.lock();
            failed = true; // what is not begun is left out
            throw;
        }
    });
}

/// Reads a range of a source block by block into one buffer that stays in a core's cache:
/// `use(first, std::span<const double>)`. Tells the source at the end that the range is done with. A cancel of
/// `progress` ends it with Cancelled after any block.
template <typename Source, typename Use>
void forBlocks(const Source &source, SampleRange range, Progress &progress, Use &&use)
{
    constexpr std::int64_t blockSize = 8192;
    RawVector<double> buffer(std::size_t(std::min(blockSize, range.size())));
    for (std::int64_t first = range.first; first < range.last; first += blockSize) {
        progress.advance(0);
        const auto length = std::size_t(std::min(blockSize, range.last - first));
        source.read(first, std::span(buffer.data(), length));
        use(first, std::span<const double>(buffer.data(), length));
    }
    source.release(range);
}

/// The same of a source that has a scale, as codes: `use(first, std::span<const std::int16_t>)`, and from the first
/// block on of which one does not fit `use(first, std::span<const std::int32_t>)`.
template <typename Source, typename Use>
void forCodeBlocks(const Source &source, SampleRange range, Progress &progress, Use &&use)
{
    constexpr std::int64_t blockSize = 8192;
    RawVector<std::int16_t> codes(std::size_t(std::min(blockSize, range.size())));
    RawVector<std::int32_t> wideCodes;
    bool fits = true;
    for (std::int64_t first = range.first; first < range.last; first += blockSize) {
        progress.advance(0);
        const auto length = std::size_t(std::min(blockSize, range.last - first));
        fits = fits && source.readCodes(first, std::span(codes.data(), length));
        if (fits) {
            use(first, std::span<const std::int16_t>(codes.data(), length));
        } else {
            wideCodes.resize(length);
            source.readWideCodes(first, wideCodes);
            use(first, std::span<const std::int32_t>(wideCodes));
        }
    }
    source.release(range);
}

constexpr std::int64_t defaultChunk =
    1 << 17; ///< samples; small enough to share out a million on two cores, and to cancel at once

} // namespace fulvex
