#pragma once

#include "edge_list.h"

#include <complex>
#include <cstddef>
#include <string>

namespace fulvex {

/// A symbol's period, samples; or why there is none.
struct FoundPeriod {
    double period = 0;
    std::string reason = {};
};

/// The longest period of which the intervals between crossings are multiples; for a clock waveform half its period.
FoundPeriod periodOfIntervals(const EdgeList &edges);

/// The maximum of |sum exp(2 pi i t / T)| near a period, within 1 % of it, over spans that grow to some thousand edges.
double resonantPeriod(const EdgeList &edges, double period);

/// The sum of the first `count` edges as arrows that turn once a period from the first one on.
std::complex<double> resonance(const EdgeList &edges, std::size_t count, double period);

} // namespace fulvex
