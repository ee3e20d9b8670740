#include "document_edits.h"

#include "axis_painter.h"
#include "described_fields.h"
#include "error.h"
#include "user_settings.h"

#include <algorithm>

namespace fulvex {

/// Places of a sheet's grid that can be read on a screen.
constexpr int widestSheet = 6, tallestTile = 4;

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
        TileEntry tile;
        tile.kind = kind;
        tile.of = of;
        addTile(document, bench.sheet(), tile);
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

std::string addRegion(Workbench &bench, double from, double to)
{
    std::string id;
    bench.change(QObject::tr("add region"), [&](Document &document) {
        id = freeId(document, "region");
        document.regions.push_back({id, from, to});
    });
    return id;
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

static void setField(const Field &field, const Remedy::Setting &setting)
{
    if (!setting.word.empty()) return setWord(field.value, setting.word);
    const double number = setting.number.value_or(0);
    if (auto *value = std::get_if<double *>(&field.value)) **value = number;
    if (auto *value = std::get_if<std::optional<double> *>(&field.value)) **value = setting.number;
    if (auto *value = std::get_if<int *>(&field.value)) **value = int(number);
}

void applyRemedy(Document &document, const Remedy &remedy)
{
    if (remedy.kind == Remedy::Kind::region) {
        document.regions.push_back({freeId(document, "without_gaps"), remedy.from, remedy.to});
        return;
    }
    if (remedy.kind == Remedy::Kind::settings) {
        for (const Remedy::Setting &setting : remedy.settings) {
            for (const Field &field : fieldsOf(document, remedy.entry))
                if (setting.key == field.key) setField(field, setting);
        }
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

std::string addParameter(Workbench &bench, ParameterEntry parameter)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add parameter"), [&](Document &document) {
        parameter.id = id = freeId(document, parameter.id);
        document.parameters.push_back(parameter);
    });
    return taken ? id : std::string();
}

std::string addFunction(Workbench &bench)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add function"), [&](Document &document) {
        id = freeId(document, "own");
        document.functions.push_back({id, {"a"}, "a", {}});
    });
    return taken ? id : std::string();
}

void setParameter(Workbench &bench, const std::string &id, double value)
{
    bench.change(
        QObject::tr("set %1").arg(text(id)),
        [&](Document &document) {
            ParameterEntry *entry = findEntry(document.parameters, id);
            if (!entry) return;
            entry->value = value;
            if (entry->min) entry->min = std::min(*entry->min, value);
            if (entry->max) entry->max = std::max(*entry->max, value);
        },
        "parameter " + text(id));
}

/// Another channel, of the same capture if there is one.
static std::string channelBeside(const Document &document, const std::string &channel)
{
    const ChannelEntry *own = findEntry(document.channels, channel);
    std::string first;
    for (const ChannelEntry &other : document.channels) {
        if (other.id == channel) continue;
        if (own && other.capture == own->capture) return other.id;
        if (first.empty()) first = other.id;
    }
    return first;
}

/// Puts a clock into a document as the settings want it, its bandwidth by the rate that is known of the channel, or of
/// another; gives its id.
static std::string putClock(const Workbench &bench, Document &document, const std::string &channel,
                            const std::string &method)
{
    ClockEntry entry;
    entry.id = freeId(document, method == "pll" ? "loop" : method == "forwarded" ? "beside" : "ideal");
    entry.source = channel;
    entry.method = method;
    if (method == "forwarded") entry.from = channelBeside(document, channel);
    const UserSettings settings = userSettings();
    entry.order = settings.loopOrder;
    entry.damping = settings.loopDamping;
    const Results *results = bench.results();
    bool own = false; // of this channel
    for (const ClockResult &other : results ? results->clocks : std::vector<ClockResult>()) {
        const ClockEntry *known = findEntry(document.clocks, other.id);
        const bool here = known && known->source == channel;
        if (!other.clock || (own && !here)) continue;
        own |= here;
        entry.bandwidth = other.rate / settings.loopDivider;
    }
    document.clocks.push_back(entry);
    return entry.id;
}

std::string addClock(Workbench &bench, const std::string &channel, const std::string &method)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add clock"),
                                    [&](Document &document) { id = putClock(bench, document, channel, method); });
    if (!taken) return {};
    bench.select({Selection::Kind::clock, id});
    return id;
}

/// `before`: what else is put into the document, first.
static std::string addFold(
    Workbench &bench, const QString &what, EyeEntry entry, const char *name,
    const std::function<void(Document &, EyeEntry &)> &before = [](Document &, EyeEntry &) {})
{
    const bool taken = bench.change(what, [&](Document &document) {
        before(document, entry);
        entry.id = freeId(document, name);
        document.eyes.push_back(entry);
        TileEntry tile;
        tile.kind = "eye";
        tile.of = {entry.id};
        addTile(document, bench.sheet(), tile);
    });
    if (!taken) return {};
    bench.select({Selection::Kind::eye, entry.id});
    return entry.id;
}

std::string addEye(Workbench &bench, const std::string &clock)
{
    EyeEntry entry;
    entry.clock = clock;
    entry.source = findEntry(bench.document().clocks, clock)->source;
    return addFold(bench, QObject::tr("add eye"), entry, "eye");
}

