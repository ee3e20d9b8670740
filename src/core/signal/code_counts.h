#pragma once

#include "amplitude_survey.h"

#include <array>

namespace fulvex {

/// How often each code occurs in stretches of samples that follow on each other: all that statistics and histograms
/// need of them is whole numbers, which take an addition a sample.
class CodeCounts {
public:
    /// `scale`: of a positive step.
    explicit CodeCounts(const CodeScale &scale) : m_scale(scale) {}
    /// The first code is sample `first`'s; there are 2^32 samples at most. The least and the greatest of them; there is
    /// one at least.
    template <typename Code>
    std::pair<std::int32_t, std::int32_t> add(std::int64_t first, std::span<const Code> codes);
    /// Adds what was counted, once, to statistics and histogram of the samples before it.
    void addTo(AmplitudeStats &stats, AmplitudeHistogram &histogram);

private:
    void cover(std::int32_t low, std::int32_t high);
    CodeScale m_scale;
    std::int32_t m_base = 0;                ///< the code that is counted first
    std::int32_t m_low = 0, m_high = -1;    ///< of the codes so far
    std::int64_t m_lowAt = 0, m_highAt = 0; ///< samples
    /// Of few codes those of every second sample each: one that comes twice in a row need not wait for itself. Of many
    /// that is rare, and there is the first alone.
    std::array<std::vector<std::uint32_t>, 2> m_counts;
};

} // namespace fulvex
