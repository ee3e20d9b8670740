#pragma once

#include "eye_counts.h"
#include "progress.h"
#include "sample_source.h"
#include "unit_interval_map.h"

#include <array>
#include <compare>
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
    auto operator<=>(const Moments &) const = default;
};

/// How many traces of an eye pass each cell of its grid: each unit interval as a curve, band-limited, without gaps from
/// column to column. What is counted where samples lie shows a comb of their places wherever they come at the same
/// phases again and again; this does not. For pictures alone: no number is made of it.
struct EyeCurves {
    EyeCounts counts; ///< as the fold's, one a trace and cell
    std::int64_t unitIntervals = 0;
};

/// A folded record, or several: merge() gives what one run over all of them gives, to the last bit, in any order and
/// grouping. Sums of whole numbers add up as they are; moments are kept record by record and summed in an order of
/// their own.
struct EyeFold {
    EyeCounts picture;
    EyeCurves curves;
    std::int64_t unitIntervals = 0;
    std::int64_t samples = 0;          ///< the capture's own, without interpolated ones
    int interpolation = 1;             ///< points folded per sample (band-limited); the most of several records
    double samplesPerUnitInterval = 0; ///< the fewest of several records
    /// Mean trace of transitions around the crossing, to `reach` UI before and after it.
    struct Trace {
        static constexpr int size = 64;
        static constexpr double reach = 0.25;
        struct Bin {
            double count = 0, phase = 0, value = 0; ///< sums
            auto operator<=>(const Bin &) const = default;
        };
        std::array<Bin, size> bins;
        void merge(const Trace &later);
        auto operator<=>(const Trace &) const = default;
    };
    struct Part {
        std::vector<Moments> levels; ///< in the central 20 %, by each symbol's decision, the lowest first; no extremes
        std::vector<Trace> traces;   ///< from each symbol to each other: see from()
        explicit Part(std::size_t symbols = 0) : levels(symbols), traces(symbols > 1 ? symbols * (symbols - 1) : 0) {}
        const Moments &level(std::size_t symbol) const; ///< empty where there is none
        /// The mean trace from one symbol to another one.
        const Trace &from(std::size_t before, std::size_t after) const
        {
            return traces[placeOf(before, after, levels.size())];
        }
        Trace &from(std::size_t before, std::size_t after) { return traces[placeOf(before, after, levels.size())]; }
        /// Where the trace of a pair stands, of so many symbols.
        static std::size_t placeOf(std::size_t before, std::size_t after, std::size_t symbols)
        {
            return before * (symbols - 1) + after - (after > before);
        }
        /// The level, in the channel's unit, at which the mean traces between a symbol and the next higher one meet,
        /// rising and falling; NaN without both.
        double crossing(std::size_t lower = 0) const;
        void merge(const Part &later);
        auto operator<=>(const Part &) const = default;
    };
    const Moments &zero() const { return sum.level(0); } ///< of two symbols
    const Moments &one() const { return sum.level(1); }
    std::vector<Part> parts; ///< one a record, sorted
    Part sum;                ///< of the parts, in their order
    /// The same of stretches of the records, sorted: what uncertainties are told by. As many as there is much to fold;
    /// of many records each is one.
    std::vector<Part> stretches;
    static constexpr std::size_t manyRecords = 64;
    void merge(const EyeFold &later);
    static EyeFold merged(const std::vector<const EyeFold *> &folds, Room room = Room::laid);
    double crossing(std::size_t lower = 0) const { return sum.crossing(lower); }
};

/// What is laid over each other: of the unit intervals of a map each, or those that stand for a longer stretch.
struct Laps {
    std::int64_t each = 1; ///< unit intervals from the begin of one to that of the next
    std::int64_t from = 0; ///< they begin at those that leave this, divided by `each`
    int lasts = 1;         ///< unit intervals
    bool beginsAt(std::int64_t unitInterval) const { return (unitInterval - from) % each == 0; }
    /// The one that a unit interval lies in, by the first of its own, or which would reach there next.
    std::int64_t beginOf(std::int64_t unitInterval) const
    {
        const std::int64_t over = (unitInterval - from) % each;
        return unitInterval - (over < 0 ? over + each : over);
    }
    bool operator==(const Laps &) const = default;
};

/// What a picture's axis says of a place that lies so many unit intervals behind a lap's begin.
struct EyeAcross {
    double origin = 0, scale = 1;
    bool seconds = false; ///< of an overlay at edges: s from the edge; else UI
    double at(double unitIntervals) const { return origin + scale * unitIntervals; }
    double unitIntervals(double across) const { return (across - origin) / scale; }
    bool operator==(const EyeAcross &) const = default;
};

struct EyeRule {
    /// Decision levels at the middle of a symbol, in the channel's unit, rising: one fewer than there are symbols, of
    /// which there are 16 at most.
    std::vector<double> thresholds = {0};
    double least = 0, most = 1;       ///< channel's unit, extremes of the samples, that the picture's rows are laid for
    std::int64_t first = 0, last = 0; ///< unit intervals folded: first <= n < last
    int interpolation = 1;
    bool withStretches = true; ///< also told by those
    Room room = Room::laid;    ///< in its pictures
    std::int64_t curves = 0;   ///< unit intervals that are drawn as such, at most
    int columns = 256;         ///< of the picture, in a unit interval, or in one of an overlay's laps
    int rows = 0;              ///< of the picture; 0: as many as columns
    Laps laps = {};            ///< of an overlay
    EyeAcross across = {};     ///< what its picture's axis says
    bool overlay() const { return laps.each > 1 || across.seconds; }
    /// The grid of its picture, with nothing to count in yet.
    EyeCounts grid() const { return EyeCounts::laidOut(least, most, columns, rows > 0 ? rows : columns); }
    double left() const { return across.at(0); } ///< of a lap, on the picture's axis
    double right() const { return across.at(laps.lasts); }
    bool operator==(const EyeRule &) const = default;
};

/// Folds the record by a clock's map, on all cores.
EyeFold foldEye(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, Progress &progress);

/// Interpolation that folding uses by itself: to 16 points per unit interval, or hardly less (15.9), where there are
/// fewer than 8.
int automaticInterpolation(double samplesPerUnitInterval);

} // namespace fulvex
