#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Edits that several views offer, each one undoable step.

/// Does what a finding of the capture check offers.
void applyRemedy(Document &document, const Remedy &remedy);

/// Adds; each selects what it made and gives its id, or an empty one when the document did not take it.
std::string addFormula(Workbench &bench, const std::string &formula);
/// Under a free id made of its own; gives that.
std::string addParameter(Workbench &bench, ParameterEntry parameter);
/// One to be written: of an argument, which it gives back.
std::string addFunction(Workbench &bench);
/// Sets a parameter as one undoable step with what was set of it just before; a value beyond its span widens that.
void setParameter(Workbench &bench, const std::string &id, double value);
std::string addClock(Workbench &bench, const std::string &channel, const std::string &method);
/// The eye folds a region from now on, made for it, that is moved along the Strip by its tab.
void windowEye(Workbench &bench, const std::string &id);
/// Asks Evidence where symbols follow on each other in an eye; tells what is wrong with words that are none.
void findSymbols(Workbench &bench, const std::string &eye, const std::string &words);
std::string addEye(Workbench &bench, const std::string &clock);
/// By the first clock of a channel, or a loop that is made with it where there is none.
std::string addEyeOf(Workbench &bench, const std::string &channel);
/// Overlays, each with a tile: of what lies about a channel's rising edges; of the pattern that a clock's channel
/// repeats; at the edges that a template is laid at, so that it is seen there.
std::string addEdgeOverlay(Workbench &bench, const std::string &channel);
std::string addPatternOverlay(Workbench &bench, const std::string &clock);
std::string showTemplate(Workbench &bench, const std::string &mask);
/// The mean of an overlay's laps, in the place of each, beside the channel that it is of.
std::string addAverage(Workbench &bench, const std::string &overlay);
/// Of a channel, with a tile of it; `to`: of a transfer function the output.
std::string addSpectrum(Workbench &bench, const std::string &kind, const std::string &channel,
                        const std::string &to = {});
/// A transfer function with coherence from a channel to a row's trend, which becomes a channel for it.
std::string addTransferToRow(Workbench &bench, const std::string &channel, const std::string &row);
/// The same of a row's values over time.
std::string addSpectrumOfRow(Workbench &bench, const std::string &row);
std::string addMask(Workbench &bench, const std::string &eye, const std::string &mask);
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
/// Names a span of time (s); gives the region's id.
std::string addRegion(Workbench &bench, double from, double to);
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
