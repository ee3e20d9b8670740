#include "eye_fold.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "parallel.h"
#include "resampled_source.h"
#include "sample_window.h"

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
            if (at >= phase) return seen ? beforeValue + (value - beforeValue) * (phase - before) / (at - before) : at == phase ? value : nan;
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

/// Decisions of unit intervals first - 1 … last, from the value at their middles.
class Decisions {
public:
    Decisions(SampleWindow &window, const Clock &clock, double positionsPerSample, std::int64_t first, std::int64_t last, double threshold)
        : m_first(first - 1), m_ones(std::size_t(last - first + 2), -1)
    {
        for (std::int64_t n = first - 1; n <= last; ++n) {
            const double at = clock.positionOf(double(n) + 0.5) / positionsPerSample;
            const auto left = std::int64_t(std::floor(at));
            if (left < 0 || left + 1 >= window.count()) continue;
            const double v = window.at(left), w = window.at(left + 1), middle = v + (w - v) * (at - double(left));
            if (middle == middle) m_ones[std::size_t(n - m_first)] = middle >= threshold;
        }
    }
    int operator[](std::int64_t n) const
    {
        const std::int64_t i = n - m_first;
        return i >= 0 && i < std::int64_t(m_ones.size()) ? m_ones[std::size_t(i)] : -1;
    }

private:
    std::int64_t m_first;
    std::vector<signed char> m_ones;
};

struct Sums {
    double count = 0, sum = 0, squares = 0, min = std::numeric_limits<double>::infinity(), max = -min;
    void add(double v)
    {
        ++count;
        sum += v;
        squares += v * v;
        min = v < min ? v : min;
        max = v > max ? v : max;
    }
    /// `origin` was taken off every value, so that the squares keep their digits.
    Moments moments(double origin) const
    {
        if (count == 0) return {};
        const double mean = sum / count;
        return {count, origin + mean, std::max(0.0, squares - count * mean * mean), origin + min, origin + max};
    }
};

void addToTrace(EyeFold::Trace &trace, double phase, double value)
{
    const auto bin = std::size_t(std::clamp(int((phase + 0.5) * EyeFold::Trace::bins), 0, EyeFold::Trace::bins - 1));
    trace.count[bin] += 1;
    trace.phase[bin] += phase;
    trace.value[bin] += value;
}

}  // namespace

EyeFold foldEye(const SourcePtr &original, const Clock &clock, const EyeRule &rule, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    const double scale = 1.0 / rule.interpolation;  // clock positions per folded point
    const auto edgeOf = [&](std::int64_t n) {
        return std::clamp<std::int64_t>(std::int64_t(std::ceil(clock.positionOf(double(n)) / scale)), 0, source->axis().count);
    };
    EyeFold empty;
    empty.picture.low = rule.low;
    empty.picture.high = rule.high;
    empty.picture.counts.resize(std::size_t(empty.picture.columns) * std::size_t(empty.picture.rows));
    empty.interpolation = rule.interpolation;
    empty.samplesPerUnitInterval = clock.period();

    const auto perChunk = std::max<std::int64_t>(64, std::int64_t(double(defaultChunk) * scale / clock.period()));
    auto parts = inChunks<EyeFold>({rule.first, rule.last}, perChunk, progress, [&](SampleRange mine, EyeFold &part) {
        part = empty;
        part.unitIntervals = mine.size();
        const SampleRange range{edgeOf(mine.first), edgeOf(mine.last)};
        part.samples = (range.last + rule.interpolation - 1) / rule.interpolation - (range.first + rule.interpolation - 1) / rule.interpolation;
        SampleWindow window(*source);
        const Decisions ones(window, clock, scale, mine.first, mine.last, rule.threshold);
        const EyeCounts &shape = empty.picture;
        const double rowScale = shape.rows / (shape.high - shape.low);
        std::uint64_t *counts = part.picture.counts.data();
        Sums one, zero;
        forBlocks(*source, range, [&](std::int64_t first, std::span<const double> volts) {
            forPhases(clock, scale, first, first + std::int64_t(volts.size()), [&](std::int64_t k, double ui) {
                const double v = volts[std::size_t(k - first)];
                if (!(v == v)) return;
                const double whole = std::floor(ui), phase = ui - whole;
                const int column = std::min(int(phase * shape.columns), shape.columns - 1);
                const int row = int(std::clamp((v - shape.low) * rowScale, 0.0, double(shape.rows - 1)));
                ++counts[row * shape.columns + column];
                const auto n = std::int64_t(whole);
                if (std::abs(phase - 0.5) <= 0.1) {
                    const int decision = ones[n];
                    if (decision >= 0) (decision ? one : zero).add(v - rule.threshold);
                } else {
                    const std::int64_t boundary = phase < 0.5 ? n : n + 1;
                    const int before = ones[boundary - 1], after = ones[boundary];
                    if (before >= 0 && after >= 0 && before != after)
                        addToTrace(after ? part.rising : part.falling, ui - double(boundary), v);
                }
            });
        });
        part.one = one.moments(rule.threshold);
        part.zero = zero.moments(rule.threshold);
    });
    EyeFold all = empty;
    for (EyeFold &part : parts) {
        all.merge(part);
        part = {};
    }
    return all;
}

}  // namespace fulvex
