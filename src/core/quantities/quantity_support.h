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

/// What may shift all instants at which chosen edges cross the mid level alike, s: towards later where the level is
/// higher, by one converter step each, and on straight lines against curves.
struct InstantParts {
    double levels = 0, quantisation = 0, straight = 0;
    double noise = 0; ///< rms of a single one
};
InstantParts instantParts(QuantityInputs &in, EdgeChoice choice);
/// Of values so few that their scatter does not tell: what noise does to a single one. An instant is told as uncertain
/// as one sample's noise over the slope: of a straight line's two samples two thirds of the variance are left, but
/// where noise crosses the level several times the last one counts.
void addNoise(Measured &measured, double single);
/// Of a population of times from one instant to another (times `factor`): its uncertainty's parts beside the scatter.
/// `sameLevel`: both are of one channel's level, which shifts them together.
void addInstants(Measured &measured, const InstantParts &from, const InstantParts &to, bool sameLevel,
                 double factor = 1);

/// A number made of the statistics of all samples. Its uncertainty: from what it is without each stretch of the record
/// (samples hang together), and the steps of the converter, shared out over those that the signal passes.
Measured ofSamples(const AmplitudeSurvey &survey, double resolution, double (*of)(const AmplitudeStats &));

} // namespace fulvex
