#include "mask_test_run.h"

#include "clear_grid.h"
#include "line_sieve.h"
#include "resampled_source.h"
#include "unit_interval_walk.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <bit>
#include <cmath>
#include <tbb/enumerable_thread_specific.h>
#include <tuple>

namespace fulvex {

namespace {

auto timeKey(const MaskFailure &f)
{
    return std::tuple(f.time, f.unitInterval, f.deepest, f.worstTime, f.area, f.phase, f.value, f.capture);
}
auto depthKey(const MaskFailure &f)
{
    return std::tuple(-f.deepest, f.time, f.unitInterval, f.worstTime, f.area, f.phase, f.value, f.capture);
}

/// The first ones of both lists by a key, which tells any two apart that differ: so the order of mergers is no matter.
template <typename Key>
void keepFirst(std::vector<MaskFailure> &list, const std::vector<MaskFailure> &more, Key key)
{
    list.insert(list.end(), more.begin(), more.end());
    const auto less = [&](const MaskFailure &a, const MaskFailure &b) { return key(a) < key(b); };
    const auto end = list.begin() + std::ptrdiff_t(std::min(list.size(), MaskResult::keptFailures));
    std::partial_sort(list.begin(), end, list.end(), less);
    list.erase(end, list.end());
}

} // namespace

void FailureSpread::add(std::int64_t unitInterval, std::int64_t failures)
{
    while (std::size_t(unitInterval >> shift) >= most) {
        for (std::size_t i = 0; 2 * i < counts.size(); ++i)
            counts[i] = counts[2 * i] + (2 * i + 1 < counts.size() ? counts[2 * i + 1] : 0);
        counts.resize((counts.size() + 1) / 2);
        ++shift;
    }
    const auto at = std::size_t(unitInterval >> shift);
    if (at >= counts.size()) counts.resize(at + 1);
    counts[at] += failures;
}

void FailureSpread::merge(const FailureSpread &later)
{
    for (std::size_t i = 0; i < later.counts.size(); ++i) {
        if (later.counts[i]) add(std::int64_t(i) << later.shift, later.counts[i]);
    }
}

void MaskResult::merge(const MaskResult &later)
{
    unitIntervals += later.unitIntervals;
    hits += later.hits;
    failedUnitIntervals += later.failedUnitIntervals;
    areaHits.resize(std::max(areaHits.size(), later.areaHits.size()));
    for (std::size_t i = 0; i < later.areaHits.size(); ++i) areaHits[i] += later.areaHits[i];
    if (later.margin) margin = std::min(margin.value_or(1), *later.margin);
    keepFirst(failures, later.failures, timeKey);
    keepFirst(worst, later.worst, depthKey);
    spread.merge(later.spread);
    stopped |= later.stopped;
}

namespace {

/// What is known of some unit intervals before all of them are tested, and what no chunk has to find again: the
/// smallest margin that failed so far. Margins are on one grid, so that it is no matter which chunk found it when.
class KnownSoFar {
public:
    double margin() const { return m_margin.load(std::memory_order_relaxed); }
    void lower(double margin)
    {
        double known = this->margin();
        while (margin < known && !m_margin.compare_exchange_weak(known, margin, std::memory_order_relaxed)) {
        }
    }
    std::optional<LineSieve> sieve; ///< made before chunks are tested
    double sieveMargin = 1;         ///< of the areas it was made by

private:
    std::atomic<double> m_margin = 1;
};

/// One chunk's worth of lines against the areas at the rule's margin and at the smallest failing margin so far.
class Tester {
public:
    /// `axis`: that samples are counted on.
    Tester(const std::vector<MovableArea> &areas, const MaskRule &rule, const TimeAxis &axis, KnownSoFar &known,
           MaskResult &result)
        : m_areas(areas), m_rule(rule), m_axis(axis), m_known(known), m_result(result), m_sieve(known.sieve),
          m_made(known.sieveMargin), m_unitIntervals{rule.first, rule.last}
    {
        m_result.areaHits.resize(areas.size());
        for (const MovableArea &area : areas) m_atRule.push_back(area.at(rule.margin));
        setBest(m_known.margin());
    }
    /// From now on of these unit intervals alone.
    void only(SampleRange unitIntervals)
    {
        m_unitIntervals = unitIntervals;
        m_before = {0, NAN};
    }
    /// Samples behind each other, in UI counted through the record; `first` being the first one's index. `step`: UI
    /// from one to the next, about.
    void samples(std::int64_t first, std::span<const double> values, std::span<const double> ui, double step)
    {
        prepare(step);
        for (std::size_t i = 0; i < values.size(); ++i) {
            const MaskPoint now{ui[i], values[i]};
            lineTo(now, first + std::int64_t(i));
            m_before = now;
        }
    }
    /// The same of as many as were loaded together: few of them are looked at.
    void samples(const PhasedSamples &at, const UnitIntervalMap &map, int interpolation, double step)
    {
        prepare(step);
        const std::int64_t first = at.ofSource().first;
        std::array<double, 65> ui;
        const auto place = [&](std::size_t from, std::size_t count) {
            map.unitIntervalsAt(first + std::int64_t(from), 1.0 / interpolation, std::span(ui).first(count));
        };
        const auto value = [&](std::size_t i) { return at.valueAt(at.thereFirst + i); };
        if (first == 0 && at.there > 0) { // no line leads to it
            place(0, 1);
            lineTo({ui[0], value(0)}, 0);
        }
        const auto suspects = m_sieve->suspects(at);
        for (std::size_t w = 0; w < suspects.size(); ++w) {
            if (suspects[w] == 0) continue;
            const auto from = 64 * w + std::size_t(std::countr_zero(suspects[w]));
            place(from, 65 - std::size_t(std::countr_zero(suspects[w]) + std::countl_zero(suspects[w])));
            for (std::uint64_t open = suspects[w]; open; open &= open - 1) {
                const std::size_t i = 64 * w + std::size_t(std::countr_zero(open));
                m_before = {ui[i - from], value(i)};
                lineTo({ui[i - from + 1], value(i + 1)}, first + std::int64_t(i) + 1);
            }
        }
    }
    /// The same of one unit interval, from where it begins.
    void lineIn(std::int64_t n, MaskPoint start, MaskPoint end, bool lone, std::int64_t index)
    {
        if (!m_clear) rebuild();
        if (m_clear->isClear(lone ? end : start, end)) return;
        heedLooks(1);
        place(start, end, lone, n, index);
    }
    void finish()
    {
        m_result.failedUnitIntervals = std::int64_t(m_result.failures.size());
        for (const MaskFailure &failure : m_result.failures) m_result.spread.add(failure.unitInterval);
        keepFirst(m_result.worst, m_result.failures, depthKey);
        keepFirst(m_result.failures, {}, timeKey);
        m_result.margin = m_best;
    }
    /// For the testers that come after this one.
    void handSieveOn()
    {
        if (!m_sieve) return;
        if (isOutdated()) rebuild();
        m_known.sieve = std::move(m_sieve);
        m_known.sieveMargin = m_made;
    }

private:
    void prepare(double step)
    {
        if (const double known = m_known.margin(); known < m_best) setBest(known);
        if (!m_sieve) sieve(step);
        heedLooks(0);
    }
    /// Makes anew what tells quickly that lines are clear where that pays.
    void heedLooks(int more)
    {
        if (isOutdated() && (m_looks += more) > looksBefore) rebuild();
    }
    /// From the sample before, if that is none it is the sample alone; nothing reaches across a gap.
    void lineTo(MaskPoint now, std::int64_t index)
    {
        if (!(now.y == now.y)) return;
        const bool lone = !(m_before.y == m_before.y);
        if (!lone && m_sieve->isClear(m_before, now)) return;
        heedLooks(1);
        line(lone ? now : m_before, now, lone, index);
    }
    /// Most lines need no other look.
    void sieve(double step)
    {
        double low = HUGE_VAL, high = -HUGE_VAL;
        for (const auto *shapes : {&m_atRule, &m_atBest}) { // between which they will move
            for (const MaskShape &shape : *shapes) {
                for (const double edge : {shape.bottom(), shape.top()}) {
                    if (!std::isfinite(edge)) continue;
                    low = std::min(low, edge);
                    high = std::max(high, edge);
                }
            }
        }
        if (!(low <= high)) low = high = 0; // of no area all is clear
        m_sieve.emplace(step, low, high);
        rebuild();
    }
    bool isOutdated() const { return m_made != outer(); }
    /// What tells quickly that lines are clear, by the areas at the best margin so far. Until it is made again, it is
    /// of larger ones, and tells it of fewer lines.
    void rebuild()
    {
        if (m_sieve)
            m_sieve->setAreas(m_atBest);
        else
            m_clear.emplace(m_atBest);
        m_made = outer();
        m_looks = 0;
    }
    /// A line between two samples; `lone`: there is none before, and both ends are the same.
    void line(MaskPoint a, MaskPoint b, bool lone, std::int64_t index)
    {
        const double first = std::ceil(std::min(a.x, b.x) - m_right), last = std::floor(std::max(a.x, b.x) - m_left);
        if (!(first <= last)) return;
        for (auto n = std::int64_t(first); n <= std::int64_t(last); ++n) {
            if (n < m_unitIntervals.first || n >= m_unitIntervals.last) continue;
            place({a.x - double(n), a.y}, {b.x - double(n), b.y}, lone, n, index);
        }
    }
    void setBest(double margin)
    {
        m_best = margin;
        m_atBest.clear();
        for (const MovableArea &area : m_areas) m_atBest.push_back(area.at(outer()));
        m_left = HUGE_VAL;
        m_right = -HUGE_VAL;
        for (const MaskShape &shape : m_atBest) { // a little wider, for rounding
            constexpr double some = 1e-6;
            m_left = std::min(m_left, shape.left() - some);
            m_right = std::max(m_right, shape.right() + some);
        }
    }
    static bool meets(const MaskShape &shape, MaskPoint start, MaskPoint end, bool lone)
    {
        return lone ? shape.contains(end) : shape.touches(start, end);
    }
    /// The largest margin at which the line still passes area i, of a grid of steps of 2^-20 from -1 to 1, so that it
    /// is the same whatever is known before; `failing` is known to fail.
    double passingMargin(MaskPoint start, MaskPoint end, bool lone, std::size_t i, double failing) const
    {
        double low = -1, high = 1;
        if (meets(m_areas[i].at(low), start, end, lone)) return low;
        constexpr int halvings = 21;
        for (int step = 0; step < halvings; ++step) {
            const double middle = (low + high) / 2;
            (middle >= failing || meets(m_areas[i].at(middle), start, end, lone) ? high : low) = middle;
        }
        return low;
    }
    /// How far the rule's margin would have to shrink for the line to pass, in steps of 1/64 of the way to the middle:
    /// cheap, since an eye that smears has a hit in every unit interval.
    double depthOf(MaskPoint start, MaskPoint end, bool lone, std::size_t i)
    {
        if (m_ladder.empty()) climb();
        int failing = 0, passing = int(m_ladder[i].size());
        while (passing - failing > 1) {
            const int middle = (failing + passing) / 2;
            (meets(m_ladder[i][std::size_t(middle)], start, end, lone) ? failing : passing) = middle;
        }
        return failing * depthStep(rungs);
    }
    void climb()
    {
        for (const MovableArea &area : m_areas) {
            auto &ladder = m_ladder.emplace_back();
            for (int rung = 0; rung <= rungs; ++rung)
                ladder.push_back(area.at(m_rule.margin - rung * depthStep(rungs)));
        }
    }
    double outer() const { return std::max(m_best, m_rule.margin); } ///< of both margins
    double depthStep(int steps) const { return (1 + m_rule.margin) / steps; }
    void place(MaskPoint start, MaskPoint end, bool lone, std::int64_t n, std::int64_t index)
    {
        for (std::size_t i = 0; i < m_areas.size(); ++i) place(start, end, lone, i, n, index);
    }
    void place(MaskPoint start, MaskPoint end, bool lone, std::size_t i, std::int64_t n, std::int64_t index)
    {
        if (!meets(m_atBest[i], start, end, lone)) return;
        const bool lowers = m_best > -1 && (outer() == m_best || meets(m_areas[i].at(m_best), start, end, lone));
        if (meets(m_atRule[i], start, end, lone)) hit(start, end, lone, i, n, index);
        if (!lowers) return;
        setBest(passingMargin(start, end, lone, i, m_best));
        m_known.lower(m_best);
    }
    void hit(MaskPoint start, MaskPoint end, bool lone, std::size_t i, std::int64_t n, std::int64_t index)
    {
        const bool inside = m_atRule[i].contains(end), wasInside = !lone && m_atRule[i].contains(start);
        if (!inside && wasInside) return; // the sample before was the hit
        ++m_result.hits;
        ++m_result.areaHits[i];
        const double depth = depthOf(start, end, lone, i), time = m_axis.timeOf(double(index));
        auto &failures = m_result.failures;
        const auto known =
            std::find_if(failures.rbegin(), failures.rend(), [&](const MaskFailure &f) { return f.unitInterval <= n; });
        if (known == failures.rend() || known->unitInterval != n) {
            failures.insert(known.base(), MaskFailure{time, n, depth, time, int(i), end.x, end.y});
        } else if (depth > known->deepest) {
            known->deepest = depth;
            known->worstTime = time;
            known->area = int(i);
            known->phase = end.x;
            known->value = end.y;
        }
    }

