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
    phases.resize(words * 64 + lanePadding);
    layPhases({lines.number, lines.from.data(), lines.step.data(), double(first)}, samples, phases.data());
    std::fill(phases.begin() + std::ptrdiff_t(samples), phases.end(), 0);
    return true;
}

/// For those that the record has; about them are others that are of none.
template <typename Sample>
std::span<Sample> PhasedSamples::room(RawVector<Sample> &all, Sample nowhere)
{
    all.resize(words * 64 + lanePadding);
    std::fill_n(all.begin(), thereFirst, nowhere);
    std::fill(all.begin() + std::ptrdiff_t(thereFirst + there), all.end(), nowhere);
    return std::span(all).subspan(thereFirst, there);
}

void PhasedSamples::read(const SampleSource &source)
{
    const std::int64_t count = source.axis().count, last = first + std::int64_t(samples);
    const std::int64_t from = std::clamp<std::int64_t>(first, 0, count), to = std::clamp<std::int64_t>(last, 0, count);
    thereFirst = std::size_t(from - first);
    there = std::size_t(to - from);
    scale = source.codeScale();
    if (!scale || !(scale->step > 0)) {
        scale.reset();
        source.read(from, room(values, std::numeric_limits<double>::quiet_NaN()));
        return;
    }
    inWide = !source.readCodes(from, room(codes, std::int16_t(0)));
    if (inWide) source.readWideCodes(from, room(wideCodes, 0));
}

void PhasedSamples::compare(CrossingLevel level, std::vector<CrossingMasks> &masks) const
{
    masks.resize(words);
    visit([&](const auto *own) {
        if constexpr (areValues<decltype(own)>)
            crossingMasks(own, words, level, masks.data());
        else
            crossingMasks(own, words, CodeLevels(level, *scale), masks.data());
    });
}

} // namespace fulvex
