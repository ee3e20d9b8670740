#pragma once

#include "edge_list.h"
#include "sample_window.h"

#include <cstdint>
#include <optional>
#include <span>

namespace fulvex {

/// The instant at which the band-limited signal passes `level`, near a crossing that was found on the straight line
/// between two samples: the windowed sinc (SincKernel) is evaluated at the quarters of the sample interval, and the
/// quartic through these five points is solved. Where the kernel reaches a gap or beyond the record, or the quartic
/// has no passage there, the linear position is returned. For content up to a fifth of the sample rate the quartic adds
/// less than 1e-4 of the amplitude.
double refinedCrossing(SampleWindow &window, double position, double level, bool rising);

/// The same for many crossings of one level, in place; sixteen side by side in the widest vectors there are, those that
/// do not settle by refinedCrossing. Agrees with it to 1e-8 of a sample.
void refineCrossings(SampleWindow &window, double level, std::span<double> positions,
                     std::span<const std::uint8_t> flags);

/// Slope of the quartic of refinedCrossing() at a position, per sample; none where the kernel reaches a gap or beyond
/// the record.
std::optional<double> refinedSlope(SampleWindow &window, double position);

} // namespace fulvex
