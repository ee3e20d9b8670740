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
    constexpr double smooth = 64; // points a unit interval
    const int perSample = std::max(1, int(std::ceil(smooth / map.period())));
    const SourcePtr source = upsampled(from.samples, perSample);
    constexpr double longest = 1 << 20; // samples that are read for one
    if (3 * map.period() * perSample > longest) return made;
    for (const std::int64_t n : from.unitIntervals) {
        const auto within = [&](double position) {
            return std::int64_t(std::clamp(position * perSample, 0.0, double(source->axis().count)));
        };
        const std::int64_t first = within(std::ceil(map.positionOf(double(n) - 1))),
                           last = within(std::floor(map.positionOf(double(n) + 2)) + 1);
        if (last - first < 2) continue;
        std::vector<double> values(std::size_t(last - first)), ui(values.size());
        source->read(first, values);
        map.unitIntervalsAt(first, 1.0 / perSample, ui);
        Path path{n, {}};
        for (std::size_t i = 0; i < values.size(); ++i) {
            if (!(values[i] == values[i])) break;
            path.curve << QPointF(ui[i] - double(n), values[i]);
        }
        made.paths.push_back(std::move(path));
    }
    return made;
}

} // namespace fulvex
