#pragma once

#include "amplitude_histogram.h"
#include "bounded_jitter.h"
#include "data_dependence.h"
#include "raw_vector.h"
#include "tail_fit.h"

#include <memory>

namespace fulvex {

/// How a make-up of jitter is made.
struct JitterRule {
    bool data = true;                    ///< otherwise a clock: its edges depend on their direction alone
    std::optional<std::int64_t> pattern; ///< symbols after which data repeat; 0: they do not; none: found by itself
};

/// How edges are spread, s: what is told of them without holding each.
struct JitterSpread {
    AmplitudeHistogram errors; ///< about their mean
    AmplitudeHistogram rest;   ///< what is of no line and no data
};

/// What the time interval error of edges is made of. Source: docs/methods.md, "Make-up of jitter"; INCITS TR-35
/// (Methodologies for Jitter and Signal Quality Specification).
struct JitterMakeUp {
    JitterEdges edges;                         ///< of several records together none, but their unit interval
    std::int64_t count = 0, unitIntervals = 0; ///< edges that it is of, and what they span
    int records = 1;
    struct Direction {
        std::int64_t count = 0;
        double mean = 0, std = 0; ///< s
    } rising, falling;
    DataDependence data;                          ///< that of polarity included
    std::vector<PeriodicLine> lines;              ///< strongest first
    RawVector<double> rest;                       ///< s, of each edge: what is neither
    double random = 0, randomUncertainty = 0;     ///< s rms, of the rest: the spectral method's
    std::shared_ptr<const BoundedJitter> bounded; ///< of data and lines
    std::shared_ptr<const JitterSpread> spread;   ///< of several records; of one it follows from its edges
    std::string reason;                           ///< not empty: nothing could be told, and why

    /// |mean of rising less mean of falling edges|, s; none where one of them does not occur.
    std::optional<double> dutyCycle() const;
    double dutyCycleUncertainty() const; ///< s
    double periodic() const;             ///< s: sum of the lines' peak to peak
    double periodicUncertainty() const;
};
JitterSpread spreadOf(const JitterMakeUp &found);
/// What data give edges, each value as often as it occurs.
std::vector<BoundedJitter::Value> dataValuesOf(const JitterMakeUp &found);

/// The same by the tail method: what is random behind the tails of the rest, and what else is bounded.
struct JitterTails {
    TailFit fit;
    std::shared_ptr<const BoundedJitter> bounded; ///< of data, lines and that
};
JitterTails tailsOf(const JitterMakeUp &found);

/// `edges` from jitterEdges().
JitterMakeUp makeUpOf(JitterEdges edges, const JitterRule &rule, Progress &progress);

} // namespace fulvex
