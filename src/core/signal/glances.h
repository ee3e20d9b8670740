#pragma once

#include "sample_source.h"

#include <algorithm>

namespace fulvex {

/// Tells a source that `places`, of so many that are spread over all of it, were looked at: the system may page in many
/// samples about each, which nobody reads again. Of places near to each other nothing is told.
inline void releaseGlances(const SampleSource &source, std::int64_t places, std::int64_t ofAll)
{
    constexpr std::int64_t pagedIn = 1 << 19, near = 1 << 15; // samples
    const std::int64_t samples = source.axis().count;
    if (samples / near > ofAll) source.release({0, std::min(samples, places * pagedIn)});
}

} // namespace fulvex
