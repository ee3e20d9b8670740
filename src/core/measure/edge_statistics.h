#pragma once

#include "edge_list.h"
#include "population.h"

#include <optional>

namespace fulvex {

/// The period of chosen edges as one number for the whole record: the slope of the straight line through their
/// instants over their count, by least squares.
struct PeriodFit {
    double period = 0;      ///< samples
    double uncertainty = 0; ///< samples, standard
    std::int64_t edges = 0, periods = 0;
};

/// Of rising edges where both are chosen. Periods that a gap in the capture takes are counted by the mean period of the
/// others. None with fewer than three edges. The uncertainty is the line's from what is left over, neighbours that hang
/// together heeded: residues are summed in about sqrt(N) runs. Source: JCGM 100:2008, H.3; runs as clusters with the
/// jackknife's correction: Cameron, Miller, "A Practitioner's Guide to Cluster-Robust Inference" (2015), VI.
std::optional<PeriodFit> fitPeriod(const EdgeList &edges, EdgeChoice choice);

/// Mean span of at least one occurrence, s, where they follow on each other; gaps between them count.
double meanSpan(const Population &population);

/// Standard uncertainty of the mean of periods that follow on each other, in their unit. It rests on the first and the
/// last edge alone, so on how far two edges so many periods apart stray: that is measured for a sixty-fourth to an
/// eighth of them and carried on by the power of the distance that fits. Edges that are independent stray alike at
/// every distance, periods that are independent with the root of it. None for fewer than 16 periods, or where they do
/// not follow on each other.
std::optional<double> meanPeriodUncertainty(const Population &periods);
/// The same of frequencies, each of which lasts a period.
std::optional<double> meanFrequencyUncertainty(const Population &frequencies);

} // namespace fulvex
