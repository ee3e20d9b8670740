#include "edge_numbering.h"

#include "edge_tracker.h"
#include "parallel.h"
#include "rate_search.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <numbers>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace fulvex {

/// Chunks are followed side by side, each warmed up on the edges before it; where that did
/// not bring it to the state the chunk before ended in, it is followed again from there.
void numberEdges(const EdgeList &edges, double period, BoundaryNumbers &numbers, Progress &progress)
{
    // What a tracker begins with is gone by exp(-0.06) an edge.
    constexpr std::int64_t warmUp = 1024, shortest = 2048, together = trackersTogether;
    constexpr std::int64_t longest = 64 * 1025; // no power of two: chunks together on different lines of a cache
    const auto count = std::int64_t(edges.size());
    // Those of a short list are followed side by side as well: two groups, and two chunks by themselves.
    const std::int64_t edgesPerChunk = std::clamp(count / (2 * together + 2) / 64 * 64 + 64, shortest, longest);
    const double first = edges.positions[0];
    double boundary = first + std::arg(resonance(edges, std::min<std::size_t>(edges.size(), 256), period)) /
                                  (2 * std::numbers::pi) * period;
    if (first - boundary > period / 2) boundary += period;

    struct Chunk {
        SampleRange range;
        std::optional<EdgeTracker> begin, end;
    };
    numbers.resize(edges.size());
    std::vector<Chunk> chunks;
    for (std::int64_t at = 0; at < count; at += edgesPerChunk)
        chunks.push_back({{at, std::min(count, at + edgesPerChunk)}, {}, {}});
    const auto startOf = [&](const Chunk &chunk) { return std::max<std::int64_t>(0, chunk.range.first - warmUp); };
    const auto trackerAt = [&](std::int64_t start) {
        return EdgeTracker(period, start == 0 ? boundary : edges.positions[std::size_t(start)]);
    };
    const auto one = [&](Chunk &chunk) {
        EdgeTracker tracker = trackerAt(startOf(chunk));
        tracker.follow(edges, {startOf(chunk), chunk.range.first}, nullptr);
        chunk.begin = tracker;
        tracker.follow(edges, chunk.range, numbers.data());
        chunk.end = tracker;
    };
    const auto several = [&](std::span<Chunk> some) { // lanes that are left follow the last one again
        std::array<std::int64_t, trackersTogether> before, own;
        for (std::size_t k = 0; k < trackersTogether; ++k) {
            const Chunk &chunk = some[std::min(k, some.size() - 1)];
            before[k] = startOf(chunk);
            own[k] = chunk.range.first;
        }
        const auto beginAt = [&]<std::size_t... k>(std::index_sequence<k...>)
        {
            return std::array<EdgeTracker, trackersTogether>{trackerAt(before[k])...};
        };
        auto trackers = beginAt(std::make_index_sequence<trackersTogether>());
        followTogether(trackers, edges.positions.data(), before, warmUp, nullptr);
        for (std::size_t k = 0; k < some.size(); ++k) some[k].begin = trackers[k];
        followTogether(trackers, edges.positions.data(), own, edgesPerChunk, numbers.data());
        for (std::size_t k = 0; k < some.size(); ++k) some[k].end = trackers[k];
    };
    progress.expect(double(count));
    // The first has nothing before it, the last may be shorter.
    const std::size_t alike = chunks.size() > 3 ? chunks.size() - 2 : 0,
                      groups = (alike + trackersTogether - 1) / trackersTogether;
    onAllCores(std::int64_t(groups + chunks.size() - alike), [&](std::int64_t index) {
        const auto at = std::size_t(index);
        double done = 0;
        if (at < groups) {
            const std::size_t before = at * trackersTogether, some = std::min(trackersTogether, alike - before);
            several(std::span(chunks).subspan(1 + before, some));
            done = double(some) * double(edgesPerChunk);
        } else {
            Chunk &chunk = chunks[at == groups ? 0 : at - groups + alike];
            one(chunk);
            done = double(chunk.range.size());
        }
        progress.advance(done);
    });
    std::vector<std::int64_t> more(chunks.size()); // what each chunk's numbers are short of
    for (std::size_t i = 1; i < chunks.size(); ++i) {
        const EdgeTracker &before = *chunks[i - 1].end;
        if (chunks[i].begin->agrees(before)) {
            more[i] = before.number + more[i - 1] - chunks[i].begin->number;
        } else {
            more[i] = more[i - 1];
            EdgeTracker tracker = before;
            tracker.follow(edges, chunks[i].range, numbers.data());
            chunks[i].end = tracker;
        }
    }
    struct Nothing {};
    inChunks<Nothing>({0, count}, edgesPerChunk, progress, [&](SampleRange mine, Nothing &) {
        const std::int64_t add = more[std::size_t(mine.first / edgesPerChunk)];
        for (std::int64_t i = mine.first; i < mine.last; ++i)
            numbers[std::size_t(i)] = std::int32_t(numbers[std::size_t(i)] + add);
    });
}

} // namespace fulvex
