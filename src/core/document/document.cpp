#include "document.h"

#include "error.h"
#include "formula.h"

#include <algorithm>
#include <cctype>
#include <functional>
#include <set>

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
}

bool wellFormed(const std::string &id)
{
    const auto inner = [](unsigned char c) { return std::islower(c) || std::isdigit(c) || c == '_'; };
    return !id.empty() && std::islower(static_cast<unsigned char>(id[0])) && std::all_of(id.begin(), id.end(), inner);
}

/// "no clock has the id …; use "a" or "b"".
template <typename Entry>
void needs(const std::vector<Entry> &entries, const std::string &id, const std::string &where, const char *kind,
           const char *list, bool optional = false)
{
    if (findEntry(entries, id) || (optional && id.empty())) return;
    std::string known;
    for (const Entry &entry : entries) known += (known.empty() ? "\"" : ", \"") + entry.id + "\"";
    const std::string add = std::string("add it to \"") + list + "\"";
    if (id.empty()) throw Error(where, std::string("names no ") + kind, known.empty() ? add : "use " + known);
    throw Error(where, std::string("no ") + kind + " has the id \"" + id + "\"",
                known.empty() ? add : "use " + known + ", or " + add);
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

void checkFormulas(const Document &document)
{
    std::map<std::string, int> state; // 1: being visited, 2: done
    std::function<void(const ChannelEntry &, const std::string &)> visit = [&](const ChannelEntry &channel,
                                                                               const std::string &chain) {
        if (channel.formula.empty() || state[channel.id] == 2) return;
        const auto index = std::size_t(&channel - document.channels.data());
        const std::string where = "channels[" + std::to_string(index) + "].formula";
        if (state[channel.id] == 1)
            throw Error(where, "goes in a circle: " + chain, "let one of these channels not depend on the others");
        state[channel.id] = 1;
        std::vector<std::string> names;
        try {
            names = Formula::parse(channel.formula).names();
        } catch (const Error &error) {
            throw error.within(where);
        }
        for (const std::string &name : names) {
            const ChannelEntry *used = findEntry(document.channels, name);
            if (used)
                visit(*used, chain + " → " + name);
            else if (!findEntry(document.parameters, name))
                throw Error(where, "no channel or parameter has the id \"" + name + "\"",
                            "add it, or correct the formula");
        }
        state[channel.id] = 2;
    };
    for (const ChannelEntry &channel : document.channels) visit(channel, channel.id);
}

void checkChannels(const Document &document)
{
    for (std::size_t i = 0; i < document.channels.size(); ++i) {
        const ChannelEntry &channel = document.channels[i];
        const std::string where = "channels[" + std::to_string(i) + "]";
        if (channel.formula.empty() == channel.capture.empty())
            throw Error(where,
                        channel.formula.empty() ? "has neither a capture nor a formula"
                                                : "has both a capture and a formula",
                        "give it one of them");
        if (!channel.capture.empty())
            needs(document.captures, channel.capture, where + ".capture", "capture", "captures");
        if (const int *column = std::get_if<int>(&channel.column); column && *column < 0)
            throw Error(where + ".column", "is negative", "count data columns from 0");
        if (channel.scale == 0)
            throw Error(where + ".scale", "is 0, which would leave nothing of the signal", "give another factor");
    }
    checkFormulas(document);
}

void checkClocks(const Document &document, const std::vector<LevelsEntry> &levels)
{
    for (std::size_t i = 0; i < document.clocks.size(); ++i) {
        const ClockEntry &clock = document.clocks[i];
        const std::string where = "clocks[" + std::to_string(i) + "]";
        needs(document.channels, clock.source, where + ".source", "channel", "channels");
        needs(levels, clock.levels, where + ".levels", "levels", "levels");
        needsOneOf(clock.method, {"fixed", "pll", "explicit"}, where + ".method");
        needsOneOf(clock.interpolate, {"auto", "linear", "sinc"}, where + ".interpolate");
        needsOneOf(clock.bandwidthOf, {"transfer", "error"}, where + ".bandwidth_of");
        needsOneOf(clock.edges, {"rising", "falling", "both"}, where + ".edges");
        if (clock.rate) needsPositive(*clock.rate, where + ".rate", "Bd");
        if (clock.method == "pll") {
            needsPositive(clock.bandwidth, where + ".bandwidth", "Hz");
            needsPositive(clock.damping, where + ".damping", "1, usually 0.7071");
            if (clock.order != 1 && clock.order != 2)
                throw Error(where + ".order", "is " + std::to_string(clock.order), "use 1 or 2");
        }
        if (clock.method == "explicit") needs(document.channels, clock.from, where + ".from", "channel", "channels");
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

void checkEyesAndMeasurements(const Document &document, const std::vector<LevelsEntry> &levels)
{
    for (std::size_t i = 0; i < document.eyes.size(); ++i) {
        const EyeEntry &eye = document.eyes[i];
        const std::string where = "eyes[" + std::to_string(i) + "]";
        needs(document.channels, eye.source, where + ".source", "channel", "channels");
        needs(document.clocks, eye.clock, where + ".clock", "clock", "clocks");
        needs(document.regions, eye.region, where + ".region", "region", "regions", true);
        needsOneOf(eye.interpolate, {"auto", "none", "sinc"}, where + ".interpolate");
    }
    for (std::size_t i = 0; i < document.masks.size(); ++i) {
        const std::string where = "masks[" + std::to_string(i) + "]";
        needs(document.eyes, document.masks[i].eye, where + ".eye", "eye", "eyes");
        if (document.masks[i].mask.empty())
            throw Error(where + ".mask", "names no mask", "give a shipped mask's id or a file");
        if (!(document.masks[i].margin > -1 && document.masks[i].margin <= 1))
            throw Error(where + ".margin", "lies outside -1 to 1", "give a fraction, 0.1 for 10 %");
    }
    for (std::size_t i = 0; i < document.measurements.size(); ++i) {
        const MeasurementEntry &entry = document.measurements[i];
        const std::string where = "measurements[" + std::to_string(i) + "]";
        needs(document.channels, entry.source, where + ".source", "channel", "channels", true);
        needs(document.channels, entry.to, where + ".to", "channel", "channels", true);
        needs(document.clocks, entry.clock, where + ".clock", "clock", "clocks", true);
        needs(document.eyes, entry.eye, where + ".eye", "eye", "eyes", true);
        needs(document.regions, entry.region, where + ".region", "region", "regions", true);
        needs(levels, entry.levels, where + ".levels", "levels", "levels");
        for (const auto &[edge, key] : {std::pair(entry.edge, ".edge"), std::pair(entry.toEdge, ".to_edge")}) {
            if (!edge.empty()) needsOneOf(edge, {"rising", "falling", "both"}, where + key);
        }
        if (entry.limit && entry.limit->min && entry.limit->max && *entry.limit->min > *entry.limit->max)
            throw Error(where + ".limit", "min is greater than max", "nothing could pass: exchange them");
    }
}

void checkSheets(const Document &document)
{
    for (std::size_t i = 0; i < document.notes.size(); ++i)
        needs(document.channels, document.notes[i].channel, "notes[" + std::to_string(i) + "].channel", "channel",
              "channels");
    for (std::size_t i = 0; i < document.markers.size(); ++i) {
        const MarkerEntry &marker = document.markers[i];
        const std::string where = "markers[" + std::to_string(i) + "]";
        needs(document.channels, marker.channel, where + ".channel", "channel", "channels", true);
        if (!marker.time && !(marker.level && !marker.channel.empty()))
            throw Error(where, "stands nowhere", "give \"time\" in s, or \"channel\" and \"level\"");
    }
    for (std::size_t i = 0; i < document.sheets.size(); ++i) {
        for (std::size_t k = 0; k < document.sheets[i].tiles.size(); ++k) {
            const TileEntry &tile = document.sheets[i].tiles[k];
            const std::string where = "sheets[" + std::to_string(i) + "].tiles[" + std::to_string(k) + "]";
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
    for (const char c : wish) {
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

void validate(const Document &document)
{
    std::map<std::string, std::string> seen;
    forAllIds(document, [&](const std::string &id, const std::string &where) {
        if (!wellFormed(id))
            throw Error(where + ".id", "\"" + id + "\" is no id",
                        "use small letters, digits and _, starting with a letter");
        const auto [other, fresh] = seen.emplace(id, where);
        if (!fresh)
            throw Error(where + ".id", "\"" + id + "\" is taken by " + other->second,
                        "give each entry an id of its own");
    });
    std::vector<LevelsEntry> levels = document.levels;
    if (!findEntry(levels, "default")) levels.emplace_back();
    for (std::size_t i = 0; i < document.captures.size(); ++i) {
        const std::string where = "captures[" + std::to_string(i) + "]";
        if (document.captures[i].file.empty())
            throw Error(where + ".file", "names no file", "give a path, relative to the document");
        if (const auto &interval = document.captures[i].import.sampleInterval)
            needsPositive(*interval, where + ".import.sample_interval", "s");
    }
    for (std::size_t i = 0; i < document.regions.size(); ++i) {
        if (!(document.regions[i].start < document.regions[i].stop))
            throw Error("regions[" + std::to_string(i) + "]", "does not stop after its start",
                        "give start < stop, in s");
    }
    checkLevels(document);
    checkChannels(document);
    checkClocks(document, levels);
    checkEyesAndMeasurements(document, levels);
    checkSheets(document);
}

} // namespace fulvex
