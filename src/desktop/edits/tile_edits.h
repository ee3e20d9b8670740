#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Edits of tiles and sheets, each one undoable step where it takes the workbench.

/// Puts a tile under what the shown sheet has, or on a new sheet when there is none.
void addTile(Document &document, int sheet, TileEntry tile);
/// A tile by its id, on whatever sheet; null where there is none.
TileEntry *tileIn(Document &document, const std::string &id);
const TileEntry *tileIn(const Document &document, const std::string &id);
void editTile(Workbench &bench, const std::string &id, const QString &what,
              const std::function<void(TileEntry &)> &edit, const QString &mergeKey = {});
/// Puts a tile of a kind, of one thing, on the shown sheet as addTile() does.
void addTileOf(Workbench &bench, const std::string &kind, const std::vector<std::string> &of);
void removeTile(Workbench &bench, const std::string &id);
/// Tiles by id, wherever they stand; what is there no more is passed over.
void exchangeTiles(Document &document, const std::string &a, const std::string &b);
/// Under what another sheet has.
void sendTile(Document &document, const std::string &id, int sheet);
/// By so many places of the grid, which may be negative; what it then lies on moves under all others.
void growTile(Document &document, const std::string &id, int columns, int rows);
/// No tile on another: those that come later in the list move under all others. `keep`: one that stays.
void spreadTiles(std::vector<TileEntry> &tiles, const std::string &keep = {});
/// Behind the sheet; gives the copy's place.
int duplicateSheet(Document &document, int sheet);

} // namespace fulvex
