#pragma once

#include "edge_list.h"
#include "transition_finder.h"

namespace fulvex {

/// What may shift all instants of one direction alike, looked at on up to 200 edges spread evenly.
struct InstantErrors {
    double slope = 0;    ///< at the crossing, the unit per sample, without sign; median; 0: no such edge
    double straight = 0; ///< samples: how much later the straight line is than a curve through four samples,
                         ///< mean; 0 where edges are by sinc
};

InstantErrors instantErrors(const SampleSource &source, const EdgeList &edges, bool rising);

/// Noise from sample to sample, rms, in the unit: the median of second differences over up to 64 runs of 1024 samples,
/// which edges do not move and steps of the signal hardly. Noise that hangs together over samples shows less of itself.
double sampleNoise(const SampleSource &source, SampleRange range);

/// How much longer transitions last on straight lines than on such curves, samples, mean over up to 200 of them; 0
/// where the edges that they were found at are by sinc.
double straightTransitions(const SampleSource &source, const EdgeList &edges, const Transitions &transitions);

} // namespace fulvex
