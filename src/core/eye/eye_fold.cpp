#include "eye_fold.h"

#include "eye_curves.h"
#include "fold_stretch.h"
#include "jackknife.h"
#include "lent_zeros.h"
#include "parallel.h"
#include "resampled_source.h"
#include "sample_window.h"
#include "symbol_levels.h"
#include "unit_interval_walk.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <limits>
#include <tbb/enumerable_thread_specific.h>
#include <utility>

namespace fulvex {

void Moments::add(double value)
{
    min = count == 0 ? value : std::min(min, value);
    max = count == 0 ? value : std::max(max, value);
    ++count;
    const double step = value - mean;
    mean += step / count;
    squares += step * (value - mean);
}

void Moments::merge(const Moments &later)
{
    if (later.count == 0) return;
    if (count == 0) {
        *this = later;
        return;
    }
    min = std::min(min, later.min);
    max = std::max(max, later.max);
    const double all = count + later.count, step = later.mean - mean;
    squares += later.squares + step * step * count * later.count / all;
    mean += step * later.count / all;
    count = all;
}

double Moments::std() const
{
    return count > 1 ? std::sqrt(squares / (count - 1)) : 0;
}

void EyeFold::Trace::merge(const Trace &later)
{
    for (std::size_t i = 0; i < bins.size(); ++i) {
        bins[i].count += later.bins[i].count;
        bins[i].phase += later.bins[i].phase;
        bins[i].value += later.bins[i].value;
    }
}

const Moments &EyeFold::Part::level(std::size_t symbol) const
{
    static const Moments none;
    return symbol < levels.size() ? levels[symbol] : none;
}

void EyeFold::Part::merge(const Part &later)
{
    if (later.levels.empty()) return;
    if (levels.empty()) {
        *this = later;
        return;
    }
    assert(levels.size() == later.levels.size());
    for (std::size_t i = 0; i < levels.size(); ++i) levels[i].merge(later.levels[i]);
    for (std::size_t i = 0; i < traces.size(); ++i) traces[i].merge(later.traces[i]);
}

EyeFold EyeFold::merged(const std::vector<const EyeFold *> &folds, Room room)
{
    EyeFold all;
    std::vector<const EyeCounts *> pictures, curves;
    for (const EyeFold *fold : folds) {
        curves.push_back(&fold->curves.counts);
        all.curves.unitIntervals += fold->curves.unitIntervals;
        pictures.push_back(&fold->picture);
        all.unitIntervals += fold->unitIntervals;
        all.samples += fold->samples;
        all.interpolation = std::max(all.interpolation, fold->interpolation);
        all.samplesPerUnitInterval = all.parts.empty()
                                         ? fold->samplesPerUnitInterval
                                         : std::min(all.samplesPerUnitInterval, fold->samplesPerUnitInterval);
        all.parts.insert(all.parts.end(), fold->parts.begin(), fold->parts.end());
        all.stretches.insert(all.stretches.end(), fold->stretches.begin(), fold->stretches.end());
    }
    all.picture = EyeCounts::merged(pictures, room);
    all.curves.counts = EyeCounts::merged(curves, room);
    const auto before = [](const Part &a, const Part &b) { return (a <=> b) < 0; };
    std::sort(all.parts.begin(), all.parts.end(), before);
    std::sort(all.stretches.begin(), all.stretches.end(), before);
    for (const Part &part : all.parts) all.sum.merge(part);
    if (all.parts.size() >= manyRecords) all.stretches = all.parts;
    return all;
}

void EyeFold::merge(const EyeFold &later)
{
    *this = merged({this, &later});
}

double EyeFold::Part::crossing(std::size_t lower) const
{
    constexpr double nan = std::numeric_limits<double>::quiet_NaN();
    if (lower + 1 >= levels.size()) return nan;
    const Trace &rising = from(lower, lower + 1), &falling = from(lower + 1, lower);

    // The difference of the mean traces, at the phases where both are known, changes sign at the crossing.
    const auto valueAt = [](const Trace &trace, double phase) {
        double before = -1, beforeValue = 0;
        bool seen = false;
        for (const Trace::Bin &bin : trace.bins) {
            if (bin.count == 0) continue;
            const double at = bin.phase / bin.count, value = bin.value / bin.count;
            if (at >= phase)
                return seen          ? beforeValue + (value - beforeValue) * (phase - before) / (at - before)
                       : at == phase ? value
                                     : nan;
            before = at;
            beforeValue = value;
            seen = true;
        }
        return nan;
    };
    double best = nan, bestPhase = 1;
    double lastPhase = 0, lastDifference = nan;
    for (const Trace::Bin &bin : rising.bins) {
        if (bin.count == 0) continue;
        const double phase = bin.phase / bin.count;
        const double difference = valueAt(rising, phase) - valueAt(falling, phase);
        if (lastDifference <= 0 && difference > 0) {
            const double at = lastPhase + (phase - lastPhase) * (0 - lastDifference) / (difference - lastDifference);
            if (std::abs(at) < bestPhase) bestPhase = std::abs(at), best = valueAt(rising, at);
        }
        lastPhase = phase;
        lastDifference = difference;
    }
    return best;
}

int automaticInterpolation(double samplesPerUnitInterval)
{
    // A clock that is found has not quite the rate it was made with, and no point more a sample shall follow from that.
    constexpr double nearly = 15.9;
    return samplesPerUnitInterval < 8 ? int(std::ceil(nearly / std::max(samplesPerUnitInterval, 0.5))) : 1;
}

namespace {

/// What is summed in the order of the record.
struct Folded {
    EyeFold::Part part;
    std::int64_t samples = 0;
    void merge(const Folded &later)
    {
        part.merge(later.part);
        samples += later.samples;
    }
};

/// Samples of the record itself among those of a range of the interpolated one.
std::int64_t ownSamples(SampleRange range, int interpolation)
{
    return (range.last + interpolation - 1) / interpolation - (range.first + interpolation - 1) / interpolation;
}

/// Unit intervals so long that a few of them do not fit a core's cache, or the memory: sample by sample, the same
/// definition. Symbols are decided where a sample needs them.
class SlowFold {
public:
    SlowFold(const SampleSource &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeCounts &grid,
             Progress &progress)
        : m_map(map), m_rule(rule), m_grid(grid), m_window(source, &progress),
          m_walk(source, map, rule.interpolation, progress)
    {
    }
    void fold(SampleRange range, std::uint32_t *counts, Folded &into)
    {
        m_walk.samples(range, [&](std::int64_t, std::span<const double> values, std::span<const double> ui) {
            for (std::size_t i = 0; i < values.size(); ++i) add(ui[i], values[i], counts, into.part);
        });
        into.samples += ownSamples(range, m_rule.interpolation);
    }

private:
    void add(double ui, double v, std::uint32_t *counts, EyeFold::Part &part)
    {
        if (!(v == v)) return;
        const double whole = std::floor(ui), phase = ui - whole;
        const double row = std::floor(std::ldexp(v, -m_grid.rows.exponent)) - double(m_grid.rows.first);
        const auto cell = [](double at, int size) { return std::size_t(std::clamp(at, 0.0, double(size - 1))); };
        ++counts[cell(row, m_grid.rows.count) * std::size_t(m_grid.columns) +
                 cell(phase * m_grid.columns, m_grid.columns)];
        const auto n = std::int64_t(whole);
        if (phase >= 0.4 && phase < 0.6) {
            const std::size_t is = symbolOf(n);
            if (is != unknown()) part.levels[is].add(v);
        }
        constexpr double reach = EyeFold::Trace::reach, scale = EyeFold::Trace::size / (2 * reach);
        const double boundary = std::round(ui), off = ui - boundary;
        if (!(off >= -reach && off < reach)) return;
        const std::size_t before = symbolOf(std::int64_t(boundary) - 1), after = symbolOf(std::int64_t(boundary));
        if (before == unknown() || after == unknown() || before == after) return;
        EyeFold::Trace::Bin &bin =
            part.from(before, after)
                .bins[std::size_t(std::clamp(int((off + reach) * scale), 0, EyeFold::Trace::size - 1))];
        bin.count += 1;
        bin.phase += off;
        bin.value += v;
    }
    std::size_t unknown() const { return m_rule.thresholds.size() + 1; }
    std::size_t symbolOf(std::int64_t n)
    {
        Known &known = m_known[std::size_t(n & 3)];
        if (known.n == n) return known.symbol;
        known.n = n;
        const double middle = m_map.positionOf(double(n) + 0.5) * m_rule.interpolation, left = std::floor(middle);
        known.symbol = unknown();
        if (left < 0 || left + 1 >= double(m_window.count())) return known.symbol;
        const double v = m_window.at(std::int64_t(left)), next = m_window.at(std::int64_t(left) + 1);
        const double value = v + (next - v) * (middle - left);
        if (value == value) known.symbol = fulvex::symbolOf(value, m_rule.thresholds);
        return known.symbol;
    }
    struct Known {
        std::int64_t n = INT64_MIN;
        std::size_t symbol = 0;
    };
    const UnitIntervalMap &m_map;
    const EyeRule &m_rule;
    const EyeCounts &m_grid;
    SampleWindow m_window;
    UnitIntervalWalk m_walk;
    std::array<Known, 4> m_known;
};

} // namespace

EyeFold foldEye(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    EyeFold all;
    all.picture = rule.grid();
    for (const SampleRange &run : map.running({rule.first, rule.last})) all.unitIntervals += run.size();
    all.interpolation = rule.interpolation;
    all.samplesPerUnitInterval = map.period();
    const EyeCounts &picture = all.picture;
    struct Own {
        EyeCounter counts;
        Stretch stretch;
    };
    tbb::enumerable_thread_specific<Own> owns([&] { return Own{EyeCounter(picture), {}}; });
    const std::size_t symbols = rule.thresholds.size() + 1;
    assert(symbols <= mostSymbols && std::is_sorted(rule.thresholds.begin(), rule.thresholds.end()));
    const double origin = rule.thresholds[rule.thresholds.size() / 2]; // sums keep their digits about it
    const double samplesPerUi = map.period() * rule.interpolation;
    const FoldGrid grid{1 / picture.rows.width(), double(picture.rows.first), picture.columns, picture.rows.count};
    const auto foldFew = [&](SampleRange mine, Folded &part) { // that fit a core's cache
        Own &own = owns.local();
        const SampleRange range =
            UnitIntervalWalk(*source, map, rule.interpolation, progress).between(double(mine.first), double(mine.last));
        std::uint32_t *counts = own.counts.expect(range.size());
        if (own.stretch.load(*source, map, rule.interpolation, mine, range, rule.thresholds)) {
            part.samples += ownSamples(range, rule.interpolation);
            own.stretch.fold(grid, origin, counts, part.part);
        } else {
            SlowFold(*source, map, rule, picture, progress).fold(range, counts, part);
        }
        source->release(range);
    };
    const auto foldLong = [&](SampleRange unitIntervals) {
        const SampleRange range = UnitIntervalWalk(*source, map, rule.interpolation, progress)
                                      .between(double(unitIntervals.first), double(unitIntervals.last));
        return inChunksMerged<Folded>(range, defaultChunk, progress, [&](SampleRange mine, Folded &part) {
            part.part = EyeFold::Part(symbols);
            SlowFold(*source, map, rule, picture, progress).fold(mine, owns.local().counts.expect(mine.size()), part);
        });
    };
    constexpr std::int64_t few = 16; // unit intervals of a stretch
    const std::int64_t stretches =
        rule.withStretches ? std::clamp<std::int64_t>(all.unitIntervals / few, 1, jackknifeParts) : 1;
    // All stretches in one loop, so that no core waits at the end of each.
    const auto perChunk = std::max<std::int64_t>(16, std::int64_t(32768 / samplesPerUi));
    std::vector<Folded> ofStretches(static_cast<std::size_t>(stretches));
    std::vector<SampleRange> chunks;
    std::vector<std::size_t> stretchOf;
    for (std::int64_t stretch = 0; stretch < stretches; ++stretch) {
        const auto border = [&](std::int64_t at) { return rule.first + at * (rule.last - rule.first) / stretches; };
        const SampleRange own{border(stretch), border(stretch + 1)};
        if (samplesPerUi > PhasedSamples::longest) {
            for (const SampleRange &run : map.running(own)) ofStretches[std::size_t(stretch)].merge(foldLong(run));
            continue;
        }
        for (const SampleRange &chunk : chunksOf(own, perChunk)) {
            chunks.push_back(chunk);
            stretchOf.push_back(std::size_t(stretch));
        }
    }
    const auto foldChunk = [&](SampleRange mine, Folded &part) {
        part = Folded();
        for (const SampleRange &run : map.running(mine)) {
            if (part.part.levels.empty()) part.part = EyeFold::Part(symbols);
            foldFew(run, part);
        }
    };
    inChunksTaken<Folded>(chunks, progress, foldChunk,
                          [&](Folded &part, std::size_t i) { ofStretches[stretchOf[i]].merge(part); });
    Folded folded;
    for (const Folded &one : ofStretches) {
        if (one.part.levels.empty()) continue; // it pauses
        if (rule.withStretches) all.stretches.push_back(one.part);
        folded.merge(one);
    }
    all.samples = folded.samples;
    if (folded.part.levels.empty()) folded.part = EyeFold::Part(symbols);
    all.parts = {folded.part};
    all.sum = folded.part;
    addUp(all.picture, rule.room, owns, [](Own &own) -> EyeCounter & { return own.counts; });
    if (rule.curves > 0) all.curves = drawCurves(original, map, rule, rule.curves, progress);
    return all;
}

} // namespace fulvex
