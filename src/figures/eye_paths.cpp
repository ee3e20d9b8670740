#include "eye_paths.h"

#include "resampled_source.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

EyePaths EyePaths::of(const From &from)
{
    EyePaths made;
    if (!from.samples || !from.by) return made;
    const UnitIntervalMap &map = from.by->map;
    const Laps &laps = from.rule.laps;
    const bool overlay = from.rule.overlay();
    const double smooth = from.rule.across.seconds ? 512 : 64; // points a unit interval
    const double before = overlay ? 0 : 1, behind = overlay ? laps.lasts : 2;
    const int perSample = std::max(1, int(std::ceil(smooth / map.period())));
    const SourcePtr source = upsampled(from.samples, perSample);
    constexpr double longest = 1 << 20; // samples that are read for one
    if ((before + behind) * map.period() * perSample > longest) return made;
    for (const std::int64_t n : from.unitIntervals) {
        const auto within = [&](double position) {
            return std::int64_t(std::clamp(position * perSample, 0.0, double(source->axis().count)));
        };
        const std::int64_t first = within(map.positionOf(double(n) - before)),
                           last = within(map.positionOf(double(n) + behind)) + 1;
        if (last - first < 2) continue;
        std::vector<double> values(std::size_t(last - first)), ui(values.size());
        source->read(first, values);
        map.unitIntervalsAt(first, 1.0 / perSample, ui);
        Path path{n, {}};
        for (std::size_t i = 0; i < values.size(); ++i) {
            if (!(values[i] == values[i])) break;
            path.curve << QPointF(from.rule.across.at(ui[i] - double(n)), values[i]);
        }
        made.paths.push_back(std::move(path));
    }
    return made;
}

} // namespace fulvex
