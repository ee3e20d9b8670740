#pragma once

#include "sample_source.h"

namespace fulvex {

/// `source` laid on another grid by band-limited interpolation (SincKernel). Positions before its first or after its
/// last sample, and those whose kernel touches a gap, are gaps, except that the kernel itself may reach beyond the
/// ends, where the first or last sample is repeated. On the source's own grid, returns it unchanged.
SourcePtr resampled(SourcePtr source, const TimeAxis &axis);

/// `source` at `factor` times its sample rate, every factor-th sample being one of its own.
SourcePtr upsampled(SourcePtr source, int factor);

/// The part of the first axis' grid that all axes cover; count 0 when there is none.
TimeAxis commonAxis(const std::vector<TimeAxis> &axes);

} // namespace fulvex
