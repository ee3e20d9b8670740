#pragma once

#include "mask_geometry.h"
#include "phased_samples.h"
#include "raw_vector.h"

#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// Tells of the lines from each sample of a record to the next, many at a time, that they come nowhere near areas of
/// any unit interval. For each of many columns of a unit interval, in which a line of usual length may begin, it has
/// numbered the bands of values that are free of areas as far as such a line reaches: one whose ends lie in the same
/// band is clear. What it says is clear is clear; the rest has to be looked at.
class LineSieve {
public:
    /// `step`: UI that lines are long, about, less than 8. Values are told apart between `low` and `high`.
    LineSieve(double step, double low, double high);
    /// By these from now on, in UI from where their unit interval begins.
    void setAreas(const std::vector<MaskShape> &shapes);
    /// Of the samples of `at` that the record has: bit i of the words says that the line from the i-th to the one
    /// behind it is not known to be clear, even after a closer look. There is a bit for each but the last.
    std::span<const std::uint64_t> suspects(const PhasedSamples &at);
    /// Of one, which is looked at more closely: piece by piece. In UI counted through the record.
    bool isClear(MaskPoint a, MaskPoint b) const;

private:
    using Bands = std::vector<std::uint32_t>; ///< see SieveBands
    /// For lines that reach so far, UI.
    void fill(Bands &bands, double reach, const std::vector<MaskShape> &shapes) const;
    Bands m_bands, m_ofPieces;
    RawVector<std::int32_t> m_rows;
    std::vector<std::uint64_t> m_suspects;
    double m_longest, m_low, m_perValue;
};

} // namespace fulvex
