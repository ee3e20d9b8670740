#pragma once

#include "instant_errors.h"
#include "quantity.h"

namespace fulvex {

/// What moving each state level by its uncertainty does to something; the two are told apart, since what stands on both
/// moves with each of them once.
struct StateShifts {
    double low = 0, high = 0;
    double total() const;
    StateShifts times(double factor) const { return {low * factor, high * factor}; }
    StateShifts operator+(const StateShifts &other) const { return {low + other.low, high + other.high}; }
    StateShifts operator-(const StateShifts &other) const { return *this + other.times(-1); }
};
/// Of a level between (or beyond) the states; none where the row's levels are absolute.
StateShifts levelShifts(QuantityInputs &in, double level);

/// What may shift instants of one kind alike, s: where the states are higher, by one converter step each, and by the
/// way of interpolation: on straight lines against curves, by the sinc where transitions are steeper than it can be.
struct InstantParts {
    StateShifts levels;
    double quantisation = 0, interpolation = 0;
    double noise = 0; ///< rms of a single one
    double late = 0;  ///< mean, where noise takes the signal through the level several times and the last one counts;
                      ///< negative where the first does
};
/// At places where a level is passed, all of one direction, on straight lines or by sinc.
InstantParts partsAt(QuantityInputs &in, const std::vector<double> &places, bool bySinc, const StateShifts &level = {},
                     bool rising = true);
/// Of chosen edges, mean of both directions where both are.
InstantParts edgeParts(QuantityInputs &in, EdgeChoice choice);
/// Of where transitions of one direction begin or end.
InstantParts transitionParts(QuantityInputs &in, const Population &transitions, bool rising, bool ends);

/// What noise does to all alike, and to a single one of values so few that their scatter does not tell.
void addNoise(Measured &measured, double single, double alike = 0);
/// Of a population of times from one instant to another (times `factor`): its uncertainty's parts beside the scatter.
/// `levels` is what those do to a single one.
void addInstants(Measured &measured, const InstantParts &from, const InstantParts &to, double levels,
                 double factor = 1);
/// Of both on one channel, whose levels shift them together; and of two channels.
void addInstantsOfOne(Measured &measured, const InstantParts &from, const InstantParts &to, double factor = 1);
void addInstantsOfTwo(Measured &measured, const InstantParts &from, const InstantParts &to, double factor = 1);

/// Durations of transitions of one direction, s, with all that is uncertain about their mean.
Measured transitionTime(QuantityInputs &in, EdgeChoice direction);

} // namespace fulvex
