#pragma once

#include "tile_mover.h"

#include <QGridLayout>
#include <QTabBar>
#include <QWidget>

namespace fulvex {

/// The page in the middle: the shown sheet's tiles in a grid, sheet tabs below.
class SheetView final : public QWidget {
    Q_OBJECT
public:
    explicit SheetView(Workbench &bench, QWidget *parent = nullptr);
    QTabBar *tabs() { return m_tabs; }
    std::vector<TileFrame *> tiles() const { return m_tiles; }
    QWidget *page() { return m_page; }            ///< that the tiles stand on
    TileFrame *tile(const std::string &id) const; ///< of those shown; null for another
    std::string chosenTile() const;               ///< the one that was gone to last; else the first
    void enlarge(TileFrame *tile);                ///< or as it was

signals:
    void contextRequested(const fulvex::Selection &what, QPoint at); ///< of a tile or a sheet

private:
    void rebuild();
    Workbench &m_bench;
    QWidget *m_page;
    QGridLayout *m_grid;
    QTabBar *m_tabs;
    QLabel *m_empty;
    TileMover *m_mover;
    std::string m_large; ///< tile that fills the sheet; empty: none
    std::vector<TileFrame *> m_tiles;
    std::vector<TileEntry> m_shown;
    std::pair<std::uint64_t, int> m_shownAt{0, -1}; ///< session and sheet
};

} // namespace fulvex
