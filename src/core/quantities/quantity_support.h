#pragma once

#include "quantity.h"

namespace fulvex {

/// A population, or the reason why it is empty.
Measured orReason(Population population, const std::string &reason);
/// What was seen of edges, what the quantity needs, and what would help.
std::string wants(QuantityInputs &in, const char *what);
/// "3 crossings of the mid level in the region; "
std::string edgesSeen(QuantityInputs &in);
/// Periods from chosen edge (rising by default) to edge.
Population allPeriods(QuantityInputs &in);
/// Of a resolution, as of a rectangular distribution.
double stepUncertainty(QuantityInputs &in);

/// What the converter's steps leave uncertain of a mean of samples: shared out over those that the signal passes.
double sharedStep(double resolution, const AmplitudeStats &stats);
/// A number made of the statistics of all samples. Its uncertainty: from what it is without each stretch of the record
/// (samples hang together), and the steps of the converter, shared out over those that the signal passes.
Measured ofSamples(const AmplitudeSurvey &survey, double resolution, double (*of)(const AmplitudeStats &));

} // namespace fulvex
