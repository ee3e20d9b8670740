#pragma once

#include "crossing_masks.h"
#include "edge_list.h"
#include "progress.h"
#include "reference_levels.h"

#include <span>
#include <vector>

namespace fulvex {

enum class EdgeInterpolation { automatic, instants, linear, sinc };

/// All crossings of the mid level within a range, on all cores; the same bits as one EdgeScanner over the range.
/// `automatic` refines by windowed sinc (SincKernel) where transitions take fewer than 5 samples between the low and
/// the high level (median of up to 2000 of them; counted on straight lines, which make 5.25 of a smooth edge of 5).
/// `instants`, for clocks and jitter, does so already below 12, so that the instants of band-limited data are good to
/// 1e-3 of a sample rms whatever its rate.
EdgeList findEdges(const SampleSource &source, SampleRange range, const ReferenceLevels &levels,
                   EdgeInterpolation interpolation, Progress &progress);

/// The parts of findEdges, for who keeps them. Whether a choice depends on how many samples a transition takes
/// (medianTransitionSamples); what it comes to then, sinc or linear; and straight-line crossings of a level refined.
inline bool isOpen(EdgeInterpolation asked)
{
    return asked == EdgeInterpolation::automatic || asked == EdgeInterpolation::instants;
}
EdgeInterpolation settled(EdgeInterpolation asked, double transitionSamples);
EdgeList refinedEdges(const SampleSource &source, EdgeList edges, double mid, Progress &progress);
EdgeList copyOf(const EdgeList &edges); ///< made on all cores

/// Crossings by the straight line only. Those of several levels from one reading of the samples.
EdgeList findLinearEdges(const SampleSource &source, SampleRange range, CrossingLevel level, Progress &progress);
std::vector<EdgeList> findLinearEdges(const SampleSource &source, SampleRange range,
                                      std::span<const CrossingLevel> levels, Progress &progress);

/// The band of `hysteresis` around `mid`.
CrossingLevel crossingLevel(double mid, double hysteresis);

} // namespace fulvex
