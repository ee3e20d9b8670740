#include "sheet_actions.h"

#include "axis_painter.h"
#include "comparison_edits.h"
#include "region_edits.h"
#include "run_entries.h"
#include "tile_edits.h"
#include "tile_kinds.h"
#include "translated.h"
#include "user_settings.h"

#include <QCoreApplication>

namespace fulvex {

using Kind = Selection::Kind;
using Of = Action::Of;

namespace {

/// What a tile shows: its own view, or its sheet's.
Workbench::View viewOfTile(const Workbench &bench, const Of &of)
{
    const auto &sheets = bench.document().sheets;
    if (std::size_t(bench.sheet()) >= sheets.size()) return bench.view();
    const auto &tiles = sheets[std::size_t(bench.sheet())].tiles;
    const TileEntry *tile = findEntry(tiles, of);
    return tile ? bench.view(int(tile - tiles.data())) : bench.view();
}

} // namespace

/// Whether the document has a run, and `of`, where it is an entry, is a capture of it or stands on one.
bool isOfRun(const Document &document, const Of &of)
{
    if (!hasRun(document)) return false;
    const CaptureEntry *capture = findEntry(document.captures, of);
    return capture ? capture->isRun() : !sameEachTime(document, variedCaptures(document)).contains(of);
}

void addSheets(Workbench &bench, std::vector<Action> &actions)
{
    const auto placeOf = [&bench](const Of &of) {
        const SheetEntry *sheet = findEntry(bench.document().sheets, of);
        return sheet ? int(sheet - bench.document().sheets.data()) : -1;
    };
    actions.push_back(
        {.id = "add_sheet",
         .words = tr("Add a sheet"),
         .menu = "Sheet",
         .key = QKeySequence("Ctrl+Shift+N"),
         .act = [&bench](const Of &) {
             bench.change(tr("add sheet"), [](Document &document) {
                 document.sheets.push_back(
                     {.id = freeId(document, "sheet"), .title = "Sheet " + std::to_string(document.sheets.size() + 1)});
             });
             bench.showSheet(int(bench.document().sheets.size()) - 1);
         }});
    actions.push_back({.id = "duplicate_sheet",
                       .words = tr("Duplicate the sheet %1"),
                       .menu = "Sheet",
                       .on = Kind::sheet,
                       .act = [&bench, placeOf](const Of &of) {
                           int copy = 0;
                           bench.change(tr("duplicate sheet"),
                                        [&](Document &document) { copy = duplicateSheet(document, placeOf(of)); });
                           bench.showSheet(copy);
                       }});
    actions.push_back({.id = "remove_sheet",
                       .words = tr("Remove the sheet %1"),
                       .menu = "Sheet",
                       .on = Kind::sheet,
                       .act = [&bench](const Of &of) {
                           bench.change(tr("remove sheet"), [&](Document &document) {
                               std::erase_if(document.sheets, [&](const SheetEntry &sheet) { return sheet.id == of; });
                           });
                       }});
    for (const TileKind &kind : tileKinds())
        actions.push_back(
            {.id = QString("add_tile_") + kind.kind + (kind.beside ? "_" + kindWords(kind.of) : QString()),
             .words = QCoreApplication::translate("TileKinds", kind.words),
             .menu = "Sheet",
             .on = kind.of,
             .act =
                 [&bench, &kind](const Of &of) {
                     kind.beside ? addBeside(bench, kind.kind, of)
                                 : addTileOf(bench, kind.kind,
                                             kind.of == Kind::nothing ? std::vector<Of>() : std::vector<Of>{of});
                 },
             .enabled =
                 [&bench, &kind](const Of &of) {
                     if (kind.ofRuns && !isOfRun(bench.document(), of)) return false;
                     if (kind.beside && bench.document().comparisons.empty()) return false;
                     const SpectrumEntry *spectrum = findEntry(bench.document().spectra, of);
                     return !*kind.spectrum || (spectrum && spectrum->kind == kind.spectrum);
                 },
             .apart = &kind == tileKinds().data()});
    actions.push_back(
        {.id = "next_sheet",
         .words = tr("Next sheet"),
         .menu = "Sheet",
         .key = QKeySequence("Ctrl+PgDown"),
         .act = [&bench](const Of &) { bench.showSheet(bench.sheet() + 1); },
         .enabled = [&bench](const Of &) { return bench.sheet() + 1 < int(bench.document().sheets.size()); },
         .apart = true});
    actions.push_back({.id = "previous_sheet",
                       .words = tr("Previous sheet"),
                       .menu = "Sheet",
                       .key = QKeySequence("Ctrl+PgUp"),
                       .act = [&bench](const Of &) { bench.showSheet(bench.sheet() - 1); },
                       .enabled = [&bench](const Of &) { return bench.sheet() > 0; }});
    actions.push_back({.id = "show_sheet",
                       .words = tr("Show the sheet %1"),
                       .on = Kind::sheet,
                       .act = [&bench, placeOf](const Of &of) { bench.showSheet(placeOf(of)); },
                       .enabled = [&bench, placeOf](const Of &of) { return placeOf(of) != bench.sheet(); },
                       .isPlace = true});
}

void addViews(Workbench &bench, std::vector<Action> &actions)
{
    const auto zoom = [&bench](double factor) { bench.zoom(factor, (bench.viewFrom() + bench.viewTo()) / 2); };
    actions.push_back({.id = "fit",
                       .words = tr("Whole record"),
                       .menu = "View",
                       .key = QKeySequence("Ctrl+0"),
                       .act = [&bench](const Of &) { bench.fitView(); }});
    actions.push_back(
        {.id = "closer", .words = tr("Closer"), .menu = "View", .key = QKeySequence::ZoomIn, .act = [zoom](const Of &) {
             zoom(0.5);
         }});
    actions.push_back({.id = "farther",
                       .words = tr("Farther"),
                       .menu = "View",
                       .key = QKeySequence::ZoomOut,
                       .act = [zoom](const Of &) { zoom(2); }});
    actions.push_back({.id = "view_before",
                       .words = tr("View before"),
                       .menu = "View",
                       .key = QKeySequence("Alt+Left"),
                       .act = [&bench](const Of &) { bench.goBack(); }});
    actions.push_back({.id = "view_after",
                       .words = tr("View after"),
                       .menu = "View",
                       .key = QKeySequence("Alt+Right"),
                       .act = [&bench](const Of &) { bench.goForward(); }});
    actions.push_back({.id = "go_to_region",
                       .words = tr("Go to region %1"),
                       .menu = "View/" + tr("Go to region"),
                       .brief = "%1",
                       .on = Kind::region,
                       .act =
                           [&bench](const Of &of) {
                               bench.select({Kind::region, of});
                               if (const RegionEntry *found = findEntry(bench.document().regions, of))
                                   bench.setView(found->start, found->stop, Workbench::wholeSheet, true);
                           },
                       .each = true,
                       .isPlace = true});
    actions.push_back({.id = "remove_markers",
                       .words = tr("Remove markers"),
                       .menu = "View",
                       .act = [&bench](const Of &) { bench.clearMarkers(); },
                       .enabled = [&bench](const Of &) { return !bench.document().markers.empty(); },
                       .apart = true});
    actions.push_back({.id = "dark",
                       .words = tr("Dark theme"),
                       .menu = "View",
                       .key = QKeySequence("Ctrl+D"),
                       .act =
                           [&bench](const Of &) {
                               bench.setDark(!bench.look().dark);
                               UserSettings settings = userSettings();
                               settings.dark = bench.look().dark;
                               keepUserSettings(settings);
                           },
                       .checked = [&bench](const Of &) { return bench.look().dark; },
                       .apart = true});
}

std::vector<Action> tileActions(Workbench &bench)
{
    const auto tileOf = [&bench](const Of &of) { return tileIn(bench.document(), of); };
    const auto isTraces = [tileOf](const Of &of) {
        const TileEntry *tile = tileOf(of);
        return tile && tile->kind == "traces";
    };
    const auto isAlongTime = [tileOf](const Of &of) {
        const TileEntry *tile = tileOf(of);
        return tile && tile->isAlongTime();
    };
    std::vector<Action> actions;
    const auto toggle = [&](const QString &id, const QString &words, bool TileEntry::*field) {
        actions.push_back({.id = id,
                           .words = words,
                           .on = Kind::tile,
                           .act =
                               [&bench, words, field](const Of &of) {
                                   editTile(bench, of, words, [&](TileEntry &tile) { tile.*field = !(tile.*field); });
                               },
                           .enabled = isTraces,
                           .checked =
                               [tileOf, field](const Of &of) {
                                   const TileEntry *tile = tileOf(of);
                                   return tile && tile->*field;
                               }});
    };
    toggle("tile_lanes", tr("One lane a channel"), &TileEntry::lanes);
    toggle("tile_straight", tr("Straight lines between samples"), &TileEntry::straight);
    actions.push_back({.id = "tile_own_view",
                       .words = tr("A view of its own"),
                       .on = Kind::tile,
                       .act =
                           [&bench](const Of &of) {
                               const Workbench::View now = viewOfTile(bench, of);
                               editTile(bench, of, tr("A view of its own"), [&](TileEntry &tile) {
                                   tile.ownView = !tile.ownView;
                                   tile.from = tile.ownView ? std::optional(now.from) : std::nullopt;
                                   tile.to = tile.ownView ? std::optional(now.to) : std::nullopt;
                               });
                           },
                       .enabled = isAlongTime,
                       .checked =
                           [tileOf](const Of &of) {
                               const TileEntry *tile = tileOf(of);
                               return tile && tile->ownView;
                           }});
    actions.push_back({.id = "tile_scales",
                       .words = tr("Scales by the record, lanes alike"),
                       .on = Kind::tile,
                       .act =
                           [&bench](const Of &of) {
                               editTile(bench, of, tr("scales by the record"), [](TileEntry &tile) {
                                   tile.ranges.clear();
                                   tile.heights.clear();
                               });
                           },
                       .enabled = isTraces});
    actions.push_back({.id = "tile_region",
                       .words = tr("Name what is shown a region"),
                       .on = Kind::tile,
                       .act =
                           [&bench](const Of &of) {
                               const Workbench::View now = viewOfTile(bench, of);
                               bench.select({Selection::Kind::region, addRegion(bench, now.from, now.to)});
                           },
                       .enabled = isAlongTime});
    for (const ChannelEntry &channel : bench.document().channels) {
        const auto shows = [tileOf, id = channel.id](const Of &of) {
            const TileEntry *tile = tileOf(of);
            return tile && std::find(tile->of.begin(), tile->of.end(), id) != tile->of.end();
        };
        actions.push_back({.id = "tile_channel " + text(channel.id),
                           .words = tr("Show %3 in %1").replace("%3", text(channel.shownName())),
                           .menu = "Sheet/" + tr("Channels of a tile"),
                           .brief = text(channel.shownName()),
                           .on = Kind::tile,
                           .act =
                               [&bench, id = channel.id](const Of &of) {
                                   editTile(bench, of, tr("channels of a tile"), [&](TileEntry &tile) {
                                       if (std::erase(tile.of, id) == 0) tile.of.push_back(id);
                                   });
                               },
                           .enabled = isTraces,
                           .checked = shows});
    }
    for (const MeasurementEntry &row : bench.document().measurements) {
        const auto shows = [tileOf, id = row.id](const Of &of) {
            const TileEntry *tile = tileOf(of);
            return tile && std::find(tile->of.begin(), tile->of.end(), id) != tile->of.end();
        };
        const auto isOfRows = [tileOf](const Of &of) {
            const TileEntry *tile = tileOf(of);
            return tile && (tile->kind == "histogram" || tile->kind == "trend" || tile->kind == "scatter");
        };
        actions.push_back({.id = "tile_row " + text(row.id),
                           .words = tr("Show %3 in %1").replace("%3", text(row.id)),
                           .menu = "Sheet/" + tr("Rows of a tile"),
                           .brief = text(row.id),
                           .on = Kind::tile,
                           .act =
                               [&bench, id = row.id](const Of &of) {
                                   editTile(bench, of, tr("rows of a tile"), [&](TileEntry &tile) {
                                       if (std::erase(tile.of, id) > 0) return;
                                       if (tile.kind == "scatter" && tile.of.size() > 1) tile.of.resize(1);
                                       tile.of.push_back(id);
                                   });
                               },
                           .enabled = isOfRows,
                           .checked = shows});
    }
    actions.push_back({.id = "remove_tile",
                       .words = tr("Remove the tile"),
                       .on = Kind::tile,
                       .act = [&bench](const Of &of) { removeTile(bench, of); },
                       .apart = true,
                       .byHand = tr("Delete")});
    return actions;
}

} // namespace fulvex
