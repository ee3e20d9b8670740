#pragma once

#include "mask_painter.h"
#include "workbench.h"

namespace fulvex {

/// The hand that corrects on an eye of several amplitude levels what was found by itself: the levels by their grips at
/// the plot's left, the thresholds between them at its right. What is dragged becomes the clock's own levels. Active
/// while the eye, or its clock, is selected.
class LevelPen {
public:
    explicit LevelPen(Workbench &bench) : m_bench(bench) {}
    bool isOn(const std::string &eye) const;
    void paint(QPainter &painter, const std::string &eye, const EyeWindow &window, const Look &look) const;
    /// Each is true where it was the pen's.
    bool press(const std::string &eye, const EyeWindow &window, QPointF at);
    bool drag(const std::string &eye, const EyeWindow &window, QPointF to);
    bool release() { return std::exchange(m_held, false); }
    bool holds() const { return m_held; }

private:
    /// Both in the channel's unit, rising.
    struct Values {
        std::vector<double> levels, thresholds;
    };
    std::optional<Values> valuesOf(const std::string &eye) const;
    Workbench &m_bench;
    bool m_held = false, m_threshold = false;
    std::size_t m_index = 0;
    int m_drag = 0; ///< so that each is a step of its own
};

} // namespace fulvex
