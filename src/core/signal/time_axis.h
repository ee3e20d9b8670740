#pragma once

#include <cstdint>

namespace fulvex {

/// A uniform grid of instants: sample k lies at start + k * interval. A position is a sample index with a fraction;
/// instants are kept as positions, so that a picosecond is not lost late in a long record.
struct TimeAxis {
    double start = 0;    ///< s
    double interval = 1; ///< s, > 0
    std::int64_t count = 0;
    double timeOf(double position) const { return start + position * interval; }
    double positionOf(double time) const { return (time - start) / interval; }
    double stop() const { return timeOf(double(count)); } ///< s; one interval after the last sample
    bool operator==(const TimeAxis &) const = default;
};

/// Samples first <= k < last.
struct SampleRange {
    std::int64_t first = 0, last = 0;
    std::int64_t size() const { return last > first ? last - first : 0; }
    bool operator==(const SampleRange &) const = default;
};

} // namespace fulvex
