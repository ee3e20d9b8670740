#pragma once

#include "jitter_edges.h"
#include "raw_vector.h"

#include <span>
#include <vector>

namespace fulvex {

/// A sine that edges follow in time.
struct PeriodicLine {
    double frequency = 0;            ///< Hz, up to half the symbol rate: what is faster is folded back there
    double amplitude = 0;            ///< s, half of peak to peak
    double phase = 0;                ///< rad, of the sine at the middle of the edges, see JitterEdges::middle()
    double uncertainty = 0;          ///< s, of the amplitude
    double frequencyUncertainty = 0; ///< Hz
    std::size_t harmonicOf = 0;      ///< which of the lines it is a multiple of; itself for none
    int harmonic = 1;
    double share = 1; ///< of the edges of several records together, those of records that it was found in
    double peakToPeak() const { return 2 * amplitude; }
};

/// The lines of what `rest` (s, one for each edge) holds: out of its spectrum on the grid of unit intervals, between
/// edges nothing, those that stand out of the floor around them by more than chance; each then fitted to the edges
/// themselves by least squares (amplitude, phase, frequency), all together, and taken out of `rest`; again until none
/// is left. Strongest first.
/// Begins with those that are `known` already, from what was not quite the same. Not `toTheEnd`: without another look
/// where the last showed no more than was taken. Source of the fit: IEEE Std 1057, four-parameter sine fit.
std::vector<PeriodicLine> takeOutLines(const JitterEdges &edges, std::span<double> rest,
                                       const std::vector<PeriodicLine> &known, bool toTheEnd, Progress &progress);

/// Tells of lines, strongest first, which is a multiple of which.
void nameHarmonics(std::vector<PeriodicLine> &lines);

/// Peak to peak of those that are slower than a corner (Hz), added up, s: what a loop of that bandwidth follows.
double slowerThan(double corner, const std::vector<PeriodicLine> &lines);

/// What lines are at all edges, s; in half the room, to 1e-7 of itself.
RawVector<float> linesAt(const std::vector<PeriodicLine> &lines, const JitterEdges &edges, Progress &progress);

} // namespace fulvex
