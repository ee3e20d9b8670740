#pragma once

#include "frequency_view.h"
#include "workbench.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>

namespace fulvex {

/// What hands do to the frequencies (or lags) that a tile shows: the wheel comes closer about the pointer, a drag with
/// Shift moves along, F shows all. Keeps it in the tile's entry.
class FrequencyMover {
public:
    FrequencyMover(Workbench &bench, std::string tile) : m_bench(bench), m_tile(std::move(tile)) {}
    void wheel(const QWheelEvent &event, double share, const FrequencyView &view); ///< share: of the axis
    /// Begins a drag where it is one; whether it is.
    bool press(const QMouseEvent &event, const FrequencyView &view);
    bool drag(const QMouseEvent &event, double width);
    void release() { m_dragged.reset(); }
    bool key(const QKeyEvent &event); ///< whether it was such a key

private:
    void show(std::pair<double, double> span);
    Workbench &m_bench;
    std::string m_tile;
    struct Drag {
        double x;
        FrequencyView view;
    };
    std::optional<Drag> m_dragged;
};

} // namespace fulvex
