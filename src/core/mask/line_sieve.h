#pragma once

#include "mask_geometry.h"
#include "phased_samples.h"
#include "raw_vector.h"

#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// Tells of the lines from each sample of a record to the next, many at a time, that they touch no area of any unit
/// interval. For each of many columns of a unit interval, in which a line of usual length may begin, and each of many
/// rows of values that it may begin and end at, it has noted whether areas are out of its way. What it says is clear is
/// clear; the rest has to be looked at.
class LineSieve {
public:
    /// `step`: UI that lines are long, about, less than 8. Areas in UI from where their unit interval begins.
    LineSieve(double step, const std::vector<MaskShape> &areas);

    /// What is found of many lines, and what it takes; kept for its buffers.
    struct Found {
        RawVector<std::int32_t> rows;
        std::vector<std::uint64_t> suspects;
    };
    /// Of the samples of `at` that the record has: bit i of the words says that the line from the i-th to the one
    /// behind it is not known to be clear. There is a bit for each but the last.
    std::span<const std::uint64_t> suspects(const PhasedSamples &at, Found &found) const;
    /// Of one, in UI counted through the record.
    bool isClear(MaskPoint a, MaskPoint b) const;

private:
    RawVector<std::uint32_t> m_clear; ///< see SieveLines
    double m_shortest, m_longest, m_low, m_perValue;
};

} // namespace fulvex
