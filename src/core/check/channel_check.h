#pragma once

#include "amplitude_stats.h"
#include "finding.h"
#include "reference_levels.h"
#include "waveform.h"

#include <vector>

namespace fulvex {

/// A channel of a capture as the checks look at it.
struct CheckedChannel {
    std::string id, unit;
    bool unitStated = true; ///< by the channel or its file; else V was taken
    SourcePtr source;
    Waveform stored;      ///< its column, counts as in the file
    AmplitudeStats stats; ///< of `source`, over all of it
};

/// Missing unit, gaps, clipping, the part of the converter's range that is used, samples per fastest edge, and mains
/// hum. Edges are looked for in the first 4 million samples.
std::vector<Finding> checkChannel(const CheckedChannel &channel, Progress &progress);

/// How the samples lie at the extremes: what tells clipping from a signal that comes to rest.
struct ExtremeRuns {
    std::int64_t atMaximum = 0, atMinimum = 0;             ///< samples that have exactly the extreme value
    std::int64_t nearMaximum = 0, nearMinimum = 0;         ///< within 1 % of peak to peak, without it
    std::int64_t runsAtMaximum = 0, runsAtMinimum = 0;     ///< three or more in a row
    std::int64_t firstAtMaximum = -1, firstAtMinimum = -1; ///< sample at which the first such run begins
    double stepToMaximum = 0, stepToMinimum = 0;           ///< mean step onto the extreme at these runs
};
ExtremeRuns extremeRuns(const SampleSource &source, double minimum, double maximum, Progress &progress);

/// Amplitude of the mains frequency (50 or 60 Hz and twice that, the largest) in the channel's unit, by least squares
/// on means over about a twentieth of its period, less what neighbouring frequencies have; empty for records below four
/// periods.
struct Hum {
    double frequency, amplitude; ///< Hz, zero to peak
};
std::optional<Hum> mainsHum(const SampleSource &source, double mean, Progress &progress);

} // namespace fulvex
