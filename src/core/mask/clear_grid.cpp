#include "clear_grid.h"

#include <limits>

namespace fulvex {

ClearGrid::ClearGrid(const std::vector<MaskShape> &shapes) : m_areas(shapes.size())
{
    constexpr double infinite = std::numeric_limits<double>::infinity();
    m_spans.assign(std::size_t(columns) * m_areas, {infinite, -infinite});
    if (shapes.empty()) return;
    m_left = infinite;
    m_right = -infinite;
    for (const MaskShape &shape : shapes) {
        m_left = std::min(m_left, shape.left());
        m_right = std::max(m_right, shape.right());
    }
    const double width = std::max((m_right - m_left) / columns, 1e-300);
    m_perUnit = 1 / width;
    for (std::size_t i = 0; i < m_areas; ++i) {
        for (int k = 0; k < columns; ++k) {
            // A little wider than the column, so that rounding leaves nothing out.
            const double from = m_left + (k - 2 * slack) * width, to = m_left + (k + 1 + 2 * slack) * width;
            if (const auto span = shapes[i].spanWithin(from, to))
                m_spans[std::size_t(k) * m_areas + i] = {span->first, span->second};
        }
    }
}

} // namespace fulvex
