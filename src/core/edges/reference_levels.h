#pragma once

#include "amplitude_survey.h"

#include <optional>
#include <string>

namespace fulvex {

/// The two state levels of a signal, V.
struct StateLevels {
    double low = 0, high = 0;
    double amplitude() const { return high - low; }
};

/// How well they are known, V, standard.
struct StateUncertainty {
    double low = 0, high = 0, amplitude = 0;
};

/// State levels by the histogram method: the amplitude range is split in the middle, each half's mode over 1024 to 2048
/// bins is refined by the mean of the samples in the mode's bin and its neighbours, out to where the counts fall below
/// half. Counts are smoothed over a run of bins that is wider for fewer samples (a tenth of the bins over the cube root
/// of the count to either side), so that a chance peak does not win. Source: IEEE Std 181, state levels by the
/// histogram method.
StateLevels histogramStates(const AmplitudeHistogram &histogram);
/// How far samples lie about the narrower of those states, rms, told from its width at half its height.
double stateSpread(const AmplitudeHistogram &histogram);

/// How reference levels are to be laid; the document's "levels" entry.
struct LevelRule {
    enum class Kind { percent, absolute } kind = Kind::percent;
    enum class States { histogram, extremes, fixed } states = States::histogram;
    double low = 10, mid = 50, high = 90; ///< % of the amplitude, or V
    std::optional<double> hysteresis;     ///< in the same unit; 10 % of the amplitude when empty
    double stateLow = 0, stateHigh = 0;   ///< V, for States::fixed
    bool operator==(const LevelRule &) const = default;
};

/// Levels ready for use, in V.
struct ReferenceLevels {
    StateLevels states;
    double low = 0, mid = 0, high = 0;
    double hysteresis = 0; ///< whole width of the band around the level being crossed
};

/// Of a survey of at least one sample.
ReferenceLevels referenceLevels(const AmplitudeSurvey &survey, const LevelRule &rule);
/// Of the states that these levels go by: what they are without each stretch of the record, and what steps of
/// `resolution` (the source's; 0: unknown) may hide. As long as 24 times those levels, which most who ask for them do
/// not need.
StateUncertainty stateUncertainty(const AmplitudeSurvey &survey, double resolution, const LevelRule &rule);

} // namespace fulvex
