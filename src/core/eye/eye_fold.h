#pragma once

#include "progress.h"
#include "sample_source.h"
#include "unit_interval_clock.h"

#include <array>
#include <cstdint>
#include <vector>

namespace fulvex {

/// Count, mean and squared deviations, mergeable. Chan, Golub, LeVeque (1979).
struct Moments {
    double count = 0, mean = 0, squares = 0;
    double min = 0, max = 0;
    void add(double value);
    void merge(const Moments &later);
    double std() const; ///< sample standard deviation; 0 for fewer than 2
};

/// How often the signal was at each phase and level: one unit interval wide, since every unit interval begins a trace
/// of the eye and the picture two wide shows each sample at both places. Row 0 is at `low`; counts stand row by row.
struct EyeCounts {
    int columns = 256, rows = 256;
    double low = 0, high = 1; ///< V, the outer borders of the first and last row
    std::vector<std::uint64_t> counts;
    std::uint64_t at(int column, int row) const
    {
        return counts[std::size_t(row) * std::size_t(columns) + std::size_t(column)];
    }
};

/// A folded record, or several: everything in it is a sum, and merge(a, b) is what one run over both gives.
struct EyeFold {
    EyeCounts picture;
    std::int64_t unitIntervals = 0;
    std::int64_t samples = 0; ///< the capture's own, without interpolated ones
    int interpolation = 1;    ///< points folded per sample (band-limited)
    double samplesPerUnitInterval = 0;
    Moments one, zero; ///< levels in the central 20 %, by each symbol's decision; without extremes
    /// Mean trace of rising and falling transitions around the crossing, to `reach` UI before and after it.
    struct Trace {
        static constexpr int size = 64;
        static constexpr double reach = 0.25;
        struct Bin {
            double count = 0, phase = 0, value = 0; ///< sums
        };
        std::array<Bin, size> bins;
        void merge(const Trace &later);
    } rising, falling;
    void merge(const EyeFold &later);
    /// The level, in V, at which the mean rising and the mean falling trace meet; NaN without both.
    double crossing() const;
};

struct EyeRule {
    double threshold = 0;             ///< V, the decision level at the middle of a symbol
    double low = 0, high = 1;         ///< V, range of the picture; beyond it samples count in the border rows
    std::int64_t first = 0, last = 0; ///< unit intervals folded: first <= n < last
    int interpolation = 1;
};

/// Folds the record by the clock, on all cores.
EyeFold foldEye(const SourcePtr &source, const Clock &clock, const EyeRule &rule, Progress &progress);

/// Interpolation that folding uses by itself: to at least 16 points per unit interval where there are fewer than 8.
int automaticInterpolation(double samplesPerUnitInterval);

} // namespace fulvex
