#include "tile_mover.h"

#include "tile_edits.h"

#include <algorithm>

namespace fulvex {

TileMover::TileMover(Workbench &bench, QTabBar *tabs, QWidget *page)
    : QObject(page), m_bench(bench), m_tabs(tabs), m_page(page), m_band(new QRubberBand(QRubberBand::Rectangle, page))
{
}

void TileMover::watch(const std::vector<TileFrame *> &tiles)
{
    m_tiles.assign(tiles.begin(), tiles.end());
    for (TileFrame *tile : tiles) tile->installEventFilter(this);
}

bool TileMover::eventFilter(QObject *watched, QEvent *event)
{
    auto *tile = qobject_cast<TileFrame *>(watched);
    if (!tile) return false;
    switch (event->type()) {
    case QEvent::MouseButtonPress:
        return press(tile, static_cast<QMouseEvent *>(event));
    case QEvent::MouseMove:
        return move(static_cast<QMouseEvent *>(event));
    case QEvent::MouseButtonRelease:
        return release(static_cast<QMouseEvent *>(event));
    case QEvent::MouseButtonDblClick:
        if (static_cast<QMouseEvent *>(event)->position().y() >= TileFrame::headHeight) return false;
        emit enlarged(tile);
        return true;
    case QEvent::KeyPress:
        return key(tile, static_cast<QKeyEvent *>(event));
    default:
        return false;
    }
}

bool TileMover::press(TileFrame *tile, QMouseEvent *event)
{
    if (event->button() != Qt::LeftButton) return false;
    constexpr int corner = 12;
    const QPointF at = event->position();
    m_hold = at.x() > tile->width() - corner && at.y() > tile->height() - corner ? Hold::corner
             : at.y() < TileFrame::headHeight                                    ? Hold::head
                                                                                 : Hold::none;
    if (m_hold == Hold::none) return false;
    m_held = tile;
    m_from = event->globalPosition().toPoint();
    m_moving = false;
    tile->setFocus(Qt::MouseFocusReason);
    return true;
}

bool TileMover::move(QMouseEvent *event)
{
    if (m_hold == Hold::none || !m_held) return false;
    const QPoint at = event->globalPosition().toPoint();
    m_moving |= (at - m_from).manhattanLength() >= QApplication::startDragDistance();
    if (!m_moving) return true;
    const TileFrame *target = m_hold == Hold::head ? tileAt(at) : nullptr;
    const QRect held = m_held->geometry();
    if (m_hold == Hold::corner)
        m_band->setGeometry(QRect(held.topLeft(), m_page->mapFromGlobal(at)));
    else if (target)
        m_band->setGeometry(target->geometry());
    m_band->setVisible(m_hold == Hold::corner || (target && target != m_held));
    return true;
}

bool TileMover::release(QMouseEvent *event)
{
    const Hold hold = std::exchange(m_hold, Hold::none);
    if (hold == Hold::none) return false;
    m_band->hide();
    TileFrame *tile = m_held;
    if (!tile || tile->index() < 0) return true; // it went meanwhile
    if (!m_moving) {
        tile->choose();
        return true;
    }
    const QPoint at = event->globalPosition().toPoint();
    if (hold == Hold::corner) {
        // As many places as its present ones would fill.
        const QPoint to = m_page->mapFromGlobal(at) - tile->geometry().topLeft();
        const TileEntry entry = tile->entry();
        resize(tile, int(std::lround(double(to.x()) / tile->width() * entry.columnSpan)) - entry.columnSpan,
               int(std::lround(double(to.y()) / tile->height() * entry.rowSpan)) - entry.rowSpan);
        return true;
    }
    if (const int sheet = m_tabs->tabAt(m_tabs->mapFromGlobal(at)); sheet >= 0) {
        m_bench.change(tr("send tile to another sheet"),
                       [&, id = tile->entry().id](Document &document) { sendTile(document, id, sheet); });
    } else if (const TileFrame *target = tileAt(at)) {
        exchange(tile, target);
    }
    return true;
}

bool TileMover::key(TileFrame *tile, QKeyEvent *event)
{
    if (event->modifiers() == Qt::AltModifier && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)) {
        emit enlarged(tile);
        return true;
    }
    if (!(event->modifiers() & Qt::ControlModifier) || !(event->modifiers() & Qt::AltModifier)) return false;
    const QPoint towards = event->key() == Qt::Key_Left    ? QPoint(-1, 0)
                           : event->key() == Qt::Key_Right ? QPoint(1, 0)
                           : event->key() == Qt::Key_Up    ? QPoint(0, -1)
                           : event->key() == Qt::Key_Down  ? QPoint(0, 1)
                                                           : QPoint();
    if (towards.isNull()) return false;
    if (event->modifiers() & Qt::ShiftModifier)
        resize(tile, towards.x(), towards.y());
    else if (const TileFrame *other = neighbour(tile, towards))
        exchange(tile, other);
    return true;
}

TileFrame *TileMover::tileAt(QPoint global) const
{
    for (const auto &tile : m_tiles) {
        if (tile && tile->isVisible() && tile->rect().contains(tile->mapFromGlobal(global))) return tile;
    }
    return nullptr;
}

/// The nearest that lies that way.
TileFrame *TileMover::neighbour(const TileFrame *tile, QPoint towards) const
{
    TileFrame *nearest = nullptr;
    int least = 0;
    for (const auto &other : m_tiles) {
        if (!other || other == tile) continue;
        const QPoint way = other->geometry().center() - tile->geometry().center();
        const int along = way.x() * towards.x() + way.y() * towards.y(), distance = way.manhattanLength();
        if (2 * along < distance || (nearest && distance >= least)) continue;
        nearest = other;
        least = distance;
    }
    return nearest;
}

void TileMover::exchange(const TileFrame *tile, const TileFrame *with)
{
    if (tile == with) return;
    m_bench.change(tr("exchange tiles"),
                   [a = tile->entry().id, b = with->entry().id](Document &document) { exchangeTiles(document, a, b); });
}

void TileMover::resize(const TileFrame *tile, int columns, int rows)
{
    m_bench.change(tr("size of a tile"),
                   [&, id = tile->entry().id](Document &document) { growTile(document, id, columns, rows); });
}

} // namespace fulvex
