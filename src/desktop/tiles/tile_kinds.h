#pragma once

#include "tile_frame.h"

#include <span>

namespace fulvex {

/// A kind of tile: what it shows, and how it is made.
struct TileKind {
    const char *kind;   ///< in the document
    const char *words;  ///< of the action that adds one; %1 is what it is of
    Selection::Kind of; ///< what it shows
    TileFrame *(*make)(Workbench &bench, int index, QWidget *parent);
    const char *spectrum = ""; ///< of a spectrum entry: of that kind alone
    bool ofRuns = false;       ///< where there is a run alone
    bool beside = false;       ///< of the first comparison, and then of this
};

/// All of them; a tile of a kind that is none of these is shown as the first.
std::span<const TileKind> tileKinds();

/// The tile for an entry of the shown sheet.
TileFrame *makeTile(Workbench &bench, int index, QWidget *parent);

} // namespace fulvex
