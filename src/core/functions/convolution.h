#pragma once

#include "sample_source.h"

#include <vector>

namespace fulvex {

/// y[i] = sum over k of taps[k] x[i + ahead - k], at least one tap. Each stretch between gaps is filtered
/// for itself, its first and last value lasting for ever. By products of transforms over fixed stretches of the record:
/// the same bits for every block.
SourcePtr convolved(const SourcePtr &source, std::vector<double> taps, std::int64_t ahead);

} // namespace fulvex
