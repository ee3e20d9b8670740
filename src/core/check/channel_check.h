#pragma once

#include "amplitude_survey.h"
#include "finding.h"
#include "reference_levels.h"
#include "waveform.h"

#include <memory>
#include <optional>
#include <vector>

namespace fulvex {

/// A channel of a capture as the checks look at it.
struct CheckedChannel {
    std::string id, unit;
    bool unitStated = true; ///< by the channel or its file; else V was taken
    SourcePtr source;
    Waveform stored; ///< its column, counts as in the file
    std::shared_ptr<const AmplitudeSurvey> survey = std::make_shared<AmplitudeSurvey>(); ///< of all of `source`
};

/// Missing unit, gaps, clipping, the part of the converter's range that is used, samples per fastest edge, and mains
/// hum. Edges are looked for in the first 4 million samples.
std::vector<Finding> checkChannel(const CheckedChannel &channel, Progress &progress);

/// Amplitude of the mains frequency (50 or 60 Hz and twice that, the largest) in the channel's unit, by least squares
/// on means over about a twentieth of its period, less what neighbouring frequencies have; empty for records below four
/// periods.
struct Hum {
    double frequency, amplitude; ///< Hz, zero to peak
};
std::optional<Hum> mainsHum(const SampleSource &source, double mean, Progress &progress);

} // namespace fulvex
