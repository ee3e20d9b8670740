#pragma once

#include "import_options.h"
#include "sheet_entries.h"

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fulvex {

/// The project as plain values: the whole truth from which every result follows. See docs/formats.md for the file.
/// All numbers are plain SI units. Ids are [a-z][a-z0-9_]*, unique in a document.

struct DeviceEntry {
    std::string name, serial, comment;
    bool operator==(const DeviceEntry &) const = default;
};

struct CaptureEntry {
    std::string id, file;
    std::string sha256; ///< empty: not known yet
    ImportOptions import;
    std::optional<std::int64_t> bytes = {}; ///< of its files, as `sha256` was taken
    bool operator==(const CaptureEntry &) const = default;
};

struct ChannelEntry {
    std::string id;
    std::string capture;                       ///< empty for a computed channel
    std::variant<int, std::string> column = 0; ///< of the capture's data columns, or its name
    double scale = 1, offset = 0;              ///< value = raw * scale + offset
    double delay = 0;                          ///< s, added to every time
    std::string formula;                       ///< not empty: a computed channel
    std::string unit, label;                   ///< unit empty: the file's, or that of the channels it is made of, or V
    bool operator==(const ChannelEntry &) const = default;
    const std::string &shownName() const { return label.empty() ? id : label; }
};

struct ParameterEntry {
    std::string id;
    double value = 0;
    std::optional<double> min, max;
    std::string unit;
    bool operator==(const ParameterEntry &) const = default;
};

struct RegionEntry {
    std::string id;
    double start = 0, stop = 0; ///< s
    bool operator==(const RegionEntry &) const = default;
};

struct LevelsEntry {
    std::string id = "default";
    std::string kind = "percent"; ///< percent, absolute
    double low = 10, mid = 50, high = 90;
    std::string states = "histogram"; ///< histogram, extremes, fixed
    std::optional<double> stateLow, stateHigh;
    std::optional<double> hysteresis;
    bool operator==(const LevelsEntry &) const = default;
};

struct ClockEntry {
    std::string id, source;
    std::string method = "fixed"; ///< fixed, pll, explicit
    std::optional<double> rate;   ///< Bd; empty: found from the signal
    int order = 2;
    double bandwidth = 1e6, damping = 0.7071; ///< Hz
    std::string bandwidthOf = "transfer";     ///< transfer, error
    std::string from, edges = "both";         ///< explicit
    int multiply = 1;
    double delay = 0;
    int modulation = 2;
    std::string levels = "default";
    std::string interpolate = "auto"; ///< auto, linear, sinc
    bool operator==(const ClockEntry &) const = default;
};

struct EyeEntry {
    std::string id, source, clock;
    std::string region;               ///< empty: the whole record
    std::string interpolate = "auto"; ///< auto, none, sinc
    bool operator==(const EyeEntry &) const = default;
};

struct MaskEntry {
    std::string id, eye, mask;
    double margin = 0;
    bool operator==(const MaskEntry &) const = default;
};

struct LimitEntry {
    std::optional<double> min, max;
    bool operator==(const LimitEntry &) const = default;
};

struct MeasurementEntry {
    std::string id, quantity;
    std::string source, to, clock, eye, region;
    std::string levels = "default";
    std::string edge, toEdge; ///< rising, falling, both; empty: the quantity's default
    std::optional<LimitEntry> limit;
    /// Further settings of single quantities ("ber", "offset", "from", "opening", …), kept as given.
    std::map<std::string, double> settings;
    std::string furtherJson; ///< what this version does not use, kept as it was given
    bool operator==(const MeasurementEntry &) const = default;
};

struct Document {
    std::string title;
    DeviceEntry device;
    /// s: all times of the document and of its results count from here, so that seconds since 1970 do not take the
    /// digits that picoseconds need.
    double timeOrigin = 0;
    std::vector<CaptureEntry> captures;
    std::vector<ChannelEntry> channels;
    std::vector<ParameterEntry> parameters;
    std::vector<RegionEntry> regions;
    std::vector<LevelsEntry> levels;
    std::vector<ClockEntry> clocks;
    std::vector<EyeEntry> eyes;
    std::vector<MaskEntry> masks;
    std::vector<MeasurementEntry> measurements;
    std::vector<NoteEntry> notes;
    std::vector<MarkerEntry> markers;
    std::vector<SheetEntry> sheets;
    bool operator==(const Document &) const = default;

    /// The entry of a level set; "default" always has one.
    LevelsEntry levelsOf(const std::string &id) const;
};

/// The entry with an id, or null.
template <typename Entry>
const Entry *findEntry(const std::vector<Entry> &entries, const std::string &id)
{
    for (const Entry &entry : entries) {
        if (entry.id == id) return &entry;
    }
    return nullptr;
}

template <typename Entry>
Entry *findEntry(std::vector<Entry> &entries, const std::string &id)
{
    return const_cast<Entry *>(findEntry(std::as_const(entries), id));
}

/// An id that no entry of the document has: `wish` made into one, with a number behind it where it is taken.
std::string freeId(const Document &document, const std::string &wish);

/// Gives each tile that has none an id of its own.
void nameTiles(Document &document);

/// Moves the origin that times count from, and with it every time that the document holds: all stay the same moments.
void moveTimeOrigin(Document &document, double origin);

/// Whether two documents differ at most in what no result depends on: words, notes, markers, sheets.
bool sameComputation(const Document &a, const Document &b);

/// Checks what the structure alone cannot say: unique well-formed ids, references, ranges, cycles of formulas, and that
/// nothing is so large that showing or computing it would not end. Throws Error whose `where` is the JSON path.
void validate(const Document &document);

} // namespace fulvex
