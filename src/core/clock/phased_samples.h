#pragma once

#include "phase_kernels.h"
#include "raw_vector.h"
#include "stretch_samples.h"
#include "unit_interval_map.h"

#include <cstdint>
#include <optional>

namespace fulvex {

/// Samples of a stretch of the record, and the clock as phases of them.
struct PhasedSamples : StretchSamples {
    /// Reads those of some unit intervals and of `margin` more to either side. False where the clock has unit intervals
    /// without a sample. `interpolation`: points of the source to a sample that the map is of.
    bool load(const SampleSource &source, const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
              std::int64_t margin);

    UnitIntervalMap::Straights lines; ///< counted from the first boundary of the margin; with some behind the last
    RawVector<std::uint32_t> phases;  ///< see ClockPhase; with what kernels need behind them

private:
    std::optional<SampleRange> layClock(const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
                                        std::int64_t margin);
};

} // namespace fulvex
