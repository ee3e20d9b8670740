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

/// A level's crossings of a chunk.
struct Scan {
    std::optional<EdgeScanner> scanner;
    EdgeList edges;
};

struct ScannedPart {
    std::vector<Scan> scans; ///< level by level
    std::int64_t end = 0;    ///< sample
};

/// A level's crossings of all chunks so far.
class Joined {
public:
    /// `share`: of the record, how much they are of with this chunk.
    void append(const Scan &scan, double share)
    {
        const bool gap = m_state.gap;
        const auto first = EdgeScanner::join(m_state, *scan.scanner, scan.edges.size() > 0); // that its begin confirms
        const std::size_t start = all.size(), count = start + scan.edges.size() + (first ? 1 : 0);
        all.reserve(count, share);
        if (first) {
            all.positions.push_back(first->position);
            all.flags.push_back(first->rising ? EdgeList::rising : 0);
        }
        all.positions.insert(all.positions.end(), scan.edges.positions.begin(), scan.edges.positions.end());
        all.flags.insert(all.flags.end(), scan.edges.flags.begin(), scan.edges.flags.end());
        if (gap && count > start) all.flags[start] |= EdgeList::afterGap;
    }
    EdgeList all;

private:
    EdgeScanner::State m_state;
};

} // namespace

CrossingLevel crossingLevel(double mid, double hysteresis)
{
    return {mid, mid - hysteresis / 2, mid + hysteresis / 2};
}

std::vector<EdgeList> findLinearEdges(const SampleSource &source, SampleRange range,
                                      std::span<const CrossingLevel> levels, Progress &progress)
{
    const auto scale = source.codeScale();
    std::vector<Joined> joined(levels.size());
    const auto scan = [&](SampleRange mine, ScannedPart &part) {
        double before = std::numeric_limits<double>::quiet_NaN();
        if (mine.first > range.first) source.read(mine.first - 1, std::span(&before, 1));
        part.end = mine.last;
        part.scans.resize(levels.size());
        for (std::size_t i = 0; i < levels.size(); ++i) {
            Scan &own = part.scans[i];
            own.scanner.emplace(levels[i], mine.first, before);
            own.edges.positions.clear();
            own.edges.flags.clear();
        }
        const auto feed = [&](auto... samples) {
            for (Scan &own : part.scans) own.scanner->feed(samples..., own.edges);
        };
        if (scale && scale->step > 0)
            forCodeBlocks(source, mine, progress, [&](std::int64_t, auto codes) { feed(codes, *scale); });
        else
            forBlocks(source, mine, progress, [&](std::int64_t, auto values) { feed(values); });
        for (Scan &own : part.scans) own.scanner->finish();
    };
    const auto append = [&](const ScannedPart &part, std::size_t) {
        const double share = double(part.end - range.first) / double(range.size());
        for (std::size_t i = 0; i < joined.size(); ++i) joined[i].append(part.scans[i], share);
    };
    inChunksTaken<ScannedPart>(chunksOf(range, defaultChunk), progress, scan, append);
    std::vector<EdgeList> lists;
    for (Joined &one : joined) lists.push_back(std::move(one.all));
    return lists;
}

EdgeList findLinearEdges(const SampleSource &source, SampleRange range, CrossingLevel level, Progress &progress)
{
    return std::move(findLinearEdges(source, range, std::span(&level, 1), progress).front());
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
    copy.transitionSamples = edges.transitionSamples;
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
    if (interpolation == EdgeInterpolation::sinc) return refinedEdges(source, std::move(edges), levels.mid, progress);
    return edges;
}

} // namespace fulvex
