#pragma once

#include "edge_list.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

namespace fulvex {

/// Numbers edges one after the other: a tracker of second order follows the instants, so that neither a rate that is a
/// little off nor wander adds up to a slip.
struct EdgeTracker {
    static constexpr double phaseGain = 0.12, periodGain = phaseGain * phaseGain / 4;
    double period, clock, tracked, inverse; ///< samples; `clock`: the boundary of the last edge
    std::int64_t number = 0;

    EdgeTracker(double symbolPeriod, double boundary)
        : period(symbolPeriod), clock(boundary), tracked(symbolPeriod), inverse(1 / symbolPeriod)
    {
    }
    /// Takes an edge; its number.
    std::int64_t take(std::int64_t edge, double position)
    {
        const double distance = (position - clock) * inverse;
        const auto whole = std::int64_t(std::max(0.0, distance + 0.5));
        const auto steps = double(whole);
        number += whole;
        if (whole == 0 && edge > 0) return number;
        const auto within = [](double v, double least, double most) { return std::min(std::max(v, least), most); };
        const double error = within(distance - steps, -0.5, 0.5);
        clock += (steps + phaseGain * error) * tracked;
        const double change = within(periodGain / std::max(steps, 1.0) * error, -0.01, 0.01);
        tracked = within(tracked * (1 + change), 0.98 * period, 1.02 * period);
        // To third order, exact now and then.
        inverse = edge % 64 == 0 ? 1 / tracked : inverse * (1 - change * (1 - change));
        return number;
    }
    /// Takes a range of edges; `numbers` may be null.
    void follow(const EdgeList &edges, SampleRange range, std::int32_t *numbers)
    {
        for (std::int64_t i = range.first; i < range.last; ++i) {
            const std::int64_t own = take(i, edges.positions[std::size_t(i)]);
            if (numbers) numbers[i] = std::int32_t(own);
        }
    }
    bool agrees(const EdgeTracker &other) const
    {
        return std::abs(clock - other.clock) < 1e-6 * period && std::abs(tracked - other.tracked) < 1e-6 * period;
    }
};

constexpr std::size_t trackersTogether = 8;

/// As many edges of each of some trackers, from these places on: take() of each, to the last bit. Places are multiples
/// of 64 and not 0; `numbers` may be null. Side by side, since each waits for its own last step.
void followTogether(std::array<EdgeTracker, trackersTogether> &all, const double *positions,
                    const std::array<std::int64_t, trackersTogether> &places, std::int64_t count,
                    std::int32_t *numbers);

} // namespace fulvex
