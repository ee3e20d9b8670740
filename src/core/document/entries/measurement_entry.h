#pragma once

#include "field.h"

namespace fulvex {

/// What a quantity has to keep.
struct LimitEntry {
    std::optional<double> min, max;
    bool operator==(const LimitEntry &) const = default;
    bool isSet() const { return min || max; }
};

/// A quantity, of what, and how.
struct MeasurementEntry {
    std::string id, quantity;
    std::string source, to, clock, eye, region;
    std::string levels = "default";
    std::string interpolate = "auto"; ///< of the instants: auto, linear, sinc
    std::string edge, toEdge;         ///< rising, falling, both; empty: the quantity's default
    LimitEntry limit;
    /// Settings of single quantities; empty: the quantity's default.
    std::optional<double> ber, offset, from, toFrequency, gap, band; ///< 1, Hz, Hz, Hz, s, %
    std::optional<double> at;                 ///< where edges are told instead of the mid level, in the levels' unit
    std::optional<double> above, below;       ///< of a box: between these values, the channel's unit
    std::optional<double> fromPhase, toPhase; ///< of a box in an eye: between these, UI
    std::optional<int> cycles;                ///< periods that are taken together
    std::optional<double> averaging, corner;  ///< s; Hz, between slow and fast
    std::optional<int> level;                 ///< of those that amplitudes gather around, from the lowest, 1
    std::optional<int> opening;               ///< of more than two levels, from the bottom up
    std::string of;                           ///< of a gain: ac_rms, amplitude
    std::string method;                       ///< of a jitter's make-up: spectral, tail
    std::string expected;                     ///< symbols: auto, prbs9, prbs9 inverted, 0110…; empty: auto
    NumberOrName pattern = "auto";            ///< its length in UI, auto, none
    std::optional<bool> data;                 ///< transitions of data, or of a clock
    bool lines = false;                       ///< of phase noise: taken along
    bool operator==(const MeasurementEntry &) const = default;
};

std::vector<Field> fieldsOf(MeasurementEntry &entry);
void checkEntry(const MeasurementEntry &entry, const std::string &where);

} // namespace fulvex
