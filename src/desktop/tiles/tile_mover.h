#pragma once

#include "tile_frame.h"

#include <QRubberBand>
#include <QTabBar>

namespace fulvex {

/// Composes a sheet by hand. A tile's head dragged onto another exchanges the two, onto a sheet's tab sends it there;
/// its lower right corner dragged sets how many places of the grid it takes; a double click on its head makes it fill
/// the sheet, and again as it was. By keys: Ctrl+Alt+arrow exchanges it with its neighbour, with Shift sets its size;
/// Alt+Return makes it large.
class TileMover final : public QObject {
    Q_OBJECT
public:
    TileMover(Workbench &bench, QTabBar *tabs, QWidget *page);
    void watch(const std::vector<TileFrame *> &tiles);

signals:
    void enlarged(TileFrame *tile);

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    enum class Hold { none, head, corner };
    bool press(TileFrame *tile, QMouseEvent *event);
    bool move(QMouseEvent *event);
    bool release(QMouseEvent *event);
    bool key(TileFrame *tile, QKeyEvent *event);
    TileFrame *tileAt(QPoint global) const;
    TileFrame *neighbour(const TileFrame *tile, QPoint towards) const;
    void exchange(const TileFrame *tile, const TileFrame *with);
    void resize(const TileFrame *tile, int columns, int rows);
    Workbench &m_bench;
    QTabBar *m_tabs;
    QWidget *m_page;
    QRubberBand *m_band; ///< where it would go
    std::vector<QPointer<TileFrame>> m_tiles;
    QPointer<TileFrame> m_held;
    Hold m_hold = Hold::none;
    QPoint m_from;
    bool m_moving = false;
};

} // namespace fulvex
