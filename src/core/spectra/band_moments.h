#pragma once

#include "progress.h"
#include "segments.h"

#include <vector>

namespace fulvex {

/// A span of a record, and how strong a band is in it.
struct BandMoment {
    SampleRange samples;
    double rms = 0; ///< of what lies in the band, unit
};

struct BandMoments {
    std::int64_t count = 0;   ///< spans that were looked at
    double mean = 0, std = 0; ///< of their rms, unit
    std::vector<BandMoment> strongest;
};

/// Where in a range the band from `low` to `high` (Hz) is strongest: in segments under Hann's window, four times as
/// long as tells such a band from what is beside it, or as long as the range; strongest first, none of which overlap.
BandMoments bandMoments(const SampleSource &source, SampleRange range, double low, double high, std::size_t most,
                        Progress &progress);

} // namespace fulvex
