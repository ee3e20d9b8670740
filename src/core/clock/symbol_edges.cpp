#include "symbol_edges.h"

#include "clock_recovery.h"
#include "parallel.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace fulvex {

namespace {

/// A transition: the crossing of which list, and between which symbols.
struct Transition {
    std::uint8_t list, step;
    bool afterGap;
    std::uint32_t within; ///< of the crossings of that list that were taken
};

/// Crossings of the middles between all pairs of levels, each value once.
class Middles {
public:
    Middles(const SampleSource &source, SampleRange range, const SymbolLevels &levels, Progress &progress)
        : m_symbols(levels.levels.size()), m_listOf(m_symbols * m_symbols)
    {
        std::map<double, std::uint8_t> known;
        for (std::size_t low = 0; low < m_symbols; ++low) {
            for (std::size_t high = low + 1; high < m_symbols; ++high) {
                const double middle = levels.middle(low, high);
                const auto [at, fresh] = known.try_emplace(middle, std::uint8_t(m_lists.size()));
                if (fresh) {
                    m_lists.push_back(
                        findLinearEdges(source, range, crossingLevel(middle, levels.hysteresis), progress));
                    m_values.push_back(middle);
                }
                m_listOf[low * m_symbols + high] = m_listOf[high * m_symbols + low] = at->second;
            }
        }
    }
    std::size_t size() const { return m_lists.size(); }
    double value(std::size_t list) const { return m_values[list]; }
    const EdgeList &crossings(std::size_t list) const { return m_lists[list]; }
    std::uint8_t listOf(std::size_t before, std::size_t after) const { return m_listOf[before * m_symbols + after]; }

private:
    std::size_t m_symbols;
    std::vector<std::uint8_t> m_listOf;
    std::vector<EdgeList> m_lists;
    std::vector<double> m_values;
};

/// A chunk's transitions in the order of their boundaries, and per list the crossings that they are.
struct Found {
    std::vector<Transition> transitions;
    std::vector<std::vector<std::uint32_t>> taken;
    std::vector<std::size_t> before; ///< crossings of the chunks before it
};

/// Looks for the transitions at the boundaries of a chunk.
class Seeker {
public:
    Seeker(const SampleSource &source, const UnitIntervalMap &map, const Middles &middles, const SymbolLevels &levels)
        : m_source(source), m_map(map), m_middles(middles), m_levels(levels)
    {
    }
    void seek(SampleRange boundaries, Found &found) const
    {
        found.taken.resize(m_middles.size());
        std::vector<double> values(std::size_t(boundaries.size()) + 1), expected(std::size_t(boundaries.size()));
        middlesOf(m_source, m_map, boundaries.first - 1, values);
        m_map.positionsOf(double(boundaries.first), expected);
        std::vector<std::size_t> hints(m_middles.size());
        for (std::size_t list = 0; list < hints.size(); ++list) {
            const auto &positions = m_middles.crossings(list).positions;
            hints[list] = std::size_t(
                std::lower_bound(positions.begin(), positions.end(), expected.front() - reach * m_map.period()) -
                positions.begin());
        }
        bool gap = !(values[0] == values[0]);
        for (std::size_t i = 0; i < expected.size(); ++i) {
            const double before = values[i], after = values[i + 1];
            if (!(before == before && after == after)) {
                gap = true;
                continue;
            }
            const std::size_t from = symbolOf(before, m_levels.thresholds), to = symbolOf(after, m_levels.thresholds);
            if (from == to) continue;
            const std::uint8_t list = m_middles.listOf(from, to);
            const auto crossing = nearest(m_middles.crossings(list), hints[list], expected[i], to > from);
            if (!crossing) continue;
            auto &taken = found.taken[list];
            found.transitions.push_back(
                {list, std::uint8_t(from * mostSymbols + to), std::exchange(gap, false), std::uint32_t(taken.size())});
            taken.push_back(std::uint32_t(*crossing));
        }
    }

private:
    static constexpr double reach = 0.6; ///< unit intervals from where a transition is expected
    std::optional<std::size_t> nearest(const EdgeList &edges, std::size_t &hint, double expected, bool rising) const
    {
        const double from = expected - reach * m_map.period(), to = expected + reach * m_map.period();
        while (hint < edges.size() && edges.positions[hint] < from) ++hint;
        std::optional<std::size_t> best;
        for (std::size_t i = hint; i < edges.size() && edges.positions[i] <= to; ++i) {
            if (edges.isRising(i) != rising) continue;
            if (!best || std::abs(edges.positions[i] - expected) < std::abs(edges.positions[*best] - expected))
                best = i;
        }
        return best;
    }
    const SampleSource &m_source;
    const UnitIntervalMap &m_map;
    const Middles &m_middles;
    const SymbolLevels &m_levels;
};

/// Of the thresholds next to the middle the one that is crossed more often, as some windows of the range tell.
double mostCrossed(const SampleSource &source, SampleRange range, const SymbolLevels &levels, Progress &progress)
{
    const std::size_t lower = (levels.thresholds.size() - 1) / 2, upper = levels.thresholds.size() / 2;
    constexpr std::int64_t windows = 32, length = 1 << 16;
    const std::int64_t size = std::min(length, range.size());
    const std::int64_t count = std::clamp<std::int64_t>(range.size() / length, 1, windows);
    std::size_t best = lower, most = 0;
    for (std::size_t at = lower; lower < upper && at <= upper; ++at) {
        std::size_t crossed = 0;
        for (std::int64_t k = 0; k < count; ++k) {
            const std::int64_t first =
                range.first + (count > 1 ? (range.size() - size) / (count - 1) * k : (range.size() - size) / 2);
            crossed += findLinearEdges(source, {first, first + size},
                                       crossingLevel(levels.thresholds[at], levels.hysteresis), progress)
                           .size();
        }
        if (crossed > most) best = at, most = crossed;
    }
    return levels.thresholds[best];
}

/// The crossings of each list that transitions are, in their order; says to each chunk where its own begin.
std::vector<EdgeList> takenOf(const Middles &middles, std::vector<Found> &chunks)
{
    std::vector<std::size_t> sizes(middles.size());
    for (Found &chunk : chunks) {
        chunk.before = sizes;
        for (std::size_t list = 0; list < chunk.taken.size(); ++list) sizes[list] += chunk.taken[list].size();
    }
    std::vector<EdgeList> lists(middles.size());
    for (std::size_t list = 0; list < lists.size(); ++list) {
        lists[list].positions.resize(sizes[list]);
        lists[list].flags.resize(sizes[list]);
    }
    onAllCores(std::int64_t(chunks.size()), [&](std::int64_t index) {
        const Found &chunk = chunks[std::size_t(index)];
        for (std::size_t list = 0; list < chunk.taken.size(); ++list) {
            const EdgeList &from = middles.crossings(list);
            std::size_t at = chunk.before[list];
            for (const std::uint32_t crossing : chunk.taken[list]) {
                lists[list].positions[at] = from.positions[crossing];
                lists[list].flags[at++] = from.flags[crossing];
            }
        }
    });
    return lists;
}

/// Transitions one behind the other, each with its crossing's place in its list. Such passages that two transitions
/// found come once.
void list(const std::vector<Found> &chunks, const std::vector<EdgeList> &lists, EdgeList &edges)
{
    std::size_t most = 0, count = 0;
    for (const Found &chunk : chunks) most += chunk.transitions.size();
    edges.positions.resize(most);
    edges.flags.resize(most);
    edges.steps.resize(most);
    double last = 0;
    for (const Found &chunk : chunks) {
        for (const Transition &one : chunk.transitions) {
            const EdgeList &own = lists[one.list];
            const std::size_t at = chunk.before[one.list] + one.within;
            const double position = own.positions[at];
            if (count > 0 && position <= last) continue;
            edges.positions[count] = last = position;
            edges.flags[count] =
                std::uint8_t((own.flags[at] & EdgeList::rising) | (one.afterGap && count > 1 ? EdgeList::afterGap : 0));
            edges.steps[count++] = one.step;
        }
    }
    edges.positions.resize(count);
    edges.flags.resize(count);
    edges.steps.resize(count);
}

} // namespace

