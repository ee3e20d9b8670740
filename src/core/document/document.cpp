#include "document.h"

#include "error.h"
#include "formula.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <set>
#include <string_view>
#include <unordered_map>
#include <unordered_set>

namespace fulvex {

LevelsEntry Document::levelsOf(const std::string &id) const
{
    const LevelsEntry *entry = findEntry(levels, id);
    return entry ? *entry : LevelsEntry{};
}

namespace {

template <typename Use>
void forAllIds(const Document &document, Use &&use)
{
    const auto each = [&](const auto &entries, const char *list) {
        for (std::size_t i = 0; i < entries.size(); ++i)
            use(entries[i].id, std::string(list) + "[" + std::to_string(i) + "]");
    };
    each(document.captures, "captures");
    each(document.channels, "channels");
    each(document.parameters, "parameters");
    each(document.regions, "regions");
    each(document.levels, "levels");
    each(document.clocks, "clocks");
    each(document.eyes, "eyes");
    each(document.masks, "masks");
    each(document.measurements, "measurements");
    each(document.notes, "notes");
    each(document.markers, "markers");
    each(document.sheets, "sheets");
    for (std::size_t i = 0; i < document.sheets.size(); ++i) {
        const auto &tiles = document.sheets[i].tiles;
        for (std::size_t k = 0; k < tiles.size(); ++k) {
            if (!tiles[k].id.empty())
                use(tiles[k].id, "sheets[" + std::to_string(i) + "].tiles[" + std::to_string(k) + "]");
        }
    }
}

bool wellFormed(const std::string &id)
{
    const auto inner = [](unsigned char c) { return std::islower(c) || std::isdigit(c) || c == '_'; };
    return !id.empty() && std::islower(static_cast<unsigned char>(id[0])) && std::all_of(id.begin(), id.end(), inner);
}

/// What of a list there is, by id: found at once however long the list.
class Ids {
public:
    template <typename Entry>
    Ids(const std::vector<Entry> &entries, const char *kind, const char *list) : m_kind(kind), m_list(list)
    {
        for (const Entry &entry : entries) {
            m_ids.insert(entry.id);
            if (m_ids.size() <= shown) m_known += (m_known.empty() ? "\"" : ", \"") + entry.id + "\"";
        }
        if (m_ids.size() > shown) m_known += ", …";
    }
    bool has(const std::string &id) const { return m_ids.contains(id); }
    /// "no clock has the id …; use "a" or "b"".
    void needs(const std::string &id, const std::string &where, bool optional = false) const
    {
        if (has(id) || (optional && id.empty())) return;
        const std::string add = "add it to \"" + std::string(m_list) + "\"";
        if (id.empty()) throw Error(where, std::string("names no ") + m_kind, m_known.empty() ? add : "use " + m_known);
        throw Error(where, std::string("no ") + m_kind + " has the id \"" + id + "\"",
                    m_known.empty() ? add : "use " + m_known + ", or " + add);
    }

private:
    static constexpr std::size_t shown = 20;
    const char *m_kind, *m_list;
    std::unordered_set<std::string_view> m_ids;
    std::string m_known;
};

struct AllIds {
    explicit AllIds(const Document &document, const std::vector<LevelsEntry> &allLevels)
        : captures(document.captures, "capture", "captures"), channels(document.channels, "channel", "channels"),
          parameters(document.parameters, "parameter", "parameters"), regions(document.regions, "region", "regions"),
          levels(allLevels, "levels", "levels"), clocks(document.clocks, "clock", "clocks"),
          eyes(document.eyes, "eye", "eyes")
    {
    }
    Ids captures, channels, parameters, regions, levels, clocks, eyes;
};

void needsAtMost(std::size_t count, std::size_t most, const std::string &where)
{
    if (count > most)
        throw Error(where,
                    "holds " + std::to_string(count) + ", more than the " + std::to_string(most) + " that are read",
                    "split the project");
}

void needsShort(const std::string &text, std::size_t most, const std::string &where)
{
    if (text.size() > most)
        throw Error(where, "has " + std::to_string(text.size()) + " bytes",
                    "at most " + std::to_string(most) + " are read here: shorten it");
}

/// Beyond a trillion seconds no interval between samples is left beside the time.
void needsMoment(double time, const std::string &where)
{
    if (!(std::abs(time) <= 1e12)) throw Error(where, "is no moment", "give s, up to 1e12 before or after 0");
}
void needsMoment(const std::optional<double> &time, const std::string &where)
{
    if (time) needsMoment(*time, where);
}

void needsOneOf(const std::string &value, std::initializer_list<const char *> allowed, const std::string &where)
{
    std::string list;
    for (const char *one : allowed) {
        if (value == one) return;
        list += (list.empty() ? "" : ", ") + std::string(one);
    }
    throw Error(where, "\"" + value + "\" is not known", "use " + list);
}

void needsPositive(double value, const std::string &where, const char *unit)
{
    if (!(value > 0)) throw Error(where, "must be greater than 0", std::string("give it in ") + unit);
}

/// Goes along what formulas name, however long the chains are, without going deeper on the stack.
class FormulaCheck {
public:
    FormulaCheck(const Document &document, const AllIds &ids) : m_document(document), m_ids(ids)
    {
        for (std::size_t i = 0; i < document.channels.size(); ++i) m_index[document.channels[i].id] = i;
        m_nodes.resize(document.channels.size());
    }
    void run()
    {
        for (std::size_t i = 0; i < m_nodes.size(); ++i) {
            if (m_nodes[i].state == Node::fresh) visit(i);
        }
    }

private:
    static constexpr int deepest = 100;
    struct Node {
        enum { fresh, open, done } state = fresh;
        std::vector<std::size_t> uses;
        std::size_t next = 0;
        int depth = 0; ///< formulas on the way down to a capture
    };
    std::string where(std::size_t i) const { return "channels[" + std::to_string(i) + "].formula"; }
    const std::string &idOf(std::size_t i) const { return m_document.channels[i].id; }
    void open(std::size_t i, std::vector<std::size_t> &path)
    {
        m_nodes[i].state = Node::open;
        path.push_back(i);
        const ChannelEntry &channel = m_document.channels[i];
        if (channel.formula.empty()) return;
        std::vector<std::string> names;
        try {
            names = Formula::parse(channel.formula).names();
        } catch (const Error &error) {
            throw error.within(where(i));
        }
        for (const std::string &name : names) {
            if (const auto used = m_index.find(name); used != m_index.end())
                m_nodes[i].uses.push_back(used->second);
            else if (!m_ids.parameters.has(name))
                throw Error(where(i), "no channel or parameter has the id \"" + name + "\"",
                            "add it, or correct the formula");
        }
    }
    void visit(std::size_t start)
    {
        std::vector<std::size_t> path;
        open(start, path);
        while (!path.empty()) {
            const std::size_t i = path.back();
            Node &node = m_nodes[i];
            if (node.next < node.uses.size()) {
                const std::size_t used = node.uses[node.next++];
                if (m_nodes[used].state == Node::open) throw circle(path, used);
                if (m_nodes[used].state == Node::fresh) open(used, path);
                continue;
            }
            for (const std::size_t used : node.uses) node.depth = std::max(node.depth, m_nodes[used].depth);
            node.depth += !m_document.channels[i].formula.empty();
            if (node.depth > deepest)
                throw Error(where(i), "stands on a chain of more than " + std::to_string(deepest) + " formulas",
                            "say more in one formula, or keep a copy of one on the way");
            node.state = Node::done;
            path.pop_back();
        }
    }
    Error circle(const std::vector<std::size_t> &path, std::size_t back) const
    {
        std::string chain;
        const auto first = std::find(path.begin(), path.end(), back);
        for (auto at = first; at != path.end() && at - first < 10; ++at) chain += idOf(*at) + " → ";
        if (path.end() - first > 10) chain += "… → ";
        return Error(where(back), "goes in a circle: " + chain + idOf(back),
                     "let one of these channels not depend on the others");
    }
    const Document &m_document;
    const AllIds &m_ids;
    std::unordered_map<std::string_view, std::size_t> m_index;
    std::vector<Node> m_nodes;
};

void checkCaptures(const Document &document)
{
    for (std::size_t i = 0; i < document.captures.size(); ++i) {
        const std::string where = "captures[" + std::to_string(i) + "]";
        const CaptureEntry &capture = document.captures[i];
        if (capture.file.empty())
            throw Error(where + ".file", "names no file", "give a path, relative to the document");
        needsShort(capture.file, 4096, where + ".file");
        needsAtMost(capture.import.datasets.size(), 4096, where + ".import.dataset");
        needsMoment(capture.import.start, where + ".import.start");
        const auto &interval = capture.import.sampleInterval;
        if (interval) needsPositive(*interval, where + ".import.sample_interval", "s");
        if (interval && !(*interval >= 1e-18 && *interval <= 1e9))
            throw Error(where + ".import.sample_interval", "is no time between samples", "give s, within 1e-18 … 1e9");
    }
}

void checkChannels(const Document &document, const AllIds &ids)
{
    for (std::size_t i = 0; i < document.channels.size(); ++i) {
        const ChannelEntry &channel = document.channels[i];
        const std::string where = "channels[" + std::to_string(i) + "]";
        if (channel.formula.empty() == channel.capture.empty())
            throw Error(where,
                        channel.formula.empty() ? "has neither a capture nor a formula"
                                                : "has both a capture and a formula",
                        "give it one of them");
        if (!channel.capture.empty()) ids.captures.needs(channel.capture, where + ".capture");
        if (const int *column = std::get_if<int>(&channel.column); column && *column < 0)
            throw Error(where + ".column", "is negative", "count data columns from 0");
        if (channel.scale == 0)
            throw Error(where + ".scale", "is 0, which would leave nothing of the signal", "give another factor");
        if (!(std::abs(channel.scale) <= 1e100) || !(std::abs(channel.offset) <= 1e100))
            throw Error(where, "is scaled or moved beyond 1e100", "give \"scale\" and \"offset\" in its unit");
        needsMoment(channel.delay, where + ".delay");
        needsShort(channel.unit, 64, where + ".unit");
        needsShort(channel.label, 1000, where + ".label");
        needsShort(channel.formula, 20000, where + ".formula");
    }
    FormulaCheck(document, ids).run();
}

void checkClocks(const Document &document, const AllIds &ids)
{
    for (std::size_t i = 0; i < document.clocks.size(); ++i) {
        const ClockEntry &clock = document.clocks[i];
        const std::string where = "clocks[" + std::to_string(i) + "]";
        ids.channels.needs(clock.source, where + ".source");
        ids.levels.needs(clock.levels, where + ".levels");
        needsOneOf(clock.method, {"fixed", "pll", "explicit"}, where + ".method");
        needsOneOf(clock.interpolate, {"auto", "linear", "sinc"}, where + ".interpolate");
        needsOneOf(clock.bandwidthOf, {"transfer", "error"}, where + ".bandwidth_of");
        needsOneOf(clock.edges, {"rising", "falling", "both"}, where + ".edges");
        if (clock.rate) needsPositive(*clock.rate, where + ".rate", "Bd");
        if (clock.method == "pll") {
            needsPositive(clock.bandwidth, where + ".bandwidth", "Hz");
            if (!(clock.damping >= 0.01 && clock.damping <= 1000))
                throw Error(where + ".damping", "is not within 0.01 … 1000", "usually it is 0.7071");
            if (clock.order != 1 && clock.order != 2)
                throw Error(where + ".order", "is " + std::to_string(clock.order), "use 1 or 2");
        }
        if (clock.method == "explicit") ids.channels.needs(clock.from, where + ".from");
        if (clock.modulation < 2 || clock.modulation > 4)
            throw Error(where + ".modulation", "is " + std::to_string(clock.modulation), "use 2, 3 or 4 levels");
    }
}

void checkLevels(const Document &document)
{
    for (std::size_t i = 0; i < document.levels.size(); ++i) {
        const LevelsEntry &entry = document.levels[i];
        const std::string where = "levels[" + std::to_string(i) + "]";
        needsOneOf(entry.kind, {"percent", "absolute"}, where + ".kind");
        needsOneOf(entry.states, {"histogram", "extremes", "fixed"}, where + ".states");
        if (!(entry.low < entry.mid && entry.mid < entry.high))
            throw Error(where, "low, mid and high do not rise", "give them in rising order");
        if (entry.hysteresis && *entry.hysteresis < 0)
            throw Error(where + ".hysteresis", "is negative", "give the whole width of the band, 0 or more");
        if (entry.states == "fixed" && (!entry.stateLow || !entry.stateHigh || !(*entry.stateLow < *entry.stateHigh)))
            throw Error(where, "fixed states need \"state_low\" below \"state_high\"", "give both in V");
    }
}

void checkEyesAndMeasurements(const Document &document, const AllIds &ids)
{
    for (std::size_t i = 0; i < document.eyes.size(); ++i) {
        const EyeEntry &eye = document.eyes[i];
        const std::string where = "eyes[" + std::to_string(i) + "]";
        ids.channels.needs(eye.source, where + ".source");
        ids.clocks.needs(eye.clock, where + ".clock");
        ids.regions.needs(eye.region, where + ".region", true);
        needsOneOf(eye.interpolate, {"auto", "none", "sinc"}, where + ".interpolate");
    }
    for (std::size_t i = 0; i < document.masks.size(); ++i) {
        const std::string where = "masks[" + std::to_string(i) + "]";
        ids.eyes.needs(document.masks[i].eye, where + ".eye");
        if (document.masks[i].mask.empty())
            throw Error(where + ".mask", "names no mask", "give a shipped mask's id or a file");
        if (!(document.masks[i].margin > -1 && document.masks[i].margin <= 1))
            throw Error(where + ".margin", "lies outside -1 to 1", "give a fraction, 0.1 for 10 %");
    }
    for (std::size_t i = 0; i < document.measurements.size(); ++i) {
        const MeasurementEntry &entry = document.measurements[i];
        const std::string where = "measurements[" + std::to_string(i) + "]";
        ids.channels.needs(entry.source, where + ".source", true);
        ids.channels.needs(entry.to, where + ".to", true);
        ids.clocks.needs(entry.clock, where + ".clock", true);
        ids.eyes.needs(entry.eye, where + ".eye", true);
        ids.regions.needs(entry.region, where + ".region", true);
        ids.levels.needs(entry.levels, where + ".levels");
        for (const auto &[edge, key] : {std::pair(entry.edge, ".edge"), std::pair(entry.toEdge, ".to_edge")}) {
            if (!edge.empty()) needsOneOf(edge, {"rising", "falling", "both"}, where + key);
        }
        if (entry.limit && entry.limit->min && entry.limit->max && *entry.limit->min > *entry.limit->max)
            throw Error(where + ".limit", "min is greater than max", "nothing could pass: exchange them");
    }
}

/// A sheet is a grid that has to be looked at.
void checkPlace(const TileEntry &tile, const std::string &where)
{
    constexpr int most = 100;
    const auto within = [&](int first, int span, const char *place, const char *width) {
        if (first < 0 || first >= most)
            throw Error(where + "." + place, "is " + std::to_string(first),
                        "count from 0, up to " + std::to_string(most - 1));
        if (span < 1 || first + span > most)
            throw Error(where + "." + width, "is " + std::to_string(span),
                        "give 1 or more, within " + std::to_string(most) + " in all");
    };
    within(tile.row, tile.rowSpan, "row", "row_span");
    within(tile.column, tile.columnSpan, "column", "column_span");
}

/// Lists that are longer than anybody would make them, and texts that would not fit any page.
void checkSizes(const Document &document)
{
    needsShort(document.title, 1000, "title");
    needsShort(document.device.name, 1000, "device.name");
    needsShort(document.device.serial, 1000, "device.serial");
    needsShort(document.device.comment, 20000, "device.comment");
    needsAtMost(document.captures.size(), 5000, "captures");
    needsAtMost(document.channels.size(), 5000, "channels");
    needsAtMost(document.parameters.size(), 5000, "parameters");
    needsAtMost(document.regions.size(), 5000, "regions");
    needsAtMost(document.levels.size(), 1000, "levels");
    needsAtMost(document.clocks.size(), 1000, "clocks");
    needsAtMost(document.eyes.size(), 1000, "eyes");
    needsAtMost(document.masks.size(), 1000, "masks");
    needsAtMost(document.measurements.size(), 5000, "measurements");
    needsAtMost(document.notes.size(), 5000, "notes");
    needsAtMost(document.markers.size(), 1000, "markers");
    needsAtMost(document.sheets.size(), 500, "sheets");
    needsMoment(document.timeOrigin, "time_origin");
}

void checkSheets(const Document &document, const AllIds &ids)
{
    for (std::size_t i = 0; i < document.notes.size(); ++i) {
        const std::string where = "notes[" + std::to_string(i) + "]";
        ids.channels.needs(document.notes[i].channel, where + ".channel");
        needsMoment(document.notes[i].time, where + ".time");
        needsShort(document.notes[i].text, 10000, where + ".text");
    }
    for (std::size_t i = 0; i < document.markers.size(); ++i) {
        const MarkerEntry &marker = document.markers[i];
        const std::string where = "markers[" + std::to_string(i) + "]";
        ids.channels.needs(marker.channel, where + ".channel", true);
        if (!marker.time && !(marker.level && !marker.channel.empty()))
            throw Error(where, "stands nowhere", "give \"time\" in s, or \"channel\" and \"level\"");
        needsMoment(marker.time, where + ".time");
    }
    for (std::size_t i = 0; i < document.sheets.size(); ++i) {
        const SheetEntry &sheet = document.sheets[i];
        const std::string page = "sheets[" + std::to_string(i) + "]";
        needsShort(sheet.title, 1000, page + ".title");
        needsAtMost(sheet.tiles.size(), 64, page + ".tiles");
        needsMoment(sheet.from, page + ".from");
        needsMoment(sheet.to, page + ".to");
        for (std::size_t k = 0; k < sheet.tiles.size(); ++k) {
            const TileEntry &tile = sheet.tiles[k];
            const std::string where = page + ".tiles[" + std::to_string(k) + "]";
            checkPlace(tile, where);
            needsMoment(tile.from, where + ".from");
            needsMoment(tile.to, where + ".to");
            needsAtMost(tile.of.size(), 1000, where + ".of");
            needsAtMost(tile.heights.size(), 1000, where + ".heights");
            for (const double height : tile.heights) needsPositive(height, where + ".heights", "(relative)");
            for (const auto &[channel, range] : tile.ranges) {
                if (!(range.first < range.second))
                    throw Error(where + ".ranges." + channel, "does not rise", "give [low, high]");
            }
        }
    }
}

} // namespace

std::string freeId(const Document &document, const std::string &wish)
{
    std::string id;
    for (const char c : wish.substr(0, 60)) {
        const auto u = static_cast<unsigned char>(c);
        if (std::isalnum(u) && u < 128)
            id += char(std::tolower(u));
        else if (!id.empty() && id.back() != '_')
            id += '_';
    }
    while (!id.empty() && id.back() == '_') id.pop_back();
    if (id.empty() || !std::islower(static_cast<unsigned char>(id[0]))) id = "x" + id;
    std::set<std::string> taken;
    forAllIds(document, [&](const std::string &used, const std::string &) { taken.insert(used); });
    std::string free = id;
    for (int number = 2; taken.contains(free); ++number) free = id + std::to_string(number);
    return free;
}

bool sameComputation(const Document &a, const Document &b)
{
    Document first = a, second = b;
    for (Document *one : {&first, &second}) {
        one->title.clear();
        one->device = {};
        one->notes.clear();
        one->markers.clear();
        one->sheets.clear();
        for (ChannelEntry &channel : one->channels) channel.label.clear();
    }
    return first == second;
}

void nameTiles(Document &document)
{
    std::set<std::string> taken;
    std::size_t number = 0;
    for (const SheetEntry &sheet : document.sheets) {
        for (const TileEntry &tile : sheet.tiles) number += tile.id.empty();
    }
    if (number == 0) return;
    forAllIds(document, [&](const std::string &used, const std::string &) { taken.insert(used); });
    number = 1;
    for (SheetEntry &sheet : document.sheets) {
        for (TileEntry &tile : sheet.tiles) {
            while (tile.id.empty()) {
                const std::string free = "tile" + std::to_string(number++);
                if (taken.insert(free).second) tile.id = free;
            }
        }
    }
}

void moveTimeOrigin(Document &document, double origin)
{
    const double by = document.timeOrigin - origin; // what lies at t from the old one lies at t + by from the new
    const auto move = [by](std::optional<double> &time) {
        if (time) *time += by;
    };
    document.timeOrigin = origin;
    for (RegionEntry &region : document.regions) region.start += by, region.stop += by;
    for (NoteEntry &note : document.notes) note.time += by;
    for (MarkerEntry &marker : document.markers) move(marker.time);
    for (SheetEntry &sheet : document.sheets) {
        move(sheet.from), move(sheet.to);
        for (TileEntry &tile : sheet.tiles) move(tile.from), move(tile.to);
    }
}

void validate(const Document &document)
{
    checkSizes(document);
    std::map<std::string, std::string> seen;
    forAllIds(document, [&](const std::string &id, const std::string &where) {
        if (!wellFormed(id))
            throw Error(where + ".id", "\"" + id.substr(0, 100) + "\" is no id",
                        "use small letters, digits and _, starting with a letter");
        needsShort(id, 200, where + ".id");
        const auto [other, fresh] = seen.emplace(id, where);
        if (!fresh)
            throw Error(where + ".id", "\"" + id + "\" is taken by " + other->second,
                        "give each entry an id of its own");
    });
    std::vector<LevelsEntry> levels = document.levels;
    if (!findEntry(levels, "default")) levels.emplace_back();
    const AllIds ids(document, levels);
    checkCaptures(document);
    for (std::size_t i = 0; i < document.regions.size(); ++i) {
        const std::string where = "regions[" + std::to_string(i) + "]";
        needsMoment(document.regions[i].start, where + ".start");
        needsMoment(document.regions[i].stop, where + ".stop");
        if (!(document.regions[i].start < document.regions[i].stop))
            throw Error(where, "does not stop after its start", "give start < stop, in s");
    }
    checkLevels(document);
    checkChannels(document, ids);
    checkClocks(document, ids);
    checkEyesAndMeasurements(document, ids);
    checkSheets(document, ids);
}

} // namespace fulvex
