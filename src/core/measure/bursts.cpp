#include "bursts.h"

namespace fulvex {

Bursts findBursts(const EdgeList &edges, const TimeAxis &axis, SampleRange range, double gap)
{
    PopulationBuilder widths(axis), pulses(axis);
    const auto &positions = edges.positions;
    bool opened = edges.size() && positions.front() - double(range.first) >= gap;
    std::size_t first = 0;
    Bursts bursts;
    const auto seen = [&](EdgeChoice &directions, std::size_t edge) {
        const EdgeChoice is = edges.isRising(edge) ? EdgeChoice::rising : EdgeChoice::falling;
        directions = widths.size() == 0 || directions == is ? is : EdgeChoice::both;
    };
    for (std::size_t edge = 0; edge < edges.size(); ++edge) {
        const bool last = edge + 1 == edges.size();
        const double quiet = (last ? double(range.last - 1) : positions[edge + 1]) - positions[edge];
        const bool broken = !last && edges.isAfterGap(edge + 1);
        if (quiet < gap && !broken && !last) continue;
        const bool closed = quiet >= gap && !broken;
        if (opened && closed && edge > first) {
            seen(bursts.opens, first);
            seen(bursts.closes, edge);
            const double lasts = positions[edge] - positions[first];
            widths.add(positions[first], lasts, lasts * axis.interval);
            pulses.add(positions[first], lasts, double(edge - first + 1) / 2);
        }
        opened = closed;
        first = edge + 1;
    }
    bursts.width = widths.take();
    bursts.pulses = pulses.take();
    return bursts;
}

} // namespace fulvex
