#include "mask_geometry.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fulvex {

namespace {

double cross(MaskPoint o, MaskPoint a, MaskPoint b)
{
    return (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);
}

bool onSegment(MaskPoint a, MaskPoint b, MaskPoint p)
{
    return cross(a, b, p) == 0 && p.x >= std::min(a.x, b.x) && p.x <= std::max(a.x, b.x) && p.y >= std::min(a.y, b.y) &&
           p.y <= std::max(a.y, b.y);
}

} // namespace

bool segmentsMeet(MaskPoint a, MaskPoint b, MaskPoint c, MaskPoint d)
{
    const double abc = cross(a, b, c), abd = cross(a, b, d), cda = cross(c, d, a), cdb = cross(c, d, b);
    if (((abc > 0 && abd < 0) || (abc < 0 && abd > 0)) && ((cda > 0 && cdb < 0) || (cda < 0 && cdb > 0))) return true;
    return onSegment(a, b, c) || onSegment(a, b, d) || onSegment(c, d, a) || onSegment(c, d, b);
}

MaskShape::MaskShape(MaskArea::Kind kind, std::vector<MaskPoint> points) : m_kind(kind), m_points(std::move(points))
{
    constexpr double infinite = std::numeric_limits<double>::infinity();
    const auto [left, right] =
        std::minmax_element(m_points.begin(), m_points.end(), [](auto a, auto b) { return a.x < b.x; });
    const auto [low, high] =
        std::minmax_element(m_points.begin(), m_points.end(), [](auto a, auto b) { return a.y < b.y; });
    m_left = left->x;
    m_right = right->x;
    m_bottom = kind == MaskArea::Kind::below ? -infinite : low->y;
    m_top = kind == MaskArea::Kind::above ? infinite : high->y;
}

double MaskShape::lineAt(double x) const
{
    for (std::size_t i = 1; i < m_points.size(); ++i) {
        const MaskPoint a = m_points[i - 1], b = m_points[i];
        if (x <= b.x) return a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x);
    }
    return m_points.back().y;
}

bool MaskShape::contains(MaskPoint p) const
{
    if (p.x < m_left || p.x > m_right || p.y < m_bottom || p.y > m_top) return false;
    if (m_kind == MaskArea::Kind::above) return p.y >= lineAt(p.x);
    if (m_kind == MaskArea::Kind::below) return p.y <= lineAt(p.x);
    bool inside = false;
    for (std::size_t i = 0, j = m_points.size() - 1; i < m_points.size(); j = i++) {
        const MaskPoint a = m_points[i], b = m_points[j];
        if (onSegment(a, b, p)) return true;
        if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (b.x - a.x) * (p.y - a.y) / (b.y - a.y)) inside = !inside;
    }
    return inside;
}

bool MaskShape::touches(MaskPoint a, MaskPoint b) const
{
    if (std::max(a.x, b.x) < m_left || std::min(a.x, b.x) > m_right || std::max(a.y, b.y) < m_bottom ||
        std::min(a.y, b.y) > m_top)
        return false;
    if (contains(a) || contains(b)) return true;
    const std::size_t sides = m_kind == MaskArea::Kind::closed ? m_points.size() : m_points.size() - 1;
    for (std::size_t i = 0; i < sides; ++i) {
        if (segmentsMeet(a, b, m_points[i], m_points[(i + 1) % m_points.size()])) return true;
    }
    if (m_kind == MaskArea::Kind::closed) return false;
    const double outward = m_kind == MaskArea::Kind::above ? 1 : -1; // the open sides left and right of the line
    for (const MaskPoint &end : {m_points.front(), m_points.back()}) {
        if (std::min(a.x, b.x) > end.x || std::max(a.x, b.x) < end.x || a.x == b.x) continue;
        const double y = a.y + (b.y - a.y) * (end.x - a.x) / (b.x - a.x);
        if (outward * (y - end.y) >= 0) return true;
    }
    return false;
}

std::optional<std::pair<double, double>> MaskShape::spanWithin(double from, double to) const
{
    constexpr double infinite = std::numeric_limits<double>::infinity();
    double low = infinite, high = -infinite;
    const bool closed = m_kind == MaskArea::Kind::closed;
    for (std::size_t p = 0; p + (closed ? 0 : 1) < m_points.size(); ++p) {
        MaskPoint a = m_points[p], b = m_points[(p + 1) % m_points.size()];
        if (a.x > b.x) std::swap(a, b);
        if (b.x < from || a.x > to) continue;
        for (const double x : {std::max(a.x, from), std::min(b.x, to)}) {
            const double y = b.x > a.x ? a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x) : a.y;
            for (const double value : {y, b.x > a.x ? y : b.y}) {
                low = std::min(low, value);
                high = std::max(high, value);
            }
        }
    }
    if (m_points.size() == 1 && m_points[0].x >= from && m_points[0].x <= to) low = high = m_points[0].y;
    if (!(low <= high)) return {};
    if (m_kind == MaskArea::Kind::above) high = infinite;
    if (m_kind == MaskArea::Kind::below) low = -infinite;
    constexpr double rounding = 1e-9;
    const bool bounded = low > -infinite && high < infinite;
    const double some =
        rounding * (bounded ? high - low + std::abs(low) + std::abs(high) : std::abs(low > -infinite ? low : high));
    return std::pair(low - some, high + some);
}

MovableArea::MovableArea(const MaskArea &area, const MaskDefinition &mask, double zero, double one) : m_kind(area.kind)
{
    for (const MaskPoint &point : area.points)
        m_points.push_back({point.x, mask.normalised ? zero + point.y * (one - zero) : point.y});
    const MaskShape shape(m_kind, m_points);
    m_middle = {(shape.left() + shape.right()) / 2, (shape.bottom() + shape.top()) / 2};
    for (const MaskPoint &point : m_points) {
        if (m_kind == MaskArea::Kind::closed) {
            const double width = shape.right() - shape.left(), height = shape.top() - shape.bottom();
            const double wide = mask.seconds ? 2 * point.x - m_middle.x
                                : width > 0  ? (point.x - shape.left()) / width
                                             : point.x;
            m_grown.push_back({wide, height > 0 ? zero + (point.y - shape.bottom()) / height * (one - zero) : point.y});
        } else {
            m_grown.push_back({point.x, m_kind == MaskArea::Kind::above ? one : zero});
        }
    }
}

MaskShape MovableArea::at(double margin) const
{
    std::vector<MaskPoint> points = m_points;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const MaskPoint from = m_points[i];
        const MaskPoint towards = margin >= 0 || m_kind != MaskArea::Kind::closed
                                      ? m_grown[i]
                                      : MaskPoint{2 * from.x - m_middle.x, 2 * from.y - m_middle.y};
        points[i] = {from.x + margin * (towards.x - from.x), from.y + margin * (towards.y - from.y)};
    }
    return MaskShape(m_kind, std::move(points));
}

} // namespace fulvex
