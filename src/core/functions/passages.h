#pragma once

#include "edge_list.h"
#include "progress.h"
#include "sample_source.h"

#include <vector>

namespace fulvex {

/// Where a signal passes the middle between its states upwards (histogram states, hysteresis 10 % of the amplitude):
/// sample positions, refined by sinc where edges take few samples. Pieces between gaps are told by afterGap.
struct Passages {
    std::vector<double> positions;
    std::vector<bool> afterGap; ///< a gap lies between this one and the one before
};
Passages risingPassages(const SampleSource &source, Progress &progress);

} // namespace fulvex
