#pragma once

#include "budget_entry.h"
#include "capture_entry.h"
#include "channel_entry.h"
#include "clock_entry.h"
#include "comparison_entry.h"
#include "eye_entry.h"
#include "function_entry.h"
#include "kept_out_entry.h"
#include "levels_entry.h"
#include "mask_entry.h"
#include "measurement_entry.h"
#include "note_entry.h"
#include "phase_noise_entry.h"
#include "plan_entry.h"
#include "program_entry.h"
#include "region_entry.h"
#include "report_entry.h"
#include "sheet_entry.h"
#include "spectrum_entry.h"

#include <string>
#include <unordered_map>
#include <utility>
#include <vector>

namespace fulvex {

/// The project as plain values: the whole truth from which every result follows. See docs/formats.md for the file.
/// All numbers are plain SI units. Ids are [a-z][a-z0-9_]*, unique in a document.

struct DeviceEntry {
    std::string name, serial, comment;
    bool operator==(const DeviceEntry &) const = default;
};

struct Document {
    std::string title;
    DeviceEntry device;
    ReportEntry report;
    /// s: all times of the document and of its results count from here, so that seconds since 1970 do not take the
    /// digits that picoseconds need.
    double timeOrigin = 0;
    std::vector<CaptureEntry> captures;
    std::vector<ChannelEntry> channels;
    std::vector<ParameterEntry> parameters;
    std::vector<FunctionEntry> functions;
    std::vector<ProgramEntry> programs;
    std::vector<RegionEntry> regions;
    std::vector<LevelsEntry> levels;
    std::vector<ClockEntry> clocks;
    std::vector<EyeEntry> eyes;
    std::vector<MaskEntry> masks;
    std::vector<MeasurementEntry> measurements;
    std::vector<SpectrumEntry> spectra;
    std::vector<BudgetEntry> budgets;
    std::vector<PhaseNoiseEntry> phaseNoise;
    std::vector<ComparisonEntry> comparisons;
    std::vector<PlanEntry> plans;
    std::vector<AttemptEntry> attempts;
    std::vector<KeptOutEntry> keptOut;
    std::vector<NoteEntry> notes;
    std::vector<MarkerEntry> markers;
    std::vector<SheetEntry> sheets;

    // Compiled once: what they are made of is much, and everybody copies documents.
    Document();
    ~Document();
    Document(const Document &);
    Document(Document &&) noexcept;
    Document &operator=(const Document &);
    Document &operator=(Document &&) noexcept;
    bool operator==(const Document &) const;

    /// The entry of a level set; "default" always has one.
    LevelsEntry levelsOf(const std::string &id) const;
};

/// With the level set that is always there among the others.
Document withDefaultLevels(Document document);

/// What the document is made of: its own fields and its lists, in the order of the file.
std::vector<Field> fieldsOf(Document &document);
/// The same, to look at only: nothing may be written through them.
std::vector<Field> fieldsOf(const Document &document);

/// Fields of the entry with an id; none where there is no such entry.
std::vector<Field> fieldsOf(Document &document, const std::string &id);
std::vector<Field> fieldsOf(const Document &document, const std::string &id);
/// Where the entries of a document are, by id; for as long as nothing is added to it or removed.
class EntryIndex {
public:
    explicit EntryIndex(const Document &document);
    /// EntryKind::none where there is no such entry.
    EntryKind kindOf(const std::string &id) const;
    std::vector<Field> fieldsOf(const std::string &id) const;

private:
    std::unordered_map<std::string, std::pair<EntryList, std::size_t>> m_places;
};

/// Calls use(list, index, JSON path) for every entry of the document, tiles of sheets included.
void forEachEntry(const Document &document,
                  const std::function<void(const EntryList &, std::size_t, const std::string &)> &use);

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

/// The mask that is laid on an eye: its own, or a template that is laid at the edges that an overlay is of. Or null.
const MaskEntry *maskOn(const Document &document, const std::string &eye);

/// An id that no entry of the document has: `wish` made into one, with a number behind it where it is taken.
std::string freeId(const Document &document, const std::string &wish);

/// Gives each tile that has none an id of its own.
void nameTiles(Document &document);

/// Moves the origin that times count from, and with it every time that the document holds: all stay the same moments.
void moveTimeOrigin(Document &document, double origin);

/// What two texts of fields have in common where they are equal.
enum class Alike {
    numbers,      ///< where what they refer to is the same
    namedNumbers, ///< also what they are found by
    results       ///< verdicts as well
};
/// Fields of an entry, or of a document, that this depends on, as text.
std::string computingText(const std::vector<Field> &fields, Alike alike = Alike::numbers);

/// Whether two documents differ at most in what no result depends on: words, notes, markers, sheets.
bool sameComputation(const Document &a, const Document &b);

/// Checks what the structure alone cannot say: unique well-formed ids, references, ranges, cycles of formulas, and that
/// nothing is so large that showing or computing it would not end. Throws Error whose `where` is the JSON path.
void validate(const Document &document);

} // namespace fulvex
