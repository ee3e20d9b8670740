#include "phased_samples.h"

#include "eight_lanes.h"
#include "widest_vectors.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace fulvex {

namespace {

/// None of them is NaN either.
FULVEX_WIDEST_VECTORS bool allAbove(double least, std::span<const double> values)
{
    typedef std::int64_t Whether __attribute__((vector_size(sizeof(Eight))));
    Whether all = ~Whether{};
    std::size_t i = 0;
    for (; i + eight <= values.size(); i += eight) all &= eightOf(values.data() + i) > least;
    bool above = true;
    for (std::size_t lane = 0; lane < eight; ++lane) above &= all[lane] != 0;
    for (; i < values.size(); ++i) above &= values[i] > least;
    return above;
}

constexpr double leastStep = 1.001; ///< samples a unit interval: one at least, rounding aside

} // namespace

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
    if (!(std::abs(lines.from[0]) < 0x1p52 && end < 0x1p52 && allAbove(leastStep, lines.step))) return {};
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