std::string addEyeOf(Workbench &bench, const std::string &channel)
{
    for (const ClockEntry &clock : bench.document().clocks)
        if (clock.source == channel) return addEye(bench, clock.id);
    EyeEntry entry;
    entry.source = channel;
    return addFold(bench, QObject::tr("add eye"), entry, "eye",
                   [&](Document &document, EyeEntry &eye) { eye.clock = putClock(bench, document, channel, "pll"); });
}

std::string addEdgeOverlay(Workbench &bench, const std::string &channel)
{
    EyeEntry entry;
    entry.source = channel;
    entry.each = "rising";
    return addFold(bench, QObject::tr("add overlay"), entry, "overlay");
}

std::string addPatternOverlay(Workbench &bench, const std::string &clock)
{
    EyeEntry entry;
    entry.clock = clock;
    entry.source = findEntry(bench.document().clocks, clock)->source;
    entry.each = "pattern";
    return addFold(bench, QObject::tr("add overlay"), entry, "overlay");
}

std::string showTemplate(Workbench &bench, const std::string &mask)
{
    const MaskEntry *of = findEntry(bench.document().masks, mask);
    const MaskRun *run = bench.results() ? findEntry(bench.results()->masks, mask) : nullptr;
    if (!of) return {};
    EyeEntry entry;
    entry.source = of->source;
    entry.each = of->edge.empty() ? "rising" : of->edge;
    if (run && !run->definition.areas.empty()) { // a fifth of it about it
        const auto [left, right] = acrossOf(run->definition.areas);
        entry.before = 0.2 * (right - left) - left;
        entry.after = right + 0.2 * (right - left);
    }
    return addFold(bench, QObject::tr("show the template"), entry, "overlay");
}

std::string addAverage(Workbench &bench, const std::string &overlay)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add averaged trace"), [&](Document &document) {
        ChannelEntry entry;
        const std::string source = findEntry(document.eyes, overlay)->source;
        entry.id = id = freeId(document, source + "_average");
        entry.formula = "average(" + source + ", " + overlay + ")";
        document.channels.push_back(entry);
        TileEntry tile;
        tile.kind = "traces";
        tile.of = {source, id};
        addTile(document, bench.sheet(), tile);
    });
    if (!taken) return {};
    bench.select({Selection::Kind::channel, id});
    return id;
}

void windowEye(Workbench &bench, const std::string &id)
{
    const auto record = bench.record();
    const EyeEntry *eye = findEntry(bench.document().eyes, id);
    const ChannelResult *of = eye && bench.results() ? findEntry(bench.results()->channels, eye->source) : nullptr;
    if (!record || !of || !of->source) return;
    constexpr double soon = 1e6; // samples, which are folded as fast as a window is moved
    const TimeAxis &axis = of->source->axis();
    const double length = std::min((record->second - record->first) / 10, soon * axis.interval);
    std::string made;
    const bool taken = bench.change(QObject::tr("fold a window"), [&](Document &document) {
        const double start =
            std::clamp(bench.viewFrom() - length / 2, record->first, std::max(record->first, record->second - length));
        made = freeId(document, "window");
        document.regions.push_back({made, start, start + length});
        findEntry(document.eyes, id)->region = made;
    });
    if (taken) bench.select({Selection::Kind::region, made});
}

static std::string addSpectral(Workbench &bench, SpectrumEntry entry)
{
    const bool taken = bench.change(QObject::tr("add %1").arg(text(entry.kind)), [&](Document &document) {
        entry.id = freeId(document, entry.kind);
        document.spectra.push_back(entry);
        TileEntry tile;
        tile.kind = entry.kind == "spectrum" ? "channel_spectrum" : entry.kind;
        tile.of = {entry.id};
        addTile(document, bench.sheet(), tile);
    });
    if (!taken) return {};
    bench.select({Selection::Kind::spectrum, entry.id});
    return entry.id;
}

std::string addSpectrum(Workbench &bench, const std::string &kind, const std::string &channel, const std::string &to)
{
    SpectrumEntry entry;
    entry.kind = kind;
    entry.source = channel;
    entry.to = to;
    return addSpectral(bench, entry);
}

std::string addTransferToRow(Workbench &bench, const std::string &channel, const std::string &row)
{
    const std::string formula = "trend(" + row + ")";
    const auto &channels = bench.document().channels;
    const auto known = std::find_if(channels.begin(), channels.end(),
                                    [&](const ChannelEntry &entry) { return entry.formula == formula; });
    const std::string trend = known == channels.end() ? addFormula(bench, formula) : known->id;
    return trend.empty() ? std::string() : addSpectrum(bench, "transfer", channel, trend);
}

std::string addSpectrumOfRow(Workbench &bench, const std::string &row)
{
    SpectrumEntry entry;
    entry.row = row;
    return addSpectral(bench, entry);
}

void findSymbols(Workbench &bench, const std::string &eye, const std::string &words)
{
    try {
        placesOf(words, {});
    } catch (const Error &error) {
        emit bench.failed(text(error.what()));
        return;
    }
    Question question;
    question.symbols = words;
    bench.select({Selection::Kind::eye, eye}, question);
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

} // namespace fulvex
