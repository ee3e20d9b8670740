#pragma once

#include "amplitude_histogram.h"
#include "amplitude_stats.h"
#include "extreme_runs.h"
#include "progress.h"
#include "sample_source.h"

namespace fulvex {

/// What one scan of a channel finds of its amplitudes: all that statistics, levels and the check for clipping need.
/// Mergeable in the order of the record.
struct AmplitudeSurvey {
    AmplitudeStats stats;
    AmplitudeHistogram histogram;
    ExtremeRuns runs;
    /// The same of stretches of the range, in its order: what uncertainties are told by. They begin and end where the
    /// signal passes its middle upwards, so that no part of a cycle makes one unlike the others; what lies before the
    /// first and behind the last is in none.
    struct Stretch {
        AmplitudeStats stats;
        AmplitudeHistogram histogram;
    };
    std::vector<Stretch> stretches;
    void merge(const AmplitudeSurvey &later);
};

/// One scan over the range, on all cores; `withStretches`: also told by those.
AmplitudeSurvey surveyAmplitudes(const SampleSource &source, SampleRange range, Progress &progress,
                                 bool withStretches = true);

} // namespace fulvex
