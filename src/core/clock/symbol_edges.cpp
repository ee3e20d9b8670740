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

/// Transitions in the order of their boundaries, and per list the crossings that they are.
struct Found {
    std::vector<Transition> transitions;
    std::vector<std::vector<std::uint32_t>> taken;
    void merge(const Found &later)
    {
        taken.resize(std::max(taken.size(), later.taken.size()));
        const auto before = transitions.size();
        transitions.insert(transitions.end(), later.transitions.begin(), later.transitions.end());
        for (std::size_t i = before; i < transitions.size(); ++i)
            transitions[i].within += std::uint32_t(taken[transitions[i].list].size());
        for (std::size_t list = 0; list < later.taken.size(); ++list)
            taken[list].insert(taken[list].end(), later.taken[list].begin(), later.taken[list].end());
    }
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

EdgeList taken(const EdgeList &from, const std::vector<std::uint32_t> &which)
{
    EdgeList some;
    some.positions.reserve(which.size());
    some.flags.reserve(which.size());
    for (const std::uint32_t edge : which) {
        some.positions.push_back(from.positions[edge]);
        some.flags.push_back(from.flags[edge]);
    }
    return some;
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
    const Found all = inChunksMerged<Found>({unitIntervals.first, unitIntervals.last + 1}, perChunk, progress,
                                            [&](SampleRange mine, Found &part) { seeker.seek(mine, part); });
    std::vector<EdgeList> lists;
    bool bySinc = false;
    for (std::size_t list = 0; list < middles.size(); ++list) {
        EdgeList own = all.taken.empty() ? EdgeList() : taken(middles.crossings(list), all.taken[list]);
        const bool sinc = isOpen(interpolation) ? timing->period < 32 : interpolation == EdgeInterpolation::sinc;
        bySinc |= sinc;
        lists.push_back(sinc ? refinedEdges(*source, std::move(own), middles.value(list), progress) : std::move(own));
    }
    EdgeList &edges = found.edges;
    edges.interpolatedBySinc = bySinc;
    for (const Transition &one : all.transitions) {
        const EdgeList &own = lists[one.list];
        const double position = own.positions[one.within];
        if (edges.size() > 0 && position <= edges.positions.back()) continue; // the same passage once more
        edges.positions.push_back(position);
        edges.flags.push_back(std::uint8_t((own.flags[one.within] & EdgeList::rising) |
                                           (one.afterGap && edges.size() > 1 ? EdgeList::afterGap : 0)));
        edges.steps.push_back(one.step);
    }
    return found;
}

} // namespace fulvex
