#include "tile_edits.h"

#include <algorithm>

namespace fulvex {

/// Places of a sheet's grid that can be read on a screen.
constexpr int widestSheet = 6, tallestTile = 4;

void addTile(Document &document, int sheet, TileEntry tile)
{
    if (document.sheets.empty()) {
        document.sheets.push_back({.id = freeId(document, "sheet"), .title = "Sheet"});
        sheet = 0;
    }
    auto &tiles = document.sheets[std::size_t(sheet)].tiles;
    // Traces and trends take a row; eyes and histograms stand two in one, and a lone one takes all of it until another
    // comes.
    int bottom = -1;
    for (const TileEntry &other : tiles) bottom = std::max(bottom, other.row + other.rowSpan - 1);
    std::vector<TileEntry *> last;
    const auto isAlone = [&](const TileEntry &one) { // in its rows
        return std::none_of(tiles.begin(), tiles.end(), [&](const TileEntry &other) {
            return &other != &one && other.row < one.row + one.rowSpan && one.row < other.row + other.rowSpan;
        });
    };
    for (TileEntry &other : tiles) {
        if (other.isAlongTime() && other.column == 0 && isAlone(other))
            other.columnSpan = std::max(other.columnSpan, 2);
        if (other.row <= bottom && other.row + other.rowSpan > bottom) last.push_back(&other);
    }
    const bool beside = !tile.isAlongTime() && last.size() == 1 && !last.front()->isAlongTime() &&
                        last.front()->column == 0 && last.front()->columnSpan <= 2;
    tile.row = beside ? last.front()->row : bottom + 1;
    tile.rowSpan = beside ? last.front()->rowSpan : 1;
    tile.column = beside ? 1 : 0;
    tile.columnSpan = beside ? 1 : 2;
    if (beside) last.front()->columnSpan = 1;
    tiles.push_back(std::move(tile));
    nameTiles(document);
}

void spreadTiles(std::vector<TileEntry> &tiles, const std::string &keep)
{
    std::vector<TileEntry *> placed;
    const auto place = [&](TileEntry &tile) {
        int below = 0;
        bool free = true;
        for (const TileEntry *one : placed) {
            below = std::max(below, one->row + one->rowSpan);
            free &= one->row >= tile.row + tile.rowSpan || tile.row >= one->row + one->rowSpan ||
                    one->column >= tile.column + tile.columnSpan || tile.column >= one->column + one->columnSpan;
        }
        if (!free) tile.row = below;
        placed.push_back(&tile);
    };
    for (TileEntry &tile : tiles) {
        if (tile.id == keep && !keep.empty()) place(tile);
    }
    for (TileEntry &tile : tiles) {
        if (tile.id != keep || keep.empty()) place(tile);
    }
}

static std::pair<SheetEntry *, TileEntry *> placeOf(Document &document, const std::string &id)
{
    for (SheetEntry &sheet : document.sheets) {
        if (TileEntry *tile = findEntry(sheet.tiles, id)) return {&sheet, tile};
    }
    return {nullptr, nullptr};
}

TileEntry *tileIn(Document &document, const std::string &id)
{
    return placeOf(document, id).second;
}

const TileEntry *tileIn(const Document &document, const std::string &id)
{
    return tileIn(const_cast<Document &>(document), id); // which is only looked through
}

void editTile(Workbench &bench, const std::string &id, const QString &what,
              const std::function<void(TileEntry &)> &edit, const QString &mergeKey)
{
    bench.change(
        what,
        [&](Document &document) {
            if (TileEntry *tile = tileIn(document, id)) edit(*tile);
        },
        mergeKey);
}

void addTileOf(Workbench &bench, const std::string &kind, const std::vector<std::string> &of)
{
    bench.change(QObject::tr("add tile"), [&](Document &document) {
        addTile(document, bench.sheet(), {.kind = kind, .of = of});
        EyeEntry *eye = of.empty() ? nullptr : findEntry(document.eyes, of.front());
        if (eye && kind == "level_bathtub") eye->shown = "error_ratio"; // what it is made of
    });
}

void removeTile(Workbench &bench, const std::string &id)
{
    bench.change(QObject::tr("remove tile"), [&](Document &document) {
        for (SheetEntry &sheet : document.sheets)
            std::erase_if(sheet.tiles, [&](const TileEntry &tile) { return tile.id == id; });
    });
}

void exchangeTiles(Document &document, const std::string &a, const std::string &b)
{
    TileEntry *one = tileIn(document, a), *other = tileIn(document, b);
    if (!one || !other) return;
    std::swap(one->row, other->row);
    std::swap(one->column, other->column);
    std::swap(one->rowSpan, other->rowSpan);
    std::swap(one->columnSpan, other->columnSpan);
}

void sendTile(Document &document, const std::string &id, int sheet)
{
    const auto [from, tile] = placeOf(document, id);
    if (!tile || sheet < 0 || sheet >= int(document.sheets.size()) || from == &document.sheets[std::size_t(sheet)])
        return;
    TileEntry moved = *tile;
    std::erase_if(from->tiles, [&](const TileEntry &one) { return one.id == id; });
    addTile(document, sheet, std::move(moved));
}

void growTile(Document &document, const std::string &id, int columns, int rows)
{
    const auto [sheet, tile] = placeOf(document, id);
    if (!tile) return;
    tile->columnSpan = std::clamp(tile->columnSpan + columns, 1, std::max(1, widestSheet - tile->column));
    tile->rowSpan = std::clamp(tile->rowSpan + rows, 1, tallestTile);
    spreadTiles(sheet->tiles, id);
}

int duplicateSheet(Document &document, int sheet)
{
    SheetEntry copy = document.sheets[std::size_t(sheet)];
    copy.id = freeId(document, copy.id);
    copy.title += ", copy";
    for (TileEntry &tile : copy.tiles) tile.id.clear();
    document.sheets.insert(document.sheets.begin() + sheet + 1, std::move(copy));
    nameTiles(document);
    return sheet + 1;
}

} // namespace fulvex
