#pragma once

#include "edge_list.h"
#include "sample_source.h"

#include <optional>

namespace fulvex {

/// Noise of a clock's samples, rms, in the unit, where its wave turns and an edge's jitter moves nothing: from how the
/// levels in the middle between two edges differ from one pulse to the next of the same direction, in up to some 1000
/// places spread over the record. Of data it tells too much, what symbols before do to a level included. None with
/// fewer than 16 pulses.
std::optional<double> crestNoise(const SourcePtr &source, const EdgeList &edges);

} // namespace fulvex