    const std::vector<MovableArea> &m_areas;
    const MaskRule &m_rule;
    const TimeAxis m_axis;
    KnownSoFar &m_known;
    MaskResult &m_result;
    static constexpr int rungs = 64;
    std::vector<MaskShape> m_atRule, m_atBest;
    std::vector<std::vector<MaskShape>>
        m_ladder;                     ///< per area, from the rule's margin down to the middle; once there is a hit
    std::optional<ClearGrid> m_clear; ///< where there is no sieve
    static constexpr int looksBefore = 1000; ///< that cost about as much as making those anew
    int m_looks = 0;                         ///< at lines, since that was made
    double m_best = 1;
    double m_left = 0, m_right = 0; ///< between which areas lie, UI from where their unit interval begins
    std::optional<LineSieve> m_sieve;
    double m_made; ///< the margin of the areas that what is clear was made by
    SampleRange m_unitIntervals;
    MaskPoint m_before{0, NAN}; ///< the sample before those that come
};

} // namespace

static std::vector<MovableArea> areasOf(const MaskDefinition &mask, const MaskRule &rule)
{
    std::vector<MovableArea> areas;
    for (const MaskArea &area : mask.areas) areas.emplace_back(area, mask, rule.zero, rule.one);
    return areas;
}

namespace {

/// Tests ranges one after another by `test(range, result)`, which adds to it. Where failures end it, in pieces, each
/// twice as long as the one before, and then once more up to the failure that did.
template <typename Test>
MaskResult testInTurn(const std::vector<SampleRange> &ranges, std::int64_t piece, std::int64_t stopAt, Test &&test)
{
    MaskResult all;
    for (const SampleRange &range : ranges) {
        for (std::int64_t first = range.first; first < range.last;) {
            const std::int64_t last = stopAt > 0 ? std::min(range.last, first + piece) : range.last;
            test(SampleRange{first, last}, all);
            first = last;
            piece *= 2;
            if (stopAt == 0 || all.failedUnitIntervals < stopAt) continue;
            std::vector<std::int64_t> failed;
            for (const MaskFailure &failure : all.failures) failed.push_back(failure.unitInterval);
            std::sort(failed.begin(), failed.end());
            const std::int64_t end = failed[std::size_t(stopAt - 1)] + 1;
            std::vector<SampleRange> tested;
            for (const SampleRange &one : ranges)
                if (one.first < end) tested.push_back({one.first, std::min(one.last, end)});
            MaskResult upTo = testInTurn(tested, piece, 0, test);
            upTo.stopped = true;
            return upTo;
        }
    }
    return all;
}

constexpr std::int64_t chunksAtFirst = 16;
constexpr std::int64_t shareAhead = 16; ///< of a chunk, tested ahead of all for what it tells them of the margin

} // namespace

MaskResult runMask(const SourcePtr &original, const UnitIntervalMap &map, const MaskDefinition &mask,
                   const MaskRule &rule, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    const std::vector<MovableArea> areas = areasOf(mask, rule);
    std::int64_t reach = 1;
    for (const MovableArea &area : areas) {
        const MaskShape shape = area.at(rule.margin);
        reach = std::max({reach, std::int64_t(std::ceil(-shape.left())), std::int64_t(std::ceil(shape.right() - 1))});
    }
    const double step = 1 / (map.period() * rule.interpolation);
    // So many unit intervals at a time fit a core's cache.
    const bool fewEnough = map.period() * rule.interpolation <= PhasedSamples::longest;
    const std::int64_t together = std::max<std::int64_t>(16, std::int64_t(16384 * step));
    tbb::enumerable_thread_specific<PhasedSamples> own;
    // A chunk owns unit intervals and looks farther on either side, as far as areas reach over the crossings.
    const auto work = [&](KnownSoFar &known, SampleRange mine, MaskResult &part, bool ahead) {
        part.unitIntervals = mine.size();
        Tester tester(areas, rule, source->axis(), known, part);
        UnitIntervalWalk walk(*source, map, rule.interpolation, progress);
        PhasedSamples &at = own.local();
        for (const SampleRange &some : chunksOf(mine, together)) {
            tester.only(some);
            if (fewEnough && at.load(*source, map, rule.interpolation, some, reach)) {
                tester.samples(at, map, rule.interpolation, step);
                source->release(at.ofSource());
                continue;
            }
            walk.samples(walk.between(double(some.first - reach), double(some.last + reach)),
                         [&](std::int64_t first, std::span<const double> values, std::span<const double> ui) {
                             tester.samples(first, values, ui, step);
                         });
        }
        tester.finish();
        if (ahead) tester.handSieveOn();
    };
    const std::int64_t chunk = unitIntervalsAChunk(map, rule.interpolation);
    MaskResult all = testInTurn(
        map.running({rule.first, rule.last}), chunksAtFirst * chunk, rule.stopAt,
        [&](SampleRange range, MaskResult &sum) {
            KnownSoFar known; // of these alone: what lies behind may not count
            MaskResult some;
            work(known, {range.first, std::min(range.last, range.first + chunk / shareAhead)}, some, true);
            sum.merge(inChunksMerged<MaskResult>(
                range, chunk, progress, [&](SampleRange mine, MaskResult &part) { work(known, mine, part, false); }));
        });
    all.areaHits.resize(areas.size());
    return all;
}

MaskResult runTemplate(const SourcePtr &source, std::span<const double> edges, const MaskDefinition &mask,
                       const MaskRule &rule, Progress &progress)
{
    const std::vector<MovableArea> areas = areasOf(mask, rule);
    double left = 0, right = 0;
    for (const MovableArea &area : areas) { // as far as the margin that is looked for may take them
        for (const double margin : {rule.margin, 1.0}) {
            left = std::min(left, area.at(margin).left());
            right = std::max(right, area.at(margin).right());
        }
    }
    const TimeAxis &axis = source->axis();
    constexpr std::int64_t perChunk = 256;
    const auto work = [&](KnownSoFar &known, SampleRange mine, MaskResult &part) {
        part.unitIntervals = mine.size();
        Tester tester(areas, rule, axis, known, part);
        for (std::int64_t n = mine.first; n < mine.last; ++n) {
            // A clock of a second from the edge on, so that its phases are seconds.
            const UnitIntervalMap seconds(axis, edges[std::size_t(n)], 1 / axis.interval);
            const double first = double(seconds.lineNumber());
            UnitIntervalWalk walk(*source, seconds, 1, progress);
            SampleRange range = walk.between(left - first, right - first);
            // The lines that enter and leave it.
            range = {std::max<std::int64_t>(0, range.first - 1), std::min(axis.count, range.last + 1)};
            walk.lines(range, [&](EyePoint a, EyePoint b, bool lone, std::int64_t index) {
                tester.lineIn(n, {a.x + first, a.y}, {b.x + first, b.y}, lone, index);
            });
        }
        tester.finish();
    };
    MaskResult all = testInTurn(
        {{0, std::int64_t(edges.size())}}, chunksAtFirst * perChunk, rule.stopAt,
        [&](SampleRange range, MaskResult &sum) {
            KnownSoFar known;
            sum.merge(inChunksMerged<MaskResult>(range, perChunk, progress,
                                                 [&](SampleRange mine, MaskResult &part) { work(known, mine, part); }));
        });
    all.areaHits.resize(areas.size());
    return all;
}

} // namespace fulvex
