#pragma once

#include "mask_definition.h"

#include <optional>
#include <utility>

namespace fulvex {

/// Whether the straight lines from a to b and from c to d have a point in common.
bool segmentsMeet(MaskPoint a, MaskPoint b, MaskPoint c, MaskPoint d);

/// An area at a margin, ready for hit tests; x in UI, y in the channel's unit. Its border belongs to it.
class MaskShape {
public:
    MaskShape() = default;
    bool operator==(const MaskShape &) const = default;
    MaskShape(MaskArea::Kind kind, std::vector<MaskPoint> points);
    bool contains(MaskPoint point) const;
    /// Whether any point of the straight line between a and b lies in the area.
    bool touches(MaskPoint a, MaskPoint b) const;
    /// The values between which the area lies from one x up to another, a little wider than that; infinite where it is
    /// open. None: it does not reach there.
    std::optional<std::pair<double, double>> spanWithin(double from, double to) const;
    double left() const { return m_left; }
    double right() const { return m_right; }
    double bottom() const { return m_bottom; }
    double top() const { return m_top; }
    MaskArea::Kind kind() const { return m_kind; }
    const std::vector<MaskPoint> &points() const { return m_points; }

private:
    double lineAt(double x) const;
    MaskArea::Kind m_kind = MaskArea::Kind::closed;
    std::vector<MaskPoint> m_points;
    double m_left = 0, m_right = 0, m_bottom = 0, m_top = 0; ///< what the area covers; infinite where it is open
};

/// An area laid on an eye, movable by its margin. At margin +1 a closed area has grown until its box fills the space
/// between the crossings and the state levels, at -1 it has shrunk to its middle; the limits of the areas above and
/// below reach the state levels at +1 and stand twice as far off at -1; in between linear. A template in seconds knows
/// no crossings: at +1 a closed area is twice as wide.
class MovableArea {
public:
    /// `zero` and `one`: state levels in the channel's unit.
    MovableArea(const MaskArea &area, const MaskDefinition &mask, double zero, double one);
    MaskShape at(double margin) const;

private:
    MaskArea::Kind m_kind;
    std::vector<MaskPoint> m_points, m_grown; ///< in UI and the channel's unit at margin 0 and +1
    MaskPoint m_middle{};
};

} // namespace fulvex
