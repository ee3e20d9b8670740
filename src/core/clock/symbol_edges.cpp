#include "symbol_edges.h"

#include "clock_recovery.h"
#include "crossing_refiner.h"
#include "parallel.h"
#include "symbol_middles.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <map>
#include <span>
#include <tbb/enumerable_thread_specific.h>
#include <utility>

namespace fulvex {

namespace {

/// Crossings of the middles between all pairs of levels, each value once.
class Middles {
public:
    Middles(const SampleSource &source, SampleRange range, const SymbolLevels &levels, Progress &progress)
        : m_symbols(levels.levels.size()), m_listOf(m_symbols * m_symbols)
    {
        std::map<double, std::uint8_t> known;
        std::vector<CrossingLevel> bands;
        for (std::size_t low = 0; low < m_symbols; ++low) {
            for (std::size_t high = low + 1; high < m_symbols; ++high) {
                const double middle = levels.middle(low, high);
                const auto [at, fresh] = known.try_emplace(middle, std::uint8_t(bands.size()));
                if (fresh) bands.push_back(crossingLevel(middle, levels.hysteresis));
                m_listOf[low * m_symbols + high] = m_listOf[high * m_symbols + low] = at->second;
            }
        }
        m_lists = findLinearEdges(source, range, bands, progress);
        for (const CrossingLevel &band : bands) m_values.push_back(band.mid);
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

/// Transitions of a chunk of boundaries, ascending.
struct Found {
    EdgeList edges;
    bool gap = false; ///< behind the last of them
};

void resize(EdgeList &transitions, std::size_t count)
{
    transitions.positions.resize(count);
    transitions.flags.resize(count);
    transitions.steps.resize(count);
}

/// Looks for the transitions of a chunk, some boundaries at a time. Each crossing is laid to the boundary that is
/// nearest to it, so that it need not be sought when it is asked for.
class Seeker {
public:
    Seeker(const SampleSource &source, const UnitIntervalMap &map, const Middles &middles, const SymbolLevels &levels)
        : m_source(source), m_map(map), m_middles(middles), m_levels(levels), m_reader(source, map),
          m_hints(middles.size()), m_laid(2 * middles.size() * together)
    {
    }
    void seek(SampleRange boundaries, bool sinc)
    {
        std::ranges::fill(m_hints, unknown);
        resize(m_found, 0);
        m_lists.clear();
        for (std::int64_t first = boundaries.first; first < boundaries.last; first += together)
            seekSome({first, std::min(boundaries.last, first + together)}, first == boundaries.first);
        if (sinc) refine();
        const auto sampleAt = [&](std::int64_t boundary) { return std::int64_t(m_map.positionOf(double(boundary))); };
        m_source.release({sampleAt(boundaries.first), sampleAt(boundaries.last)});
    }
    /// Such passages that two transitions found come once.
    void giveTo(Found &found) const
    {
        EdgeList &edges = found.edges;
        resize(edges, m_found.size());
        std::size_t count = 0;
        double last = -std::numeric_limits<double>::infinity();
        for (std::size_t i = 0; i < m_found.size(); ++i) {
            const double position = m_found.positions[i];
            edges.positions[count] = position;
            edges.flags[count] = m_found.flags[i];
            edges.steps[count] = m_found.steps[i];
            count += position > last;
            last = std::max(last, position);
        }
        resize(edges, count);
        found.gap = m_gap;
    }

private:
    static constexpr double reach = 0.6;          ///< unit intervals from where a transition is expected
    static constexpr std::int64_t together = 512; ///< boundaries: what is told of them stays in a core's cache
    static constexpr double none = std::numeric_limits<double>::infinity();
    static constexpr std::size_t unknown = ~std::size_t(0);

    void seekSome(SampleRange boundaries, bool first)
    {
        const auto count = std::size_t(boundaries.size());
        decide(boundaries.first - 1, count + 1);
        m_expected.resize(count + 2); // the boundary before them and the one behind as well
        m_map.positionsOf(double(boundaries.first - 1), m_expected);
        std::ranges::fill(m_laid, none);
        for (std::size_t list = 0; list < m_middles.size(); ++list) lay(list, count);
        if (first) m_gap = m_symbols[0] == unknownSymbol;
        const std::size_t known = m_lists.size();
        const auto makeRoom = [&](std::size_t size) {
            resize(m_found, size);
            m_lists.resize(size);
        };
        makeRoom(known + count);
        std::size_t at = known;
        const double farthest = reach * m_map.period();
        for (std::size_t i = 0; i < count; ++i) { // without a way that depends on the data, which is not foreseen
            const std::uint8_t from = m_symbols[i], to = m_symbols[i + 1];
            if (from == unknownSymbol || to == unknownSymbol) {
                m_gap = true;
                continue;
            }
            const std::uint8_t list = m_middles.listOf(from, to);
            const double *const expected = m_expected.data() + i + 1;
            double position = laidAt(list, i, to > from);
            // As near as half of the way to either neighbour: then no crossing that was laid to those is nearer.
            const double half = std::min(expected[0] - expected[-1], expected[1] - expected[0]) / 2;
            bool found = std::abs(position - *expected) <= std::min(half, farthest);
            if (from != to && !found) {
                position = nearest(list, *expected, to > from);
                found = position == position;
            }
            m_found.positions[at] = position;
            m_found.flags[at] = std::uint8_t((to > from) * EdgeList::rising | m_gap * EdgeList::afterGap);
            m_found.steps[at] = std::uint8_t(from * mostSymbols + to);
            m_lists[at] = list;
            found &= from != to;
            m_gap &= !found;
            at += found;
        }
        makeRoom(at);
    }
    /// The symbols of unit intervals from one on.
    void decide(std::int64_t first, std::size_t count)
    {
        m_symbols.resize(count);
        m_reader.symbols(first, m_levels.thresholds, m_symbols);
    }
    double &laidAt(std::size_t list, std::size_t boundary, bool rising)
    {
        return m_laid[(2 * list + rising) * together + boundary];
    }
    /// Lays a list's crossings to the boundaries that they are nearest to: m_expected[1] and so many more.
    void lay(std::size_t list, std::size_t count)
    {
        const EdgeList &edges = m_middles.crossings(list);
        const double *const expected = m_expected.data();
        const auto border = [&](std::size_t k) { return (expected[k] + expected[k + 1]) / 2; };
        const double from = border(0), to = border(count), perUnit = 1 / m_map.period();
        std::size_t &at = m_hints[list];
        const auto begin = edges.positions.begin();
        if (at == unknown) at = std::size_t(std::lower_bound(begin, edges.positions.end(), from) - begin);
        for (; at < edges.size() && edges.positions[at] < to; ++at) {
            const double position = edges.positions[at];
            if (position < from) continue;
            const double about = (position - expected[1]) * perUnit + 1.5;
            std::size_t k = std::min(std::size_t(std::max(about, 1.0)), count);
            while (k > 1 && position < border(k - 1)) --k;
            while (k < count && position >= border(k)) ++k;
            double &laid = laidAt(list, k - 1, edges.isRising(at));
            laid = std::abs(position - expected[k]) < std::abs(laid - expected[k]) ? position : laid;
        }
    }
    /// The crossing nearest to where one is expected, within reach; NaN where there is none.
    double nearest(std::size_t list, double expected, bool rising) const
    {
        const EdgeList &edges = m_middles.crossings(list);
        const double from = expected - reach * m_map.period(), to = expected + reach * m_map.period();
        const auto begin = edges.positions.begin();
        double best = std::numeric_limits<double>::quiet_NaN();
        for (auto i = std::size_t(std::lower_bound(begin, edges.positions.end(), from) - begin);
             i < edges.size() && edges.positions[i] <= to; ++i) {
            if (edges.isRising(i) != rising) continue;
            if (!(std::abs(edges.positions[i] - expected) >= std::abs(best - expected))) best = edges.positions[i];
        }
        return best;
    }
    /// By windowed sinc, list by list: each has a level of its own.
    void refine()
    {
        SampleWindow window(m_source);
        EdgeList own;
        for (std::size_t list = 0; list < m_middles.size(); ++list) {
            own.positions.clear();
            own.flags.clear();
            for (std::size_t i = 0; i < m_lists.size(); ++i) {
                if (m_lists[i] != list) continue;
                own.positions.push_back(m_found.positions[i]);
                own.flags.push_back(m_found.flags[i]);
            }
            refineCrossings(window, m_middles.value(list), own.positions, own.flags);
            for (std::size_t i = 0, at = 0; i < m_lists.size(); ++i)
                if (m_lists[i] == list) m_found.positions[i] = own.positions[at++];
        }
    }

    const SampleSource &m_source;
    const UnitIntervalMap &m_map;
    const Middles &m_middles;
    const SymbolLevels &m_levels;
    EdgeList m_found;
    RawVector<std::uint8_t> m_lists; ///< that they are of
    bool m_gap = false;              ///< since the last one
    SymbolMiddles m_reader;
    std::vector<double> m_expected;
    std::vector<std::uint8_t> m_symbols;
    std::vector<std::size_t> m_hints; ///< of each list the first crossing that was not laid
    std::vector<double> m_laid;       ///< where they are: of each list, direction and boundary
};

/// Of the thresholds next to the middle the one that is crossed more often, as some windows of the range tell.
double mostCrossed(const SampleSource &source, SampleRange range, const SymbolLevels &levels, Progress &progress)
{
    const std::size_t lower = (levels.thresholds.size() - 1) / 2, upper = levels.thresholds.size() / 2;
    constexpr std::int64_t windows = 32, length = 1 << 16;
    const std::int64_t size = std::min(length, range.size());
    const std::int64_t count = std::clamp<std::int64_t>(range.size() / length, 1, windows);
    if (lower == upper) return levels.thresholds[lower];
    const CrossingLevel bands[] = {crossingLevel(levels.thresholds[lower], levels.hysteresis),
                                   crossingLevel(levels.thresholds[upper], levels.hysteresis)};
    std::size_t crossed[2] = {};
    for (std::int64_t k = 0; k < count; ++k) {
        const std::int64_t first =
            range.first + (count > 1 ? (range.size() - size) / (count - 1) * k : (range.size() - size) / 2);
        const auto lists = findLinearEdges(source, {first, first + size}, bands, progress);
        for (std::size_t i = 0; i < 2; ++i) crossed[i] += lists[i].size();
    }
    return bands[crossed[1] > crossed[0]].mid;
}

/// Adds the transitions of a chunk that follows. `share`: of the record, how much they are of with this chunk.
void append(EdgeList &all, bool &gap, const Found &found, double share)
{
    const EdgeList &some = found.edges;
    const double last = all.size() ? all.positions.back() : -std::numeric_limits<double>::infinity();
    const auto skipped = std::upper_bound(some.positions.begin(), some.positions.end(), last) - some.positions.begin();
    const std::size_t start = all.size();
    all.reserve(start + some.size(), share, true);
    all.positions.insert(all.positions.end(), some.positions.begin() + skipped, some.positions.end());
    all.flags.insert(all.flags.end(), some.flags.begin() + skipped, some.flags.end());
    all.steps.insert(all.steps.end(), some.steps.begin() + skipped, some.steps.end());
    if (start < all.size() && gap) all.flags[start] |= EdgeList::afterGap;
    if (start == 0 && all.size() > 0) all.flags[0] &= EdgeList::rising; // nothing lies before it
    gap = found.gap || (gap && start == all.size());
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
    const bool sinc = isOpen(interpolation) ? timing->period < 32 : interpolation == EdgeInterpolation::sinc;
    found.edges.interpolatedBySinc = sinc;
    tbb::enumerable_thread_specific<Seeker> seekers(std::cref(*source), std::cref(clock.map), std::cref(middles),
                                                    std::cref(found.levels));
    constexpr std::int64_t perChunk = 1 << 14; // boundaries
    const std::vector<SampleRange> chunks = chunksOf({unitIntervals.first, unitIntervals.last + 1}, perChunk);
    bool gap = false;
    inChunksTaken<Found>(
        chunks, progress,
        [&](SampleRange mine, Found &part) {
            Seeker &seeker = seekers.local();
            seeker.seek(mine, sinc);
            seeker.giveTo(part);
        },
        [&](const Found &part, std::size_t chunk) {
            append(found.edges, gap, part, double(chunk + 1) / double(chunks.size()));
        });
    return found;
}

} // namespace fulvex
