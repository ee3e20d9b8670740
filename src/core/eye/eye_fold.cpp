#include "eye_fold.h"

#include "fold_kernels.h"
#include "parallel.h"
#include "resampled_source.h"

#include <algorithm>
#include <bit>
#include <cassert>
#include <cmath>
#include <limits>
#include <tbb/enumerable_thread_specific.h>

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

void EyeFold::merge(const EyeFold &later)
{
    if (picture.counts.empty()) {
        *this = later;
        return;
    }
    for (std::size_t i = 0; i < later.picture.counts.size(); ++i) picture.counts[i] += later.picture.counts[i];
    unitIntervals += later.unitIntervals;
    samples += later.samples;
    one.merge(later.one);
    zero.merge(later.zero);
    rising.merge(later.rising);
    falling.merge(later.falling);
}

double EyeFold::crossing() const
{
    // The difference of the mean traces, at the phases where both are known, changes sign at the crossing.
    constexpr double nan = std::numeric_limits<double>::quiet_NaN();
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
    return samplesPerUnitInterval < 8 ? int(std::ceil(16 / std::max(samplesPerUnitInterval, 0.5))) : 1;
}

namespace {

Moments momentsOf(const LaneSums &sums, double origin)
{
    double count = 0, sum = 0, squares = 0;
    for (std::size_t lane = 0; lane < LaneSums::lanes; ++lane) {
        count += sums.count[lane];
        sum += sums.sum[lane];
        squares += sums.squares[lane];
    }
    if (count == 0) return {};
    const double mean = sum / count;
    return {count, origin + mean, std::max(0.0, squares - count * mean * mean), 0, 0};
}

/// A stretch of the record that stays in a core's cache: its samples and the clock's boundaries in it, with a margin of
/// two unit intervals to either side. Between boundaries the clock is a straight line. Kept by a core from stretch to
/// stretch for its buffers.
class Stretch {
public:
    void load(const SampleSource &source, const Clock &clock, int interpolation, SampleRange unitIntervals)
    {
        constexpr std::int64_t margin = 2;
        m_own = margin;
        m_count = std::size_t(unitIntervals.size());
        const std::size_t boundaries = m_count + 2 * margin + 1;
        m_boundaries.resize(boundaries + FoldInput::padding);
        const std::span positions(m_boundaries.data(), boundaries);
        clock.positionsOf(double(unitIntervals.first - margin), positions);
        for (double &position : positions) position *= interpolation;
        const auto within = [&](double position) {
            return position > 0 ? std::int64_t(std::min(std::ceil(position), double(source.axis().count))) : 0;
        };
        m_first = within(positions.front());
        m_samples = std::size_t(std::max<std::int64_t>(0, within(positions.back()) - m_first));
        m_volts.resize(m_samples + FoldInput::padding);
        if (m_samples) source.read(m_first, std::span(m_volts.data(), m_samples));
        std::fill_n(m_volts.begin() + std::ptrdiff_t(m_samples), FoldInput::padding,
                    std::numeric_limits<double>::quiet_NaN());

        m_slopes.resize(boundaries - 1);
        for (double &position : positions) position -= double(m_first);
        for (std::size_t n = 0; n + 1 < boundaries; ++n) m_slopes[n] = 1 / (positions[n + 1] - positions[n]);
        m_starts.resize(boundaries);
        std::int32_t start = 0; // never steps back, whatever the clock does
        for (std::size_t n = 0; n < boundaries; ++n) {
            const double first = std::min(std::ceil(positions[n]), double(m_samples));
            m_starts[n] = start = first > start ? std::int32_t(first) : start;
        }
    }
    void decide(double threshold)
    {
        const std::size_t count = m_slopes.size();
        m_symbols.resize(count / 64 + 1);
        decideSymbols(input(), threshold, m_symbols);
        m_rises.clear();
        m_falls.clear();
        SymbolBits before{0, 1}; // the unit interval before the first one: unknown
        for (std::size_t word = 0; word < m_symbols.size(); ++word) {
            const SymbolBits now = m_symbols[word];
            const std::uint64_t wasOne = now.ones << 1 | before.ones, wasUnknown = now.unknowns << 1 | before.unknowns;
            const std::uint64_t known = ~(now.unknowns | wasUnknown) & ownBits(word);
            appendBits(now.ones & ~wasOne & known, word, m_rises);
            appendBits(~now.ones & wasOne & known, word, m_falls);
            before = {now.ones >> 63, now.unknowns >> 63};
        }
    }
    FoldInput input() const { return {m_volts.data(), m_boundaries, m_starts, m_slopes, m_symbols, m_samples}; }
    std::size_t firstOwn() const { return m_own; } ///< unit intervals behind the margin
    std::size_t lastOwn() const { return m_own + m_count; }
    /// Samples of the record in the unit intervals that are not margin.
    SampleRange samples() const { return {m_first + m_starts[firstOwn()], m_first + m_starts[lastOwn()]}; }

