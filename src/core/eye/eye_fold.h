#pragma once

#include <cstdint>
#include <vector>

#include "progress.h"
#include "sample_source.h"
#include "unit_interval_clock.h"

namespace fulvex {

/// Count, mean and squared deviations, mergeable. Chan, Golub, LeVeque (1979).
struct Moments {
    double count = 0, mean = 0, squares = 0;
    double min = 0, max = 0;
    void add(double value);
    void merge(const Moments &later);
    double std() const;  ///< sample standard deviation; 0 for fewer than 2
};

/// How often the signal was at each phase and level: one unit interval wide, since every unit interval begins a trace
/// of the eye and the picture two wide shows each sample at both places. Row 0 is at `low`; counts stand row by row.
struct EyeCounts {
    int columns = 256, rows = 256;
    double low = 0, high = 1;  ///< V, the outer borders of the first and last row
    std::vector<std::uint64_t> counts;
    std::uint64_t at(int column, int row) const { return counts[std::size_t(row) * std::size_t(columns) + std::size_t(column)]; }
};

/// A folded record, or several: everything in it is a sum, and merge(a, b) is what one run over both gives.
struct EyeFold {
    EyeCounts picture;
    std::int64_t unitIntervals = 0;
    std::int64_t samples = 0;         ///< the capture's own, without interpolated ones
    int interpolation = 1;            ///< points folded per sample (band-limited)
    double samplesPerUnitInterval = 0;
    Moments one, zero;                ///< levels in the central 20 %, by each symbol's decision
    /// Mean trace of rising and falling transitions over -0.5 … 0.5 UI around the crossing.
    struct Trace {
        static constexpr int bins = 128;
        std::vector<double> count, phase, value;  ///< sums per bin
        Trace() : count(bins), phase(bins), value(bins) {}
    } rising, falling;
    void merge(const EyeFold &later);
    /// The level, in V, at which the mean rising and the mean falling trace meet; NaN without both.
    double crossing() const;
};

struct EyeRule {
    double threshold = 0;           ///< V, the decision level at the middle of a symbol
    double low = 0, high = 1;       ///< V, range of the picture; beyond it samples count in the border rows
    std::int64_t first = 0, last = 0;  ///< unit intervals folded: first <= n < last
    int interpolation = 1;
};

/// Folds the record by the clock, on all cores.
EyeFold foldEye(const SourcePtr &source, const Clock &clock, const EyeRule &rule, Progress &progress);

/// Interpolation that folding uses by itself: to at least 16 points per unit interval where there are fewer than 8.
int automaticInterpolation(double samplesPerUnitInterval);

/// Calls use(position, unitInterval) for each sample index in [first, last), in order.
template <typename Use>
void forPhases(const Clock &clock, double positionsPerSample, std::int64_t first, std::int64_t last, Use &&use)
{
    std::size_t hint = clock.knotNear(double(first) * positionsPerSample);
    for (std::int64_t i = first; i < last;) {
        const double position = double(i) * positionsPerSample;
        const Clock::Piece piece = clock.pieceAt(position, hint);
        const double start = piece.number + (position - piece.from) * piece.slope, step = piece.slope * positionsPerSample;
        const double ends = piece.to / positionsPerSample;
        std::int64_t stop = ends < double(last) ? std::int64_t(ends) : last;
        if (double(stop) < ends && stop < last) ++stop;
        if (stop <= i) stop = i + 1;
        for (std::int64_t k = i; k < stop; ++k) use(k, start + step * double(k - i));
        i = stop;
    }
}

}  // namespace fulvex
