#include "edge_finder.h"

#include "crossing_refiner.h"
#include "edge_scanner.h"
#include "parallel.h"
#include "transition_finder.h"

#include <algorithm>
#include <limits>
#include <optional>
#include <tbb/enumerable_thread_specific.h>

namespace fulvex {

namespace {

struct Part {
    std::optional<EdgeScanner> scanner;
    EdgeList edges;
};

} // namespace

CrossingLevel crossingLevel(double mid, double hysteresis)
{
    return {mid, mid - hysteresis / 2, mid + hysteresis / 2};
}

EdgeList findLinearEdges(const SampleSource &source, SampleRange range, CrossingLevel level, Progress &progress)
{
    const auto scale = source.codeScale();
    tbb::enumerable_thread_specific<EdgeList> rooms;
    auto parts = inChunks<Part>(range, defaultChunk, progress, [&](SampleRange mine, Part &part) {
        double before = std::numeric_limits<double>::quiet_NaN();
        if (mine.first > range.first) source.read(mine.first - 1, std::span(&before, 1));
        part.scanner.emplace(level, mine.first, before);
        EdgeList &found =
            rooms.local(); // whose room is kept: thousands of parts live side by side until they are joined
        found.positions.clear();
        found.flags.clear();
        const auto feed = [&](std::int64_t, auto values) { part.scanner->feed(values, found); };
        const auto feedCodes = [&](std::int64_t, std::span<const std::int16_t> codes) {
            part.scanner->feed(codes, *scale, found);
        };
        scale && scale->step > 0 ? forCodeBlocks(source, mine, progress, feedCodes, feed)
                                 : forBlocks(source, mine, progress, feed);
        part.scanner->finish();
        part.edges.positions.assign(found.positions.begin(), found.positions.end());
        part.edges.flags.assign(found.flags.begin(), found.flags.end());
    });
    struct Joint {
        std::optional<EdgeScanner::Crossing> first; ///< that the part's beginning confirms
        bool afterGap;                              ///< the part's first crossing, or that one
        std::size_t start;
    };
    std::vector<Joint> joints;
    EdgeScanner::State state;
    std::size_t count = 0;
    for (const Part &part : parts) {
        const bool gap = state.gap;
        const auto first = EdgeScanner::join(state, *part.scanner, part.edges.size() > 0);
        joints.push_back({first, gap, count});
        count += part.edges.size() + (first ? 1 : 0);
    }
    EdgeList all;
    all.positions.resize(count);
    all.flags.resize(count);
    onAllCores(std::int64_t(parts.size()), [&](std::int64_t index) {
        const auto i = std::size_t(index);
        const Joint &joint = joints[i];
        std::size_t at = joint.start;
        if (joint.first) {
            all.positions[at] = joint.first->position;
            all.flags[at++] = joint.first->rising ? EdgeList::rising : 0;
        }
        std::copy(parts[i].edges.positions.begin(), parts[i].edges.positions.end(),
                  all.positions.begin() + std::ptrdiff_t(at));
        std::copy(parts[i].edges.flags.begin(), parts[i].edges.flags.end(), all.flags.begin() + std::ptrdiff_t(at));
        if (joint.afterGap && (joint.first || parts[i].edges.size())) all.flags[joint.start] |= EdgeList::afterGap;
        parts[i].edges = {};
    });
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
