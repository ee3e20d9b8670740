#include "clear_grid.h"

#include <cmath>
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
        const MaskShape &shape = shapes[i];
        const std::vector<MaskPoint> &points = shape.points();
        const bool closed = shape.kind() == MaskArea::Kind::closed;
        for (int k = 0; k < columns; ++k) {
            Span &span = m_spans[std::size_t(k) * m_areas + i];
            // A little wider than the column, so that rounding leaves nothing out.
            const double from = m_left + (k - 2 * slack) * width, to = m_left + (k + 1 + 2 * slack) * width;
            for (std::size_t p = 0; p + (closed ? 0 : 1) < points.size(); ++p) {
                MaskPoint a = points[p], b = points[(p + 1) % points.size()];
                if (a.x > b.x) std::swap(a, b);
                if (b.x < from || a.x > to) continue;
                for (const double x : {std::max(a.x, from), std::min(b.x, to)}) {
                    const double y = b.x > a.x ? a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x) : a.y;
                    for (const double value : {y, b.x > a.x ? y : b.y}) {
                        span.low = std::min(span.low, value);
                        span.high = std::max(span.high, value);
                    }
                }
            }
            if (points.size() == 1 && points[0].x >= from && points[0].x <= to) span = {points[0].y, points[0].y};
            if (!(span.low <= span.high)) continue;
            if (shape.kind() == MaskArea::Kind::above) span.high = infinite;
            if (shape.kind() == MaskArea::Kind::below) span.low = -infinite;
            constexpr double rounding = 1e-9;
            const double some = rounding * (std::abs(span.low) < infinite && std::abs(span.high) < infinite
                                                ? span.high - span.low + std::abs(span.low) + std::abs(span.high)
                                                : std::abs(std::abs(span.low) < infinite ? span.low : span.high));
            span.low -= some;
            span.high += some;
        }
    }
}

} // namespace fulvex
