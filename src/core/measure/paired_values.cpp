#include "paired_values.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

PairedValues pairedValues(const Population &first, const Population &second)
{
    PairedValues pairs;
    if (second.size() == 0) return pairs;
    const bool same = first.axis == second.axis;
    const auto placeOf = [&](std::size_t i) { // of one of the second, on the first's axis
        return same ? second.position[i] : second.axis.positionOn(first.axis, second.position[i]);
    };
    std::size_t near = 0; // the one of the second nearest to the present one of the first; they ascend together
    for (std::size_t i = 0; i < first.size(); ++i) {
        const double at = first.position[i];
        while (near + 1 < second.size() && std::abs(placeOf(near + 1) - at) <= std::abs(placeOf(near) - at)) ++near;
        const double place = placeOf(near), off = std::abs(place - at);
        const bool taken = (i > 0 && std::abs(first.position[i - 1] - place) < off) ||
                           (i + 1 < first.size() && std::abs(first.position[i + 1] - place) < off);
        if (taken) continue;
        pairs.x.push_back(first.value[i]);
        pairs.y.push_back(second.value[near]);
        pairs.of.push_back(std::uint32_t(i));
    }
    const auto count = double(pairs.x.size());
    double meanX = 0, meanY = 0, xx = 0, yy = 0, xy = 0;
    for (std::size_t i = 0; i < pairs.x.size(); ++i) meanX += pairs.x[i] / count, meanY += pairs.y[i] / count;
    for (std::size_t i = 0; i < pairs.x.size(); ++i) {
        const double dx = pairs.x[i] - meanX, dy = pairs.y[i] - meanY;
        xx += dx * dx, yy += dy * dy, xy += dx * dy;
    }
    const auto varies = [](const std::vector<double> &values) {
        return std::any_of(values.begin(), values.end(), [&](double v) { return v != values.front(); });
    };
    pairs.correlation = varies(pairs.x) && varies(pairs.y) && xx > 0 && yy > 0 ? xy / std::sqrt(xx * yy) : NAN;
    return pairs;
}

} // namespace fulvex
