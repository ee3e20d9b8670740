#include "edge_finder.h"

#include "crossing_refiner.h"
#include "edge_scanner.h"
#include "parallel.h"
#include "transition_finder.h"

#include <algorithm>

namespace fulvex {

namespace {

struct Part {
    EdgeList edges;
    bool gapAfter = false; ///< after the last edge, or anywhere when there is none
};

/// The last sample before `first` at which the scanner's state is plain: outside the band, or a gap, or the range's
/// first one.
std::int64_t settledBefore(const SampleSource &source, SampleRange range, std::int64_t first, CrossingLevel level)
{
    std::vector<double> block;
    for (std::int64_t last = first; last > range.first;) {
        const std::int64_t from = std::max(range.first, last - 1024);
        block.resize(std::size_t(last - from));
        source.read(from, block);
        for (std::int64_t i = last - 1; i >= from; --i) {
            const double v = block[std::size_t(i - from)];
            if (!(v == v) || v >= level.top || (v <= level.bottom && v < level.mid)) return i;
        }
        last = from;
    }
    return range.first;
}

} // namespace

CrossingLevel crossingLevel(double mid, double hysteresis)
{
    return {mid, mid - hysteresis / 2, mid + hysteresis / 2};
}

EdgeList findLinearEdges(const SampleSource &source, SampleRange range, CrossingLevel level, Progress &progress)
{
    auto parts = inChunks<Part>(range, defaultChunk, progress, [&](SampleRange mine, Part &part) {
        const std::int64_t settled = settledBefore(source, range, mine.first, level);
        EdgeScanner scanner(level, settled);
        forBlocks(source, {settled, mine.first},
                  [&](std::int64_t, std::span<const double> volts) { scanner.feed(volts, part.edges); });
        part.edges = {}; // confirmed in the chunk before, and found there
        scanner.clearGap();
        forBlocks(source, mine, [&](std::int64_t, std::span<const double> volts) { scanner.feed(volts, part.edges); });
        part.gapAfter = scanner.gapPending();
        part.edges.positions.shrink_to_fit(); // thousands of parts live side by side until they are joined
        part.edges.flags.shrink_to_fit();
    });
    std::vector<std::size_t> starts(1);
    bool gap = false;
    for (Part &part : parts) {
        starts.push_back(starts.back() + part.edges.size());
        if (part.edges.size() && gap) part.edges.flags[0] |= EdgeList::afterGap;
        gap = part.gapAfter || (gap && part.edges.size() == 0);
    }
    EdgeList all;
    all.positions.resize(starts.back());
    all.flags.resize(starts.back());
    tbb::parallel_for(std::size_t(0), parts.size(), [&](std::size_t i) {
        std::copy(parts[i].edges.positions.begin(), parts[i].edges.positions.end(),
                  all.positions.begin() + std::ptrdiff_t(starts[i]));
        std::copy(parts[i].edges.flags.begin(), parts[i].edges.flags.end(),
                  all.flags.begin() + std::ptrdiff_t(starts[i]));
        parts[i].edges = {};
    });
    return all;
}

EdgeList findEdges(const SampleSource &source, SampleRange range, const ReferenceLevels &levels,
                   EdgeInterpolation interpolation, Progress &progress)
{
    const CrossingLevel level = crossingLevel(levels.mid, levels.hysteresis);
    EdgeList edges = findLinearEdges(source, range, level, progress);
    const double fewest = interpolation == EdgeInterpolation::instants    ? 12
                          : interpolation == EdgeInterpolation::automatic ? 5
                                                                          : 0;
    const bool sinc = interpolation == EdgeInterpolation::sinc ||
                      (fewest > 0 && medianTransitionSamples(source, edges, levels) < fewest);
    if (!sinc) return edges;
    edges.interpolatedBySinc = true;
    struct Nothing {};
    const std::int64_t count = std::int64_t(edges.size());
    inChunks<Nothing>({0, count}, 1 << 16, progress, [&](SampleRange mine, Nothing &) {
        SampleWindow window(source);
        const auto first = std::size_t(mine.first), length = std::size_t(mine.size());
        refineCrossings(window, levels.mid, std::span(edges.positions).subspan(first, length),
                        std::span<const std::uint8_t>(edges.flags).subspan(first, length));
        if (mine.size()) {
            const auto at = [&](std::int64_t edge) { return std::int64_t(edges.positions[std::size_t(edge)]); };
            source.release({at(mine.first), at(mine.last - 1)});
        }
    });
    return edges;
}

} // namespace fulvex
