#pragma once

#include "mask_edits.h"
#include "mask_painter.h"

#include <QPainter>

namespace fulvex {

/// The hand that edits the project's own mask on the eye it lies on: corners are dragged, a double click on a side puts
/// one there, Delete takes one away, arrows move it; an area is dragged by the cross at its middle. Active while that
/// mask is selected.
class MaskPen {
public:
    explicit MaskPen(Workbench &bench) : m_bench(bench) {}
    /// The mask that can be edited on an eye now; empty: none.
    std::string maskOn(const std::string &eye) const;
    void paint(QPainter &painter, const std::string &mask, const EyeWindow &window, const Look &look) const;
    /// Each is true where it was the pen's, and nobody else's.
    bool press(const std::string &mask, const EyeWindow &window, QPointF at);
    bool drag(const std::string &mask, const EyeWindow &window, QPointF to);
    bool release() { return std::exchange(m_held, Held::nothing) != Held::nothing; }
    bool doubleClick(const std::string &mask, const EyeWindow &window, QPointF at);
    bool key(const std::string &mask, int key, bool fine);
    bool holds() const { return m_held != Held::nothing; }

private:
    struct Ground {
        const MaskEntry *entry;
        MaskGround ground;
        MaskMirror mirror;
        QPointF on(const EyeWindow &window, MaskPoint point) const;
        MaskPoint from(const EyeWindow &window, QPointF at) const;
        QPointF middle(const EyeWindow &window, std::size_t area) const;
    };
    std::optional<Ground> on(const std::string &mask) const;
    static constexpr double near = 8; ///< pixels
    Workbench &m_bench;
    enum class Held { nothing, vertex, area } m_held = Held::nothing;
    MaskPlace m_place; ///< chosen
    bool m_chosen = false;
    std::string m_of;               ///< the mask whose vertex is chosen
    std::vector<MaskArea> m_before; ///< as they were when the drag began
    MaskPoint m_from{};
    int m_drag = 0; ///< so that each is a step of its own
};

} // namespace fulvex
