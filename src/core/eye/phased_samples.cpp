#include "phased_samples.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fulvex {

bool PhasedSamples::load(const SampleSource &source, const UnitIntervalMap &map, int interpolation,
                         SampleRange unitIntervals, std::int64_t margin)
{
    if (!layClock(map, interpolation, unitIntervals, margin)) return false;
    read(source);
    return true;
}

bool PhasedSamples::layClock(const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
                             std::int64_t margin)
{
    const std::int64_t boundaries = unitIntervals.size() + 2 * margin + 1;
    map.straightsOf({unitIntervals.first - margin, unitIntervals.first - margin + boundaries}, lines);
    if (interpolation > 1) {
        for (double &from : lines.from) from *= interpolation;
        for (double &step : lines.step) step *= interpolation;
    }
    const std::size_t last = lines.size() - 1;
    const double end = lines.from[last] + double(boundaries - 1 - lines.number[last]) * lines.step[last];
    bool ascends = std::abs(lines.from[0]) < 0x1p52 && end < 0x1p52;
    for (const double step : lines.step) ascends &= step > 1.001; // a sample at least, rounding aside
    if (!ascends) return false;
    first = std::int64_t(std::ceil(lines.from[0]));
    samples = std::size_t(std::int64_t(std::ceil(end)) - first);
    words = samples / 64 + 1;
    lines.from.resize(lines.from.size() + ClockLines::padding, end);
    lines.step.resize(lines.step.size() + ClockLines::padding, 1);
    phases.resize(words * 64 + foldPadding);
    layPhases({lines.number, lines.from.data(), lines.step.data(), double(first)}, samples, phases.data());
    std::fill(phases.begin() + std::ptrdiff_t(samples), phases.end(), 0);
    return true;
}

void PhasedSamples::read(const SampleSource &source)
{
    const std::int64_t count = source.axis().count, last = first + std::int64_t(samples);
    const std::int64_t from = std::clamp<std::int64_t>(first, 0, count), to = std::clamp<std::int64_t>(last, 0, count);
    const std::size_t room = words * 64 + foldPadding;
    thereFirst = std::size_t(from - first);
    there = std::size_t(to - from);
    scale = source.codeScale();
    if (scale && scale->step > 0) {
        codes.resize(room);
        if (source.readCodes(from, std::span(codes).subspan(thereFirst, there))) {
            std::fill_n(codes.begin(), thereFirst, std::int16_t(0));
            std::fill(codes.begin() + std::ptrdiff_t(thereFirst + there), codes.end(), std::int16_t(0));
            return;
        }
    }
    scale.reset();
    constexpr double gap = std::numeric_limits<double>::quiet_NaN();
    values.resize(room);
    source.read(from, std::span(values).subspan(thereFirst, there));
    std::fill_n(values.begin(), thereFirst, gap);
    std::fill(values.begin() + std::ptrdiff_t(thereFirst + there), values.end(), gap);
}

} // namespace fulvex
