#include "phased_samples.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

bool PhasedSamples::load(const SampleSource &source, const UnitIntervalMap &map, int interpolation,
                         SampleRange unitIntervals, std::int64_t margin)
{
    const std::optional<SampleRange> range = layClock(map, interpolation, unitIntervals, margin);
    if (range) read(source, *range);
    return range.has_value();
}

/// Which samples lie there; none where the clock is none.
std::optional<SampleRange> PhasedSamples::layClock(const UnitIntervalMap &map, int interpolation,
                                                   SampleRange unitIntervals, std::int64_t margin)
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
    if (!ascends) return {};
    const SampleRange range{std::int64_t(std::ceil(lines.from[0])), std::int64_t(std::ceil(end))};
    const auto count = std::size_t(range.size());
    lines.from.resize(lines.from.size() + ClockLines::padding, end);
    lines.step.resize(lines.step.size() + ClockLines::padding, 1);
    phases.resize(count / 64 * 64 + 64 + lanePadding);
    layPhases({lines.number, lines.from.data(), lines.step.data(), double(range.first)}, count, phases.data());
    std::fill(phases.begin() + std::ptrdiff_t(count), phases.end(), 0);
    return range;
}

} // namespace fulvex
