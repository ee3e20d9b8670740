#pragma once

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace fulvex {

/// A uniform grid of instants: sample k lies at start + shift + k * interval. A position is a sample index with a
/// fraction; instants are kept as positions, so that a picosecond is not lost late in a long record or in one that
/// counts its seconds since 1970. Seconds are for people.
struct TimeAxis {
    double start = 0;    ///< s
    double interval = 1; ///< s, > 0
    std::int64_t count = 0;
    double shift = 0; ///< s, added to start but kept apart: beside a large start it would be rounded away
    double timeOf(double position) const { return start + (shift + position * interval); }
    double positionOf(double time) const { return ((time - start) - shift) / interval; }
    /// Where an instant of this grid lies on another; exact to the last bits whatever their starts are.
    double positionOn(const TimeAxis &other, double position) const
    {
        return ((start - other.start) + (shift - other.shift) + position * interval) / other.interval;
    }
    /// Whether seconds as doubles, counted from `origin`, tell apart moments a thousandth of an interval apart all
    /// along.
    bool isFine(double origin = 0) const
    {
        const double farthest = std::abs(start - origin) + std::abs(shift) + double(count) * interval;
        return std::nextafter(farthest, INFINITY) - farthest <= interval / 1000;
    }
    double stop() const { return timeOf(double(count)); } ///< s; one interval after the last sample
    bool operator==(const TimeAxis &) const = default;
};

/// Samples first <= k < last.
struct SampleRange {
    std::int64_t first = 0, last = 0;
    std::int64_t size() const { return last > first ? last - first : 0; }
    bool operator==(const SampleRange &) const = default;
};

/// Those of a grid from a moment to another, s, both included; one that lies beside them by less than a millionth of an
/// interval, by rounding, as well.
inline SampleRange samplesWithin(const TimeAxis &axis, double from, double to)
{
    const auto clamped = [&](double position) { return std::int64_t(std::clamp(position, 0.0, double(axis.count))); };
    return {clamped(std::ceil(axis.positionOf(from) - 1e-6)), clamped(std::floor(axis.positionOf(to) + 1e-6) + 1)};
}

} // namespace fulvex
