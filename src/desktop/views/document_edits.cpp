#include "document_edits.h"

#include "axis_painter.h"
#include "quantity_table.h"

#include <algorithm>

namespace fulvex {

void addTile(Document &document, int sheet, TileEntry tile)
{
    if (document.sheets.empty()) {
        SheetEntry fresh;
        fresh.id = freeId(document, "sheet");
        fresh.title = "Sheet";
        document.sheets.push_back(fresh);
        sheet = 0;
    }
    auto &tiles = document.sheets[std::size_t(sheet)].tiles;
    // Eyes and histograms stand two in a row under the traces.
    int bottom = -1, used = 0;
    for (const TileEntry &other : tiles) bottom = std::max(bottom, other.row + other.rowSpan - 1);
    for (const TileEntry &other : tiles) {
        if (other.row == bottom) used = std::max(used, other.kind == "traces" ? 2 : other.column + other.columnSpan);
    }
    const bool fits = tile.kind != "traces" && bottom >= 0 && used < 2;
    tile.row = fits ? bottom : bottom + 1;
    tile.column = fits ? used : 0;
    for (TileEntry &other : tiles) {
        if (other.kind == "traces") other.columnSpan = 2;
    }
    if (tile.kind == "traces") tile.columnSpan = 2;
    tiles.push_back(std::move(tile));
    nameTiles(document);
}

void applyRemedy(Document &document, const Remedy &remedy)
{
    if (remedy.kind == Remedy::Kind::region) {
        document.regions.push_back({freeId(document, "without_gaps"), remedy.from, remedy.to});
        return;
    }
    if (remedy.kind == Remedy::Kind::origin) return moveTimeOrigin(document, remedy.value);
    ChannelEntry *channel = findEntry(document.channels, remedy.channel);
    if (!channel) return;
    if (remedy.kind == Remedy::Kind::delay) channel->delay += remedy.value;
    if (remedy.kind == Remedy::Kind::offset) channel->offset += remedy.value;
    if (remedy.kind == Remedy::Kind::scale) {
        channel->scale *= remedy.value;
        channel->offset *= remedy.value;
    }
}

std::string addFormula(Workbench &bench, const std::string &formula)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add channel"), [&](Document &document) {
        ChannelEntry entry;
        entry.id = id = freeId(document, "link");
        entry.formula = formula;
        document.channels.push_back(entry);
        const int sheet = bench.sheet();
        if (std::size_t(sheet) >= document.sheets.size()) return;
        for (TileEntry &tile : document.sheets[std::size_t(sheet)].tiles) {
            if (tile.kind != "traces") continue;
            tile.of.push_back(id);
            break;
        }
    });
    if (!taken) return {};
    bench.select({Selection::Kind::channel, id});
    return id;
}

std::string addClock(Workbench &bench, const std::string &channel, const std::string &method)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add clock"), [&](Document &document) {
        ClockEntry entry;
        entry.id = id = freeId(document, method == "pll" ? "loop" : "ideal");
        entry.source = channel;
        entry.method = method;
        const Results *results = bench.results();
        for (const ClockResult &other : results ? results->clocks : std::vector<ClockResult>()) {
            if (other.clock) entry.bandwidth = other.rate / 1667; // the usual corner where nothing else is said
        }
        document.clocks.push_back(entry);
    });
    if (!taken) return {};
    bench.select({Selection::Kind::clock, id});
    return id;
}

std::string addEye(Workbench &bench, const std::string &clock)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add eye"), [&](Document &document) {
        EyeEntry entry;
        entry.id = id = freeId(document, "eye");
        entry.clock = clock;
        entry.source = findEntry(document.clocks, clock)->source;
        document.eyes.push_back(entry);
        TileEntry tile;
        tile.kind = "eye";
        tile.of = {id};
        addTile(document, bench.sheet(), tile);
    });
    if (!taken) return {};
    bench.select({Selection::Kind::eye, id});
    return id;
}

std::string addMask(Workbench &bench, const std::string &eye, const std::string &mask)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add mask"), [&](Document &document) {
        std::erase_if(document.masks, [&](const MaskEntry &entry) { return entry.eye == eye; }); // one mask an eye
        id = freeId(document, "mask");
        MaskEntry entry;
        entry.id = id;
        entry.eye = eye;
        entry.mask = mask;
        document.masks.push_back(entry);
    });
    if (!taken) return {};
    bench.select({Selection::Kind::mask, id});
    return id;
}

std::string addMeasurement(Workbench &bench, const std::string &quantity, const std::string &of)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("measure %1").arg(text(quantity)), [&](Document &document) {
        MeasurementEntry entry;
        entry.id = id = freeId(document, quantity);
        entry.quantity = quantity;
        if (findEntry(document.channels, of)) entry.source = of;
        if (findEntry(document.clocks, of)) entry.clock = of;
        if (findEntry(document.eyes, of)) entry.eye = of;
        document.measurements.push_back(entry);
    });
    if (!taken) return {};
    bench.select({Selection::Kind::measurement, id});
    return id;
}

} // namespace fulvex
