#pragma once

#include "mask_geometry.h"

#include <algorithm>
#include <vector>

namespace fulvex {

/// Tells of most lines, quickly, that they come nowhere near some areas: for each of many columns across them the
/// values between which an area lies there. What it says is clear is clear; the rest has to be looked at.
class ClearGrid {
public:
    explicit ClearGrid(const std::vector<MaskShape> &shapes);
    /// No point of the straight line between two points lies in an area.
    bool isClear(MaskPoint a, MaskPoint b) const
    {
        const double left = std::min(a.x, b.x), right = std::max(a.x, b.x);
        if (!(right >= m_left && left <= m_right)) return right < m_left || left > m_right;
        const double low = std::min(a.y, b.y), high = std::max(a.y, b.y);
        const int first = columnOf(left, -slack), last = columnOf(right, slack);
        const Span *spans = m_spans.data() + std::size_t(first) * m_areas,
                   *end = m_spans.data() + std::size_t(last + 1) * m_areas;
        for (; spans != end; ++spans)
            if (!(high < spans->low || low > spans->high)) return false;
        return true;
    }

private:
    int columnOf(double x, double more) const
    {
        return int(std::clamp((x - m_left) * m_perUnit + more, 0.0, columns - 1.0));
    }
    struct Span {
        double low, high;
    };
    static constexpr int columns = 128;
    static constexpr double slack = 1e-6; ///< columns, for rounding
    std::vector<Span> m_spans;            ///< column by column, an area each
    std::size_t m_areas;
    double m_left = 0, m_right = 0, m_perUnit = 1;
};

} // namespace fulvex
