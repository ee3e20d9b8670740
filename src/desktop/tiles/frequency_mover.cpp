#include "frequency_mover.h"

#include "tile_edits.h"

#include <cmath>

namespace fulvex {

void FrequencyMover::show(std::pair<double, double> span)
{
    if (!(span.second > span.first)) return;
    editTile(
        m_bench, m_tile, QObject::tr("what of a spectrum is shown"),
        [&](TileEntry &tile) {
            tile.centre = (span.first + span.second) / 2;
            tile.span = span.second - span.first;
        },
        "frequencies of " + QString::fromStdString(m_tile));
}

void FrequencyMover::wheel(const QWheelEvent &event, double share, const FrequencyView &view)
{
    show(view.closer(std::clamp(share, 0.0, 1.0), std::pow(1.25, event.angleDelta().y() / 120.0)));
}

bool FrequencyMover::press(const QMouseEvent &event, const FrequencyView &view)
{
    m_dragged.reset();
    if (event.button() != Qt::MiddleButton && !(event.modifiers() & Qt::ShiftModifier)) return false;
    m_dragged = Drag{event.position().x(), view};
    return true;
}

bool FrequencyMover::drag(const QMouseEvent &event, double width)
{
    if (!m_dragged || !(width > 0)) return false;
    show(m_dragged->view.moved((m_dragged->x - event.position().x()) / width));
    return true;
}

bool FrequencyMover::key(const QKeyEvent &event)
{
    if (event.key() != Qt::Key_F) return false;
    editTile(m_bench, m_tile, QObject::tr("all of a spectrum"),
             [](TileEntry &tile) { tile.centre = tile.span = std::nullopt; });
    return true;
}

} // namespace fulvex