SymbolEdges findSymbolEdges(const SourcePtr &source, SampleRange range, const AmplitudeHistogram &samples,
                            const SymbolLevelRule &rule, std::optional<double> expected,
                            EdgeInterpolation interpolation, Progress &progress)
{
    SymbolEdges found;
    const SymbolLevels rough = roughSymbolLevels(samples, rule);
    const double middle = mostCrossed(*source, range, rough, progress);
    EdgeList crossings = findLinearEdges(*source, range, crossingLevel(middle, rough.hysteresis), progress);
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(crossings, expected, progress));
    if (!timing->found()) {
        found.reason = timing->reason;
        return found;
    }
    constexpr double slow = 1.0 / 200;
    const double rate = 1 / (timing->period * source->axis().interval);
    const Clock clock = loopClock(std::make_shared<EdgeList>(std::move(crossings)), timing, source->axis(), {},
                                  {2, slow * rate, 0.7071}, progress);
    const auto inRange = [&](std::int64_t sample) {
        return std::clamp(std::int64_t(std::floor(clock.map.unitIntervalAt(double(sample)))), std::int64_t(-1),
                          clock.map.unitIntervals());
    };
    const SampleRange unitIntervals{inRange(range.first) + 1, std::max(inRange(range.first) + 1, inRange(range.last))};
    found.levels = symbolLevels(*source, clock.map, unitIntervals, rule, rough, progress);

    const Middles middles(*source, range, found.levels, progress);
    const Seeker seeker(*source, clock.map, middles, found.levels);
    constexpr std::int64_t perChunk = 1 << 14; // boundaries
    std::vector<Found> chunks = inChunks<Found>({unitIntervals.first, unitIntervals.last + 1}, perChunk, progress,
                                                [&](SampleRange mine, Found &part) { seeker.seek(mine, part); });
    std::vector<EdgeList> lists = takenOf(middles, chunks);
    for (std::size_t at = 0; at < lists.size(); ++at) {
        const bool sinc = isOpen(interpolation) ? timing->period < 32 : interpolation == EdgeInterpolation::sinc;
        found.edges.interpolatedBySinc |= sinc;
        if (sinc) lists[at] = refinedEdges(*source, std::move(lists[at]), middles.value(at), progress);
    }
    list(chunks, lists, found.edges);
    return found;
}

} // namespace fulvex