    /// Puts every sample into its cell's count, and the middle fifths into the sums.
    void count(const FoldGrid &grid, double origin, std::uint32_t *counts, LaneSums *sums)
    {
        m_cells.resize(std::size_t(samples().size()) + FoldInput::padding);
        foldUnitIntervals(input(), firstOwn(), lastOwn(), grid, origin, m_cells.data(), sums);
        const std::span cells(m_cells.data(), std::size_t(samples().size()));
        for (const std::int32_t cell : cells) ++counts[cell];
    }
    void addTransitions(EyeFold &fold)
    {
        addTo(fold.rising, m_rises);
        addTo(fold.falling, m_falls);
    }

private:
    /// Which of a word's unit intervals are not margin.
    std::uint64_t ownBits(std::size_t word) const
    {
        const auto below = [&](std::size_t n) { // bits of the word below unit interval n
            return n <= word * 64 ? 0 : n >= word * 64 + 64 ? ~std::uint64_t(0) : (std::uint64_t(1) << (n % 64)) - 1;
        };
        return below(lastOwn()) & ~below(firstOwn());
    }
    static void appendBits(std::uint64_t bits, std::size_t word, std::vector<std::uint32_t> &list)
    {
        for (; bits; bits &= bits - 1) list.push_back(std::uint32_t(word * 64) + std::uint32_t(std::countr_zero(bits)));
    }
    void addTo(EyeFold::Trace &trace, std::span<const std::uint32_t> transitions)
    {
        m_near.phases.resize(m_samples + FoldInput::padding);
        m_near.volts.resize(m_samples + FoldInput::padding);
        m_near.count = 0;
        constexpr double reach = EyeFold::Trace::reach, scale = EyeFold::Trace::size / (2 * reach);
        appendTransitions(input(), transitions, reach, m_near);
        for (std::size_t i = 0; i < m_near.count; ++i) {
            const double phase = m_near.phases[i];
            EyeFold::Trace::Bin &bin =
                trace.bins[std::size_t(std::clamp(int((phase + reach) * scale), 0, EyeFold::Trace::size - 1))];
            bin.count += 1;
            bin.phase += phase;
            bin.value += m_near.volts[i];
        }
    }

    std::size_t m_own = 0, m_count = 0, m_samples = 0;
    std::int64_t m_first = 0;
    std::vector<double> m_boundaries, m_slopes, m_volts;
    std::vector<std::int32_t> m_starts, m_cells;
    std::vector<SymbolBits> m_symbols;
    std::vector<std::uint32_t> m_rises, m_falls; ///< boundaries
    TransitionSamples m_near;
};

} // namespace

EyeFold foldEye(const SourcePtr &original, const Clock &clock, const EyeRule &rule, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    EyeFold empty;
    empty.picture.low = rule.low;
    empty.picture.high = rule.high;
    empty.picture.counts.resize(std::size_t(empty.picture.columns) * std::size_t(empty.picture.rows));
    empty.interpolation = rule.interpolation;
    empty.samplesPerUnitInterval = clock.period();

    // Counts are whole numbers, so each core may keep its own whatever it works on; moments are kept by chunk, in
    // order. 32 bits hold 4 billion samples a cell and core, and half as many lines of the cache.
    assert(source->axis().count < std::int64_t(1) << 32);
    struct Own {
        std::vector<std::uint32_t> counts;
        Stretch stretch;
    };
    const EyeCounts &shape = empty.picture;
    tbb::enumerable_thread_specific<Own> owns([&] {
        return Own{std::vector<std::uint32_t>(shape.counts.size() + 1), {}}; // the last for gaps
    });
    const FoldGrid grid{shape.low, shape.rows / (shape.high - shape.low), shape.columns, shape.rows};
    const auto perChunk = std::max<std::int64_t>(16, std::int64_t(16384 / (clock.period() * rule.interpolation)));
    const auto parts =
        inChunks<EyeFold>({rule.first, rule.last}, perChunk, progress, [&](SampleRange mine, EyeFold &part) {
            Own &own = owns.local();
            Stretch &stretch = own.stretch;
            stretch.load(*source, clock, rule.interpolation, mine);
            stretch.decide(rule.threshold);
            const SampleRange range = stretch.samples();
            part.unitIntervals = mine.size();
            part.samples = (range.last + rule.interpolation - 1) / rule.interpolation -
                           (range.first + rule.interpolation - 1) / rule.interpolation;
            LaneSums sums[3]; // of zeros, ones and unknown symbols
            stretch.count(grid, rule.threshold, own.counts.data(), sums);
            part.zero = momentsOf(sums[0], rule.threshold);
            part.one = momentsOf(sums[1], rule.threshold);
            stretch.addTransitions(part);
            source->release(range);
        });
    EyeFold all = empty;
    for (const EyeFold &part : parts) all.merge(part);
    for (const Own &own : owns) {
        for (std::size_t i = 0; i < all.picture.counts.size(); ++i) all.picture.counts[i] += own.counts[i];
    }
    return all;
}

} // namespace fulvex
