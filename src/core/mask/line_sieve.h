#pragma once

#include "mask_geometry.h"

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
    /// `step`: UI that lines are long, about. Values are told apart between `low` and `high`.
    LineSieve(double step, double low, double high);
    /// By these from now on, in UI from where their unit interval begins; also of the samples that are placed already.
    void setAreas(const std::vector<MaskShape> &shapes);
    /// Finds where samples lie: in UI counted through the record, and values.
    void place(std::span<const double> ui, std::span<const double> values);
    /// Whether the line from sample i - 1 to sample i is clear, of those that were placed last; i > 0.
    bool isClear(std::size_t i) const
    {
        const std::uint8_t *column = m_bands.data() + m_columns[i], from = column[m_rows[i - 1]];
        return from == column[m_rows[i]] && from != 0;
    }
    /// The same of one, which is looked at more closely: piece by piece.
    bool isClear(MaskPoint a, MaskPoint b) const;

private:
    static constexpr int columns = 128, rows = 254, pieces = 4;
    /// Column by column; 0: not free, as the column and the row behind the last.
    using Bands = std::vector<std::uint8_t>;
    /// For lines that reach so far, UI.
    void fill(Bands &bands, double reach, const std::vector<MaskShape> &shapes) const;
    Bands m_bands, m_ofPieces;
    std::vector<std::int32_t> m_columns; ///< that the line to each sample begins in, where it stands in the bands
    std::vector<std::int32_t> m_rows;
    double m_longest, m_low, m_perValue;
};

} // namespace fulvex
