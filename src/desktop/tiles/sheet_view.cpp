#include "sheet_view.h"

#include "axis_painter.h"
#include "retire.h"
#include "tile_edits.h"
#include "tile_kinds.h"

#include <algorithm>
#include <tuple>

namespace fulvex {

/// Whether two sheets have the same tiles in the same places: then the widgets stay.
static bool sameLayout(const std::vector<TileEntry> &a, const std::vector<TileEntry> &b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const TileEntry &x, const TileEntry &y) {
        return std::tie(x.id, x.kind, x.row, x.column, x.rowSpan, x.columnSpan) ==
               std::tie(y.id, y.kind, y.row, y.column, y.rowSpan, y.columnSpan);
    });
}

SheetView::SheetView(Workbench &bench, QWidget *parent) : QWidget(parent), m_bench(bench)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    m_page = new QWidget;
    m_grid = new QGridLayout(m_page);
    m_grid->setContentsMargins(8, 8, 8, 6);
    m_grid->setSpacing(8);
    layout->addWidget(m_page, 1);
    m_empty = new QLabel(tr("An empty sheet: add a tile from the menu Sheet, or drag one onto its tab."));
    m_empty->setWordWrap(true);
    m_empty->setAlignment(Qt::AlignCenter);
    m_grid->addWidget(m_empty, 0, 0);
    m_tabs = new QTabBar;
    m_tabs->setObjectName("sheetTabs");
    m_tabs->setExpanding(false);
    m_tabs->setDrawBase(false);
    m_tabs->setToolTip(tr("Sheets: Ctrl+PgUp, Ctrl+PgDown"));
    layout->addWidget(m_tabs);
    m_tabs->setMovable(true);
    m_tabs->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_tabs, &QTabBar::customContextMenuRequested, this, [this](QPoint at) {
        const int index = m_tabs->tabAt(at);
        if (index >= 0)
            emit contextRequested({Selection::Kind::sheet, m_bench.document().sheets[std::size_t(index)].id},
                                  m_tabs->mapToGlobal(at));
    });
    m_mover = new TileMover(bench, m_tabs, m_page);
    connect(m_mover, &TileMover::enlarged, this, &SheetView::enlarge);
    connect(m_tabs, &QTabBar::tabMoved, this, [this](int from, int to) {
        m_bench.change(tr("order of sheets"), [&](Document &document) {
            auto &sheets = document.sheets;
            const auto low = sheets.begin() + std::min(from, to), high = sheets.begin() + std::max(from, to);
            from < to ? std::rotate(low, low + 1, high + 1) : std::rotate(low, high, high + 1);
        });
    });
    connect(m_tabs, &QTabBar::currentChanged, this, [this](int index) { m_bench.showSheet(index); });
    connect(&bench, &Workbench::documentChanged, this, &SheetView::rebuild);
    connect(&bench, &Workbench::sheetChanged, this, &SheetView::rebuild);
    rebuild();
}

void SheetView::rebuild()
{
    const auto &sheets = m_bench.document().sheets;
    {
        const QSignalBlocker quiet(m_tabs);
        while (m_tabs->count() > int(sheets.size())) m_tabs->removeTab(m_tabs->count() - 1);
        for (int i = 0; i < int(sheets.size()); ++i) {
            const QString title = text(sheets[std::size_t(i)].title);
            if (i < m_tabs->count())
                m_tabs->setTabText(i, title);
            else
                m_tabs->addTab(title);
        }
        m_tabs->setCurrentIndex(m_bench.sheet());
        m_tabs->updateGeometry(); // it does not tell of tabs that come while another page is shown
    }
    const std::vector<TileEntry> wanted = std::size_t(m_bench.sheet()) < sheets.size()
                                              ? sheets[std::size_t(m_bench.sheet())].tiles
                                              : std::vector<TileEntry>();
    m_empty->setVisible(wanted.empty());
    const auto shown = std::pair(m_bench.session(), m_bench.sheet());
    if (m_shownAt != shown) m_large.clear();
    if (sameLayout(wanted, m_shown) && m_shownAt == shown) return;
    m_shown = wanted;
    m_shownAt = shown;
    for (TileFrame *tile : m_tiles) retire(tile);
    m_tiles.clear();
    for (int i = 0; i < m_grid->rowCount(); ++i) m_grid->setRowStretch(i, 0);
    for (int i = 0; i < m_grid->columnCount(); ++i) m_grid->setColumnStretch(i, 0);
    std::vector<TileEntry> laid = wanted;
    spreadTiles(laid); // a project written by hand may say nothing of places
    const TileEntry *large = m_large.empty() ? nullptr : findEntry(laid, m_large);
    if (large) laid = {TileEntry(*large)};
    for (const TileEntry &entry : laid) {
        const int i = int(findEntry(wanted, entry.id) - wanted.data());
        TileFrame *tile = makeTile(m_bench, i, m_page);
        connect(tile, &TileFrame::contextRequested, this, [this](const std::string &id, QPoint at) {
            emit contextRequested({Selection::Kind::tile, id}, at);
        });
        m_grid->addWidget(tile, entry.row, entry.column, entry.rowSpan, entry.columnSpan);
        for (int r = 0; r < entry.rowSpan; ++r)
            m_grid->setRowStretch(entry.row + r, entry.isAlongTime() && wanted.size() > 1 ? 2 : 3);
        for (int c = 0; c < entry.columnSpan; ++c) m_grid->setColumnStretch(entry.column + c, 1);
        m_tiles.push_back(tile);
        tile->show();
    }
    m_mover->watch(m_tiles);
}

TileFrame *SheetView::tile(const std::string &id) const
{
    const auto found = std::find_if(m_tiles.begin(), m_tiles.end(), [&](TileFrame *one) { return one->id() == id; });
    return found == m_tiles.end() ? nullptr : *found;
}

std::string SheetView::chosenTile() const
{
    if (m_tiles.empty()) return {};
    const auto focused = std::find(m_tiles.begin(), m_tiles.end(), m_page->focusWidget());
    return (focused == m_tiles.end() ? m_tiles.front() : *focused)->id();
}

void SheetView::enlarge(TileFrame *tile)
{
    m_large = m_large.empty() ? tile->entry().id : std::string();
    m_shown.clear(); // laid out anew
    rebuild();
}

} // namespace fulvex
