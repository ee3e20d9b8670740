#include "eye_fold.h"

#include "parallel.h"
#include "resampled_source.h"

#include <algorithm>
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

static void addAll(std::vector<double> &sums, const std::vector<double> &more)
{
    for (std::size_t i = 0; i < sums.size(); ++i) sums[i] += more[i];
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
    for (auto [mine, theirs] : {std::pair(&rising, &later.rising), std::pair(&falling, &later.falling)}) {
        addAll(mine->count, theirs->count);
        addAll(mine->phase, theirs->phase);
        addAll(mine->value, theirs->value);
    }
}

double EyeFold::crossing() const
{
    // The difference of the mean traces, at the phases where both are known, changes sign at the crossing.
    constexpr double nan = std::numeric_limits<double>::quiet_NaN();
    const auto valueAt = [](const Trace &trace, double phase) {
        double before = -1, beforeValue = 0;
        bool seen = false;
        for (std::size_t bin = 0; bin < Trace::bins; ++bin) {
            if (trace.count[bin] == 0) continue;
            const double at = trace.phase[bin] / trace.count[bin], value = trace.value[bin] / trace.count[bin];
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
    for (std::size_t bin = 0; bin < Trace::bins; ++bin) {
        if (rising.count[bin] == 0) continue;
        const double phase = rising.phase[bin] / rising.count[bin];
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

/// Count, sum and sum of squares of values that an origin was taken off, so that the squares keep their digits.
struct Sums {
    double count = 0, sum = 0, squares = 0;
    void add(double v)
    {
        ++count;
        sum += v;
        squares += v * v;
    }
    Moments moments(double origin) const
    {
        if (count == 0) return {};
        const double mean = sum / count;
        return {count, origin + mean, std::max(0.0, squares - count * mean * mean), 0, 0};
    }
};

/// Cell of every sample in the counts; a gap gets the cell behind the last one. Plain enough for the compiler to use
/// the widest vectors there are.
__attribute__((target_clones("avx512f", "avx2", "default"))) void cellsOf(const double *phases, const double *volts,
                                                                          std::size_t count, double low,
                                                                          double rowScale, int columns, int rows,
                                                                          std::int32_t *cells)
{
    const double lastRow = rows - 1, lastColumn = columns - 1;
    const std::int32_t nowhere = rows * columns;
    for (std::size_t i = 0; i < count; ++i) {
        double row = (volts[i] - low) * rowScale;
        row = row > 0 ? row : 0; // also where it is not a number
        row = row < lastRow ? row : lastRow;
        double column = phases[i] * columns;
        column = column > 0 ? column : 0;
        column = column < lastColumn ? column : lastColumn;
        const std::int32_t cell = std::int32_t(row) * columns + std::int32_t(column);
        cells[i] = volts[i] == volts[i] ? cell : nowhere;
    }
}

/// A stretch of the record that stays in a core's cache: its samples and the clock's boundaries in it, with a margin of
/// one unit interval and a half to either side. Between boundaries the clock is a straight line.
class Stretch {
public:
    Stretch(const SampleSource &source, const Clock &clock, double scale, SampleRange unitIntervals)
        : m_firstUi(unitIntervals.first - 2), m_boundaries(std::size_t(unitIntervals.size() + 5))
    {
        clock.positionsOf(double(m_firstUi), m_boundaries);
        for (double &boundary : m_boundaries) boundary /= scale;
        const auto within = [&](double position) {
            return std::clamp<std::int64_t>(std::int64_t(std::ceil(position)), 0, source.axis().count);
        };
        m_first = within(m_boundaries.front());
        m_volts.resize(std::size_t(within(m_boundaries.back()) - m_first));
        if (!m_volts.empty()) source.read(m_first, m_volts);
    }
    double boundary(std::int64_t n) const { return m_boundaries[std::size_t(n - m_firstUi)]; }
    /// Samples first <= i < last at positions from <= i < to, as far as there are any.
    SampleRange samples(double from, double to) const
    {
        const std::int64_t end = m_first + std::int64_t(m_volts.size());
        return {std::clamp<std::int64_t>(std::int64_t(std::ceil(from)), m_first, end),
                std::clamp<std::int64_t>(std::int64_t(std::ceil(to)), m_first, end)};
    }
    double at(std::int64_t sample) const { return m_volts[std::size_t(sample - m_first)]; }
    const double *data(std::int64_t sample) const { return m_volts.data() + (sample - m_first); }
    /// The symbol in a unit interval by the value at its middle: 1, 0, or -1 where nothing is known.
    int decision(std::int64_t n, double threshold) const
    {
        const double middle = (boundary(n) + boundary(n + 1)) / 2;
        const auto left = std::int64_t(std::floor(middle));
        if (left < m_first || left + 1 >= m_first + std::int64_t(m_volts.size())) return -1;
        const double v = at(left), value = v + (at(left + 1) - v) * (middle - double(left));
        return value == value ? value >= threshold : -1;
    }

private:
    std::int64_t m_firstUi, m_first = 0;
    std::vector<double> m_boundaries, m_volts;
};

void addTrace(const Stretch &stretch, std::int64_t n, bool rising, EyeFold &part)
{
    constexpr double reach = EyeFold::Trace::reach, scale = EyeFold::Trace::bins / (2 * reach);
    EyeFold::Trace &trace = rising ? part.rising : part.falling;
    const double at = stretch.boundary(n), before = at - stretch.boundary(n - 1), after = stretch.boundary(n + 1) - at;
    const SampleRange samples = stretch.samples(at - reach * before, at + reach * after);
    for (std::int64_t i = samples.first; i < samples.last; ++i) {
        const double v = stretch.at(i), distance = double(i) - at, off = distance / (distance < 0 ? before : after);
        if (!(v == v)) continue;
        const auto bin = std::size_t(std::clamp(int((off + reach) * scale), 0, EyeFold::Trace::bins - 1));
        trace.count[bin] += 1;
        trace.phase[bin] += off;
        trace.value[bin] += v;
    }
}

/// Levels in the middle fifths and mean traces about the boundaries.
void addMoments(const Stretch &stretch, SampleRange unitIntervals, double threshold, EyeFold &part)
{
    Sums sums[2];
    int before = stretch.decision(unitIntervals.first - 1, threshold);
    for (std::int64_t n = unitIntervals.first; n < unitIntervals.last; ++n) {
        const int symbol = stretch.decision(n, threshold);
        if (symbol >= 0) {
            const double from = stretch.boundary(n), width = stretch.boundary(n + 1) - from;
            const SampleRange middle = stretch.samples(from + 0.4 * width, from + 0.6 * width);
            for (std::int64_t i = middle.first; i < middle.last; ++i) {
                const double v = stretch.at(i);
                if (v == v) sums[symbol].add(v - threshold);
            }
        }
        if (before + symbol == 1 && before >= 0 && symbol >= 0) addTrace(stretch, n, symbol, part);
        before = symbol;
    }
    part.zero = sums[0].moments(threshold);
    part.one = sums[1].moments(threshold);
}

} // namespace

EyeFold foldEye(const SourcePtr &original, const Clock &clock, const EyeRule &rule, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    const double scale = 1.0 / rule.interpolation; // clock positions per folded point
    EyeFold empty;
    empty.picture.low = rule.low;
    empty.picture.high = rule.high;
    empty.picture.counts.resize(std::size_t(empty.picture.columns) * std::size_t(empty.picture.rows));
    empty.interpolation = rule.interpolation;
    empty.samplesPerUnitInterval = clock.period();

    // Counts are whole numbers, so each core may keep its own whatever it works on; moments are kept by chunk, in
    // order. 32 bits hold 4 billion samples a cell and core, and half as many lines of the cache.
    assert(source->axis().count < std::int64_t(1) << 32);
    tbb::enumerable_thread_specific<std::vector<std::uint32_t>> counts(
        [&] { return std::vector<std::uint32_t>(empty.picture.counts.size() + 1); });
    const EyeCounts &shape = empty.picture;
    const auto perChunk = std::max<std::int64_t>(16, std::int64_t(32768 * scale / clock.period()));
    const auto parts =
        inChunks<EyeFold>({rule.first, rule.last}, perChunk, progress, [&](SampleRange mine, EyeFold &part) {
            const Stretch stretch(*source, clock, scale, mine);
            part.unitIntervals = mine.size();
            const SampleRange range = stretch.samples(stretch.boundary(mine.first), stretch.boundary(mine.last));
            part.samples = (range.last + rule.interpolation - 1) / rule.interpolation -
                           (range.first + rule.interpolation - 1) / rule.interpolation;
            std::vector<double> phases(std::size_t(range.size()));
            for (std::int64_t n = mine.first; n < mine.last; ++n) {
                const double from = stretch.boundary(n), slope = 1 / (stretch.boundary(n + 1) - from);
                const SampleRange samples = stretch.samples(from, stretch.boundary(n + 1));
                for (std::int64_t i = samples.first; i < samples.last; ++i)
                    phases[std::size_t(i - range.first)] = (double(i) - from) * slope;
            }
            std::vector<std::int32_t> cells(phases.size());
            cellsOf(phases.data(), stretch.data(range.first), phases.size(), shape.low,
                    shape.rows / (shape.high - shape.low), shape.columns, shape.rows, cells.data());
            std::uint32_t *own = counts.local().data();
            for (const std::int32_t cell : cells) ++own[cell];
            addMoments(stretch, mine, rule.threshold, part);
            source->release(range);
        });
    EyeFold all = empty;
    for (const EyeFold &part : parts) all.merge(part);
    for (const auto &own : counts) {
        for (std::size_t i = 0; i < all.picture.counts.size(); ++i) all.picture.counts[i] += own[i];
    }
    return all;
}

} // namespace fulvex
