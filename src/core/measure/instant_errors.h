#pragma once

#include "edge_list.h"
#include "population.h"
#include "reference_levels.h"
#include "sample_source.h"

#include <vector>

namespace fulvex {

/// What a signal is like where it passes a level, looked at in up to some 200 places: what errors of the level, of the
/// samples and of the way between them do to the instant.

/// Sample positions spread evenly: of edges of one direction; of a population's occurrences, where they begin or end.
std::vector<double> somePlaces(const EdgeList &edges, bool rising);
std::vector<double> somePlaces(const Population &population, bool ends);

/// Edges of one direction, each with the one behind it: all where they are few.
EdgeList somePulses(const EdgeList &edges, bool rising);

/// What may shift all instants at some places alike.
struct InstantErrors {
    double slope = 0;    ///< the unit per sample, without sign; median; 0: no such place
    double straight = 0; ///< samples: how much later the straight line is than a curve through four samples,
                         ///< mean; 0 where instants are by sinc
};
/// What noise of a sample, over the slope there, leaves of an instant's error, samples: of a straight line's two
/// samples two thirds of the variance are left.
double instantNoise(double noise, double slope, bool bySinc);

/// `noise`: from sample to sample, rms; a slope is taken from as far apart as it takes to rise out of it.
InstantErrors instantErrors(const SampleSource &source, const std::vector<double> &places, bool bySinc, double noise);

/// To how many samples on either side of such places a slope is to be taken: to where they differ by as much as is
/// `wanted` (the unit), or by all of the edge. 1: the neighbours do.
std::int64_t slopeReach(const SampleSource &source, const std::vector<double> &places, double wanted, double noise);

/// What may shift all slopes at some places alike, which are taken over `reach` samples to either side.
struct SlopeErrors {
    double bend = 0;     ///< how the slope changes along the signal, the unit per sample squared, mean
    double straight = 0; ///< how much steeper straight lines to `reach` are than curves, the unit per sample, mean
    double chosen = 0; ///< how much steeper they are since noise crosses a level where it makes the signal steep, mean
};
SlopeErrors slopeErrors(const SampleSource &source, const std::vector<double> &places, bool bySinc, std::int64_t reach);

/// Noise from sample to sample, rms, in the unit: by the least tenth (of few samples more, 400 of them or
/// half) of second differences over up to 64 runs of 1024 samples, which edges do not move. Where hardly a sample lies
/// off the edges it tells too much, up to what they cover over what they leave; noise that hangs together over samples
/// shows less of itself.
double sampleNoise(const SampleSource &source, SampleRange range);
/// The same, or what spreads the states of its survey where that is less.
double sampleNoise(const SampleSource &source, SampleRange range, const AmplitudeSurvey &survey);

/// How far noise moves the farthest sample of a pulse, rms, in samples, where a signal turns back at `places`: from how
/// it falls off beside them. A noisy power-law crest has its highest sample where exp(-2 drop / noise) says, once
/// several samples lie within the noise; the parabola through three samples errs by noise / (sqrt 2 bend) before that.
double crestWander(const SampleSource &source, const std::vector<double> &places, double noise);

} // namespace fulvex
