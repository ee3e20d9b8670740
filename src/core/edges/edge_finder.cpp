#include "edge_finder.h"

#include "crossing_refiner.h"
#include "edge_scanner.h"
#include "parallel.h"
#include "transition_finder.h"

#include <algorithm>
#include <limits>
#include <optional>

namespace fulvex {

namespace {

struct Part {
    std::optional<EdgeScanner> scanner;
    EdgeList edges;
    std::int64_t end = 0; ///< sample
};

} // namespace

CrossingLevel crossingLevel(double mid, double hysteresis)
{
    return {mid, mid - hysteresis / 2, mid + hysteresis / 2};
}

EdgeList findLinearEdges(const SampleSource &source, SampleRange range, CrossingLevel level, Progress &progress)
{
    const auto scale = source.codeScale();
    EdgeList all;
    EdgeScanner::State state;
    const auto scan = [&](SampleRange mine, Part &part) {
        double before = std::numeric_limits<double>::quiet_NaN();
        if (mine.first > range.first) source.read(mine.first - 1, std::span(&before, 1));
        part.scanner.emplace(level, mine.first, before);
        part.end = mine.last;
        part.edges.positions.clear();
        part.edges.flags.clear();
        const auto feed = [&](std::int64_t, auto values) { part.scanner->feed(values, part.edges); };
        const auto feedCodes = [&](std::int64_t, std::span<const std::int16_t> codes) {
            part.scanner->feed(codes, *scale, part.edges);
        };
        scale && scale->step > 0 ? forCodeBlocks(source, mine, progress, feedCodes, feed)
                                 : forBlocks(source, mine, progress, feed);
        part.scanner->finish();
    };
    const auto append = [&](Part &part, std::size_t) {
        const bool gap = state.gap;
        const auto first = EdgeScanner::join(state, *part.scanner, part.edges.size() > 0); // that its begin confirms
        const std::size_t start = all.size(), count = start + part.edges.size() + (first ? 1 : 0);
        if (count > all.positions.capacity()) { // for as many as there are so far in as long
            const double share = double(range.size()) / double(part.end - range.first);
            const auto room = std::size_t(1.05 * double(count) * share) + 64;
            all.positions.reserve(room);
            all.flags.reserve(room);
        }
        if (first) {
            all.positions.push_back(first->position);
            all.flags.push_back(first->rising ? EdgeList::rising : 0);
        }
        all.positions.insert(all.positions.end(), part.edges.positions.begin(), part.edges.positions.end());
        all.flags.insert(all.flags.end(), part.edges.flags.begin(), part.edges.flags.end());
        if (gap && count > start) all.flags[start] |= EdgeList::afterGap;
    };
    inChunksTaken<Part>(chunksOf(range, defaultChunk), progress, scan, append);
    return all;
}

EdgeInterpolation settled(EdgeInterpolation asked, double transitionSamples)
{
    // Straight lines, by which they are counted here, take 2 to 5 % longer over a smooth edge of 5 samples.
    const double fewest = asked == EdgeInterpolation::instants ? 12 : asked == EdgeInterpolation::automatic ? 5.25 : 0;
    if (fewest > 0) return transitionSamples < fewest ? EdgeInterpolation::sinc : EdgeInterpolation::linear;
    return asked;
}

EdgeList copyOf(const EdgeList &edges)
{
    EdgeList copy;
    copy.positions.resize(edges.size());
    copy.flags.resize(edges.size());
    copy.interpolatedBySinc = edges.interpolatedBySinc;
    copy.steps = edges.steps;
    constexpr std::size_t some = 1 << 18;
    onAllCores(std::int64_t((edges.size() + some - 1) / some), [&](std::int64_t index) {
        const std::size_t first = std::size_t(index) * some, count = std::min(some, edges.size() - first);
        std::copy_n(edges.positions.data() + first, count, copy.positions.data() + first);
        std::copy_n(edges.flags.data() + first, count, copy.flags.data() + first);
    });
    return copy;
}

EdgeList refinedEdges(const SampleSource &source, EdgeList edges, double mid, Progress &progress)
{
    edges.interpolatedBySinc = true;
    struct Nothing {};
    const std::int64_t count = std::int64_t(edges.size());
    inChunks<Nothing>({0, count}, 1 << 16, progress, [&](SampleRange mine, Nothing &) {
        SampleWindow window(source);
        const auto first = std::size_t(mine.first), length = std::size_t(mine.size());
        refineCrossings(window, mid, std::span(edges.positions).subspan(first, length),
                        std::span<const std::uint8_t>(edges.flags).subspan(first, length));
        source.release(edges.samplesOf(mine));
    });
    return edges;
}

EdgeList findEdges(const SampleSource &source, SampleRange range, const ReferenceLevels &levels,
                   EdgeInterpolation interpolation, Progress &progress)
{
    EdgeList edges = findLinearEdges(source, range, crossingLevel(levels.mid, levels.hysteresis), progress);
    if (isOpen(interpolation)) interpolation = settled(interpolation, medianTransitionSamples(source, edges, levels));
    return interpolation == EdgeInterpolation::sinc ? refinedEdges(source, std::move(edges), levels.mid, progress)
                                                    : edges;
}

} // namespace fulvex
